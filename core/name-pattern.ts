/** How many names are changed at once. */
export interface NamePattern {
  find: string;
  replace: string;
  prefix: string;
  suffix: string;
}

export const NO_PATTERN: NamePattern = { find: '', replace: '', prefix: '', suffix: '' };

/** Whether a pattern changes anything. */
export function isPattern(pattern: NamePattern): boolean {
  return Object.values(pattern).some((text) => text !== '');
}

/** Find and replace (every occurrence, in either case), then prefix and suffix. */
export function renamed(name: string, { find, replace, prefix, suffix }: NamePattern): string {
  const pattern = find.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  const found = find === '' ? name : name.replace(new RegExp(pattern, 'gi'), () => replace);
  return `${prefix}${found}${suffix}`;
}
