import { readdir, readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { slashed } from '#core/command/out-file';
import { newContent } from '#core/project/change/change-set';
import type { ReceivedFile } from '#core/project/change/received-file';
import { readAhead } from '#core/project/scan/read-ahead';
import { Refusal } from '#core/refusal';

/**
 * A file on disk under its name, or a folder with all that is in it, as it arrives in a project.
 * @throws Refusal for what is not there
 */
export async function receivedFrom(place: string): Promise<ReceivedFile[]> {
  const info = await stat(place).catch(() => undefined);
  if (!info) throw new Refusal(`${place} cannot be read: is it there?`);
  if (!info.isDirectory()) return [await receivedFile(place, path.basename(place))];
  const entries = await readdir(place, { recursive: true, withFileTypes: true });
  const files = entries
    .filter((entry) => entry.isFile())
    .map((entry) => path.join(entry.parentPath, entry.name));
  const received: ReceivedFile[] = [];
  const receive = (file: string) => receivedFile(file, slashed(path.relative(place, file)));
  for await (const { content } of readAhead(files.sort(), receive)) received.push(await content);
  return received;
}

async function receivedFile(file: string, as: string): Promise<ReceivedFile> {
  const content = await readFile(file);
  return { path: as, ...newContent(content), read: async () => content };
}
