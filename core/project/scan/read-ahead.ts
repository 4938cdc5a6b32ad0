/** How many files are being read while one is looked at. */
const AHEAD = 8;

/**
 * Reads one item after another, the next ones while the current one is being worked on: the disk and the database answer
 * while the processor scans. Order is kept; an item that cannot be read gives its error in its turn.
 */
export async function* readAhead<Item, Content>(
  items: Iterable<Item>,
  read: (item: Item) => Promise<Content>,
): AsyncGenerator<{ item: Item; content: Promise<Content> }> {
  const waiting: { item: Item; content: Promise<Content> }[] = [];
  for (const item of items) {
    const content = read(item);
    // It is awaited later; until then its failing is no accident.
    content.catch(() => {});
    waiting.push({ item, content });
    if (waiting.length > AHEAD) yield waiting.shift()!;
  }
  yield* waiting;
}
