import { unpackInMemory } from '#core/project/change/unpack';

/** What is in a zip, by paths; for tests. @throws Error for an entry that was refused */
export async function zipContents(zip: Buffer): Promise<Map<string, Buffer>> {
  const { entries, read } = await unpackInMemory(zip);
  const contents = new Map<string, Buffer>();
  for (const entry of entries) {
    if ('refused' in entry) throw new Error(`${entry.path}: ${entry.refused}`);
    contents.set(entry.path, Buffer.from(await read(entry)));
  }
  return contents;
}
