import { commonTopFolder } from '#core/files/links/paths';
import { addressIn } from '../address/addresses';
import { fetchPatiently } from '../connection/connection';
import { wordsOf } from '../connection/json-request';

/** A file to import, with its path as the person sees it. */
export interface Upload {
  path: string;
  file: File;
}

/** Files of a drop, folders walked through. */
export async function filesOfDrop(transfer: DataTransfer): Promise<Upload[]> {
  const entries: FileSystemEntry[] = [];
  const found: Upload[] = [];
  for (const item of transfer.items) {
    const entry = item.webkitGetAsEntry();
    // What is in no file system, as a page or a program makes it, is a file all the same.
    const file = entry ? null : item.getAsFile();
    if (entry) entries.push(entry);
    else if (file) found.push({ path: file.name, file });
  }
  const walk = async (entry: FileSystemEntry, folder: string): Promise<void> => {
    const path = folder === '' ? entry.name : `${folder}/${entry.name}`;
    if (entry.isFile) {
      found.push({
        path,
        file: await new Promise<File>((resolve, reject) =>
          (entry as FileSystemFileEntry).file(resolve, reject),
        ),
      });
      return;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    for (;;) {
      const entries = await new Promise<FileSystemEntry[]>((resolve, reject) =>
        reader.readEntries(resolve, reject),
      );
      if (entries.length === 0) return;
      for (const child of entries) await walk(child, path);
    }
  };
  for (const entry of entries) await walk(entry, '');
  return withoutCommonTop(found);
}

/** Files of a folder or file picker. */
export function filesOfInput(list: FileList): Upload[] {
  return withoutCommonTop([...list].map((file) => ({ path: file.webkitRelativePath || file.name, file })));
}

/** The picked folder itself is no part of the paths inside the project. */
function withoutCommonTop(uploads: Upload[]): Upload[] {
  const top = commonTopFolder(uploads.map(({ path }) => path));
  return uploads.map(({ path, file }) => ({ path: path.slice(top.length), file }));
}

/** Uploads under way at the same time: small files would otherwise wait for each other. */
const AT_ONCE = 4;

/** A large file goes in parts of so many bytes: what was lost on the way is sent again from there. */
const PART = 8 * 1024 * 1024;

/** Files up to so many bytes go together, up to so many bytes and files a request. */
const [SMALL, TOGETHER, MANY] = [256 * 1024, 4 * 1024 * 1024, 250];

/** Small files in handfuls, large ones alone. */
export function togetherOrAlone(uploads: readonly Upload[]): Upload[][] {
  const requests: Upload[][] = [];
  let handful: Upload[] = [];
  let size = 0;
  for (const upload of uploads) {
    if (upload.file.size > SMALL) {
      requests.push([upload]);
      continue;
    }
    if (handful.length >= MANY || size + upload.file.size > TOGETHER) {
      requests.push(handful);
      handful = [];
      size = 0;
    }
    handful.push(upload);
    size += upload.file.size;
  }
  if (handful.length > 0) requests.push(handful);
  return requests;
}

export interface UploadProgress {
  done: number;
  total: number;
  path: string;
}

/**
 * Sends files, a few at once. A file that is refused is remembered there, with the reason, and the rest goes on.
 * @returns the upload's id
 */
export async function sendFiles(
  projectId: string,
  uploads: Upload[],
  onProgress: (progress: UploadProgress) => void,
  signal: AbortSignal,
): Promise<string> {
  const address = (step: string, more: { [name: string]: string } = {}) =>
    addressIn(projectId, 'upload', { step, ...more });
  const send = async (to: string, body?: Blob | FormData): Promise<{ upload?: string; there?: number }> => {
    const headers = body instanceof Blob ? { 'Content-Type': 'application/octet-stream' } : undefined;
    // What arrives twice is there once.
    const answer = await fetchPatiently(to, { method: 'POST', body, signal, headers }, () => !signal.aborted);
    if (!answer) throw signal.reason;
    if (!answer.ok) throw new Error(await wordsOf(answer));
    return answer.json();
  };
  const { upload } = await send(address('start'));
  if (upload === undefined) throw new Error('The import could not be started. Try again.');
  const total = uploads.reduce((sum, { file }) => sum + file.size, 0);
  let done = 0;
  try {
    const waiting = togetherOrAlone(uploads);
    const sendNext = async (): Promise<void> => {
      for (let next = waiting.shift(); next; next = waiting.shift()) {
        const [{ path, file }] = next as [Upload, ...Upload[]];
        onProgress({ done, total, path });
        if (next.length === 1)
          await sendParts(file, (from) => {
            onProgress({ done: done + from, total, path });
            const place = { upload, path, from: String(from), total: String(file.size) };
            return send(address('part', place), file.slice(from, from + PART));
          });
        else {
          const form = new FormData();
          form.set('paths', JSON.stringify(next.map((file) => file.path)));
          for (const file of next) form.append('file', file.file);
          await send(address('files', { upload }), form);
        }
        done += next.reduce((sum, file) => sum + file.file.size, 0);
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, sendNext));
    await send(address('finish', { upload }));
  } catch (error) {
    void dropUpload(projectId, upload);
    throw error;
  }
  return upload;
}

/**
 * Sends a file part by part, each from where the server says that it has come to.
 * @param send sends the part that begins at some byte
 * @throws Error when the server takes no more
 */
export async function sendParts(
  file: Blob,
  send: (from: number) => Promise<{ there?: number }>,
): Promise<void> {
  let from = 0;
  let inVain = 0;
  do {
    const { there = 0 } = await send(from);
    inVain = there > from ? 0 : inVain + 1;
    // Behind what was thought once: the server has lost it, and it is sent again.
    if (inVain > 2) throw new Error('The server does not take the file. Try again.');
    from = there;
  } while (from < file.size);
}

/** Lets go of what was sent. */
export async function dropUpload(projectId: string, upload: string): Promise<void> {
  await fetch(addressIn(projectId, 'upload', { step: 'drop', upload }), { method: 'POST' }).catch(() => {});
}
