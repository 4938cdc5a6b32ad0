/** Adds a value to the list that a map keeps under a key. */
export function append<Key, Value>(map: Map<Key, Value[]>, key: Key, value: Value): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

/** Items in groups of one key each, both in the order in which they are met. */
export function groupBy<Key, Item>(items: Iterable<Item>, keyOf: (item: Item) => Key): Map<Key, Item[]> {
  const groups = new Map<Key, Item[]>();
  for (const item of items) append(groups, keyOf(item), item);
  return groups;
}

/** Adds counts to those that a map has already. */
export function addCounts<Key>(counts: Map<Key, number>, more: Iterable<readonly [Key, number]>): void {
  for (const [key, count] of more) counts.set(key, (counts.get(key) ?? 0) + count);
}
