/** Keys with one more at the end, or without it where it was among them. */
export function toggledKey(keys: readonly string[], key: string): string[] {
  const others = keys.filter((other) => other !== key);
  return others.length < keys.length ? others : [...others, key];
}
