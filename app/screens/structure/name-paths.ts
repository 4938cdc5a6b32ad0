interface NamedRow {
  name: string;
  parent: number;
}

/**
 * For each row its names from the top down, a number behind those that siblings share: it stays the same when rows come and go beside it.
 * @param rows in table order, parents before their children
 */
export function namePaths(rows: readonly NamedRow[]): string[] {
  const paths: string[] = [];
  const counts = new Map<string, number>();
  for (const { name, parent } of rows) {
    const plain = parent < 0 ? name : `${paths[parent]}/${name}`;
    const count = (counts.get(plain) ?? 0) + 1;
    counts.set(plain, count);
    paths.push(count === 1 ? plain : `${plain}#${count}`);
  }
  return paths;
}
