import { z } from 'zod';
import { answerInProject } from '#server/auth/guard';
import { ownerOf } from '#server/jobs/tasks';
import { partIn, smallFilesIn } from '#server/projects/files/sent-files';
import {
  dropUpload,
  finishUpload,
  receiveFiles,
  receivePart,
  startUpload,
} from '#server/projects/files/uploads';
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
      const { there } = await receivePart(db, of, step.data, await partIn(request));
      return Response.json({ there });
    }
    case 'files':
      await receiveFiles(db, of, await smallFilesIn(request));
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
