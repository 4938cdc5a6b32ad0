import { FolderFileSet } from '#core/project/change/folder/folder';
import { Refusal } from '#core/refusal';

/** Opens a folder to read it, in whatever state it is; one that a change was cut off in is said. */
export async function openToRead(folder: string): Promise<FolderFileSet> {
  const files = await FolderFileSet.open(folder);
  const interrupted = await files.interrupted().catch((error) => {
    if (error instanceof Refusal) return error.message;
    throw error;
  });
  if (interrupted !== null)
    process.stderr.write(
      `stonetray: a change was cut off in this folder (${interrupted}). The next command that changes it finishes that, or takes it back.\n`,
    );
  return files;
}
