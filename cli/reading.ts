import { stat } from 'node:fs/promises';
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

/** @throws Refusal for a file that is not there */
export async function requireFile(file: string): Promise<void> {
  const info = await stat(file).catch(() => undefined);
  if (!info?.isFile()) throw new Refusal(`${file} cannot be read: is it there, and a file?`);
}

/** The folder of the project that a file belongs to. @throws Refusal for a file that is not there */
export async function projectAround(file: string): Promise<string> {
  await requireFile(file);
  const { findProjectRoot } = await import('#core/jobs/handoff/project-root');
  return findProjectRoot(file);
}

/** The folder in which others may lead to a file. @throws Refusal for a file that is not there */
export async function folderOfUsers(file: string): Promise<string> {
  await requireFile(file);
  const { findFolderOfUsers } = await import('#core/jobs/handoff/project-root');
  return findFolderOfUsers(file);
}
