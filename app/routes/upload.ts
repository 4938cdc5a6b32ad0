import { z } from 'zod';
import { Refusal } from '#core/refusal';
import { answerInProject } from '#server/auth/guard';
import { ownerOf } from '#server/jobs/tasks';
import {
  dropUpload,
  finishUpload,
  PART,
  receiveFiles,
  receivePart,
  type SmallFile,
  startUpload,
} from '#server/projects/uploads';
import type { Route } from './+types/upload';

const Step = z.discriminatedUnion('step', [
  z.object({ step: z.literal('start') }),
  z.object({
    step: z.literal('part'),
    upload: z.uuid(),
    path: z.string().min(1).max(2000),
    from: z.coerce.number().int().nonnegative(),
    total: z.coerce.number().int().nonnegative(),
  }),
  z.object({ step: z.literal('files'), upload: z.uuid() }),
  z.object({ step: z.literal('finish'), upload: z.uuid() }),
  z.object({ step: z.literal('drop'), upload: z.uuid() }),
]);

/**
 * The steps in which files arrive, named in the address; the body of `part` is a part of a file as it is, and the answer says how much of the file
 * is there; the body of `files` is a form with many small ones. Nothing changes by them: what arrived is taken in by the operation *import*.
 */
export const action = answerInProject('editor', async (access, { request }: Route.ActionArgs) => {
  const step = Step.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (!step.success) return Response.json({ error: 'This is not a step of an import.' }, { status: 400 });
  const { db } = access;
  const owner = ownerOf(access);
  if (step.data.step === 'start') return Response.json({ upload: await startUpload(db, owner) });
  const of = { ...owner, upload: step.data.upload };
  switch (step.data.step) {
    case 'part': {
      const { there } = await receivePart(db, of, step.data, await bodyOf(request));
      return Response.json({ there });
    }
    case 'files':
      await receiveFiles(db, of, await smallFiles(request));
      break;
    case 'finish':
      await finishUpload(db, of);
      break;
    case 'drop':
      await dropUpload(db, of);
      break;
  }
  return Response.json({});
});

/** A part of a file. @throws Refusal when it is longer than one may be */
async function bodyOf(request: Request): Promise<Uint8Array> {
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
async function smallFiles(request: Request): Promise<SmallFile[]> {
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
