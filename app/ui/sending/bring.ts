import { extensionOf } from '#core/files/links/paths';
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

/** Lets the person pick files of this computer. */
export function pickFiles(onPicked: (uploads: Upload[]) => void, { folder = false } = {}): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.multiple = true;
  if (folder) input.setAttribute('webkitdirectory', '');
  input.onchange = () => onPicked(filesOfInput(input.files!));
  input.click();
}
