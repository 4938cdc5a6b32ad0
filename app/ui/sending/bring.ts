import { extensionOf, folderOf, joinPath } from '#core/files/links/paths';
import { hasStructure } from '#core/project/formats/endings';
import { filesOfInput, type Upload } from './upload';
import type { Sending } from './useSending';

/** Sends one file as the newest version of one that is there, whatever it is called outside. */
export function sendNewVersion(path: string, uploads: readonly Upload[], sending: Sending): void {
  const [upload] = uploads;
  if (!upload) return;
  if (uploads.length > 1) sending.refuse('Pick one file for the new version.');
  else if (extensionOf(upload.path) !== extensionOf(path))
    sending.refuse(
      `${upload.path} is of another kind than ${path}. Pick a file that ends in .${extensionOf(path)}.`,
    );
  else sending.send([{ path, file: upload.file }]);
}

/** Sends files that were dropped on an assembly: into its folder, and the first that can be is placed in it then. */
export function sendToPlace(assembly: string, uploads: readonly Upload[], sending: Sending): void {
  const arriving = uploads.map(({ path, file }) => ({ path: joinPath(folderOf(assembly), path), file }));
  const part = arriving.find(({ path }) => hasStructure(path));
  if (!part) sending.refuse('Only STEP files can be placed in an assembly: drop others on the page Files.');
  else sending.send(arriving, { place: part.path, placeIn: assembly });
}

/** Lets the person pick files of this computer. */
export function pickFiles(onPicked: (uploads: Upload[]) => void, { folder = false } = {}): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.multiple = true;
  if (folder) input.setAttribute('webkitdirectory', '');
  input.onchange = () => onPicked(filesOfInput(input.files!));
  input.click();
}
