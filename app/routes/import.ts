import { data } from 'react-router';
import { z } from 'zod';
import { Refusal } from '#core/refusal';
import { requireProject } from '#server/auth/guard';
import { enqueue } from '#server/jobs/queue';
import { defectInWords } from '#server/log';
import {
  cancelImport,
  receiveFile,
  receiveFiles,
  type SmallFile,
  startImport,
} from '#server/projects/imports';
import type { Route } from './+types/import';

const Step = z.discriminatedUnion('step', [
  z.object({ step: z.literal('start'), onConflict: z.enum(['keep', 'replace', 'both']).default('replace') }),
  z.object({ step: z.literal('file'), import: z.uuid(), path: z.string().min(1).max(2000) }),
  z.object({ step: z.literal('files'), import: z.uuid() }),
  z.object({ step: z.literal('finish'), import: z.uuid() }),
  z.object({ step: z.literal('cancel'), import: z.uuid() }),
]);

/** State of one import, for pages that come later. */
export async function loader({ request, params }: Route.LoaderArgs) {
  const { db, project } = await requireProject(request, params.projectId, 'viewer');
  const id = z.uuid().safeParse(new URL(request.url).searchParams.get('import'));
  const row = id.success
    ? await db('imports')
        .where({ id: id.data, project_id: project.id })
        .first('id', 'state', 'doing', 'done', 'total', 'result')
    : undefined;
  if (!row) throw data('There is no such import.', { status: 404 });
  return Response.json(row);
}

/**
 * The steps of an import, named in the address; the body of `file` is the file itself, streamed, that of `files` a form with many
 * small ones.
 */
export async function action({ request, params }: Route.ActionArgs) {
  const { db, user, project } = await requireProject(request, params.projectId, 'editor');
  const step = Step.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (!step.success) return Response.json({ error: 'This is not a step of an import.' }, { status: 400 });
  try {
    switch (step.data.step) {
      case 'start':
        return Response.json({ import: await startImport(db, project.id, user.id, step.data.onConflict) });
      case 'file':
        await receiveFile(
          db,
          project.id,
          step.data.import,
          step.data.path,
          (request.body ??
            new ReadableStream({ start: (empty) => empty.close() })) as unknown as AsyncIterable<Uint8Array>,
        );
        return Response.json({});
      case 'files': {
        const files = await smallFiles(request);
        return Response.json({ refused: await receiveFiles(db, project.id, step.data.import, files) });
      }
      case 'finish': {
        const ready = await db('imports')
          .where({ id: step.data.import, project_id: project.id, state: 'uploading' })
          .update({ state: 'waiting' });
        if (ready > 0) await enqueue('import', { importId: step.data.import }, step.data.import);
        return Response.json({});
      }
      case 'cancel':
        return Response.json({ cancelled: await cancelImport(db, project.id, step.data.import) });
    }
  } catch (error) {
    if (error instanceof Refusal) return Response.json({ error: error.message }, { status: 422 });
    const words = defectInWords(error, { request: 'import', project: project.id, user: user.id });
    return Response.json({ error: words }, { status: 500 });
  }
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
