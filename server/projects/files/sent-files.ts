import { z } from 'zod';
import { Refusal } from '#core/refusal';
import { PART, type SmallFile } from './uploads';

/** A part of a file. @throws Refusal when it is longer than one may be */
export async function partIn(request: Request): Promise<Uint8Array> {
  const pieces: Uint8Array[] = [];
  let size = 0;
  for await (const piece of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    size += piece.byteLength;
    if (size > PART) throw new Refusal('Too much was sent at once. Reload the page and import again.');
    pieces.push(piece);
  }
  return Buffer.concat(pieces);
}

/** A list of paths as JSON. */
const Paths = z.string().transform((text, context) => {
  try {
    return z.array(z.string().min(1).max(2000)).parse(JSON.parse(text));
  } catch {
    context.addIssue({ code: 'custom', message: 'This is no list of paths.' });
    return z.NEVER;
  }
});

/** So much may come in one request of many files. */
const MOST_TOGETHER = 16 * 1024 * 1024;

/** Files that came together: their paths as a list of JSON, and their contents in the same order. */
export async function smallFilesIn(request: Request): Promise<SmallFile[]> {
  if (Number(request.headers.get('Content-Length') ?? Number.POSITIVE_INFINITY) > MOST_TOGETHER)
    throw new Refusal('Too much was sent at once. Reload the page and import again.');
  const form = await request.formData();
  const paths = Paths.safeParse(form.get('paths'));
  const contents = form.getAll('file');
  if (!paths.success || paths.data.length !== contents.length)
    throw new Refusal('The files cannot be read. Reload the page and import again.');
  return Promise.all(
    contents.map(async (content, n) => ({
      path: paths.data[n]!,
      content: new Uint8Array(await (content as File).arrayBuffer()),
    })),
  );
}
