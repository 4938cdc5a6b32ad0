import { commonTopFolder } from '#core/links/paths';

/** A file to import, with its path as the person sees it. */
export interface Upload {
  path: string;
  file: File;
}

/** Files of a drop, folders walked through. */
export async function filesOfDrop(transfer: DataTransfer): Promise<Upload[]> {
  const entries = [...transfer.items].flatMap((item) => item.webkitGetAsEntry() ?? []);
  const found: Upload[] = [];
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
      const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
        reader.readEntries(resolve, reject),
      );
      if (some.length === 0) return;
      for (const child of some) await walk(child, path);
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
 * Sends files, a few at once, as the steps of one import. A file that is refused is named and the rest goes on.
 * @returns the import's id and what was refused
 */
export async function sendImport(
  projectId: string,
  uploads: Upload[],
  onConflict: string,
  onProgress: (progress: UploadProgress) => void,
  signal: AbortSignal,
): Promise<{ id: string; refused: string[] }> {
  const post = async (search: { [name: string]: string }, body?: Blob | FormData) => {
    const response = await fetch(`/projects/${projectId}/import?${new URLSearchParams(search)}`, {
      method: 'POST',
      body,
      signal,
      headers: body instanceof Blob ? { 'Content-Type': 'application/octet-stream' } : {},
    });
    const answer = (await response
      .json()
      .catch(() => ({ error: `The server answered ${response.status}.` }))) as {
      error?: string;
      import?: string;
      refused?: string[];
    };
    if (!response.ok && response.status !== 422)
      throw new Error(answer.error ?? `The server answered ${response.status}.`);
    return answer;
  };
  const { import: id } = await post({ step: 'start', onConflict });
  if (!id) throw new Error('The import could not be started.');
  const total = uploads.reduce((sum, { file }) => sum + file.size, 0);
  const refused: string[] = [];
  let done = 0;
  try {
    const waiting = togetherOrAlone(uploads);
    const sendNext = async (): Promise<void> => {
      for (let next = waiting.shift(); next; next = waiting.shift()) {
        const [{ path, file }] = next as [Upload, ...Upload[]];
        onProgress({ done, total, path });
        if (next.length === 1) {
          const { error } = await post({ step: 'file', import: id, path }, file);
          if (error) refused.push(error);
        } else {
          const form = new FormData();
          form.set('paths', JSON.stringify(next.map((upload) => upload.path)));
          for (const upload of next) form.append('file', upload.file);
          const answer = await post({ step: 'files', import: id }, form);
          refused.push(...(answer.refused ?? []));
          if (answer.error) refused.push(answer.error);
        }
        done += next.reduce((sum, upload) => sum + upload.file.size, 0);
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, sendNext));
    await post({ step: 'finish', import: id });
  } catch (error) {
    void fetch(`/projects/${projectId}/import?${new URLSearchParams({ step: 'cancel', import: id })}`, {
      method: 'POST',
    });
    throw error;
  }
  return { id, refused };
}
