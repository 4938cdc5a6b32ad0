import { afterAll, beforeAll, expect, it } from 'vitest';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanContent } from '#core/project/scan/content';
import { AWKWARD_FILES } from '#core/testing/awkward-files';
import { writeBoxPart } from '#core/testing/box-part';
import { largeStructure } from '#core/testing/large-structure';
import { signIn } from '#server/auth/sessions';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { testProject } from '#server/testing';
import { accessibilityEngine, buildOf } from '../testing/engine';
import { drawnPages } from '../testing/pages';

afterAll(async () => {
  engine.close();
  await stopJobs();
  await closeDatabase();
});

/** Awkward files beside each other; each is shown as if it were alone. */
const FILES = AWKWARD_FILES.map(({ what, bytes }, n): [path: string, content: Uint8Array] => [
  `${String(n).padStart(2, '0')} ${what.replaceAll(/[^\w ]/g, '')}.stp`,
  bytes,
]);

async function projectWith(files: Iterable<[path: string, content: Uint8Array]>) {
  const { db, owner, project } = await testProject(new MemoryFileSet([...files]));
  const signed = await signIn(db, new Request('http://stone.test/'), owner.email, 'test-password');
  return { id: project, cookie: signed.split(';')[0]! };
}

/** The first body of a file, which *Cut* is about. */
const bodyIn = new Map(
  FILES.map(([path, content]) => [
    path,
    scanContent(path, content).products.flatMap(({ bodies }) => bodies.map(({ id }) => id))[0] ?? 0,
  ]),
);

const engine = accessibilityEngine();
/** How pages are built that were read before. */
const read = new Set<string>();

let pages: Awaited<ReturnType<typeof drawnPages>>;
beforeAll(async () => {
  pages = await drawnPages();
});

/** What is wrong with the pages of a project: those that fail, whose ids are not each their own, and what an accessibility engine finds. */
async function troubles(
  project: { id: string; cookie: string },
  files: readonly string[],
): Promise<{ found: string[]; drawn: number }> {
  const found: string[] = [];
  let drawn = 0;
  for (const { address, name } of pages.routes) {
    if (!address.startsWith('/projects/:projectId/')) continue;
    let first: string | undefined;
    for (const [n, file] of files.entries()) {
      const path = address.replace(':projectId', project.id);
      const search = new URLSearchParams({
        ...{ file, root: file, path: file, sel: name === 'files' ? file : '0' },
        body: String(bodyIn.get(file) ?? 0),
      });
      const request = new Request(`http://stone.test${path}?${search}`, {
        headers: { Cookie: project.cookie },
      });
      const html = await pages.draw(request).catch((error: unknown) => error);
      if (html instanceof Response && html.status < 400) continue;
      if (typeof html !== 'string') {
        const status = (html as { status?: number }).status;
        if (status === undefined || status >= 500) found.push(`${name} of ${file}: ${html}`);
        continue;
      }
      drawn++;
      found.push(...doubles(html).map((what) => `${name} of ${file}: ${what}`));
      const build = `${name} ${buildOf(html)}`;
      if (!read.has(build)) {
        read.add(build);
        found.push(...(await engine.findings(html)).map((what) => `${name} of ${file}: ${what}`));
      }
      // What says the same of two files is about neither.
      const isTheSame = first !== undefined && html.replaceAll(file, '') === first;
      first ??= html.replaceAll(file, '');
      if (n === 1 && isTheSame) break;
    }
  }
  return { found, drawn };
}

/** Ids that stand on a page twice. */
function doubles(html: string): string[] {
  const seen = new Set<string>();
  const twice: string[] = [];
  for (const [, id] of html.matchAll(/\sid="([^"]+)"/g)) {
    if (seen.has(id!)) twice.push(`two elements have the id ${id}`);
    seen.add(id!);
  }
  return twice;
}

it('every page is drawn of every awkward file', async () => {
  const project = await projectWith(FILES);
  expect(pages.routes.length).toBeGreaterThan(20);
  const { found, drawn } = await troubles(
    project,
    FILES.map(([path]) => path),
  );
  expect(found).toEqual([]);
  // Pages that are about no file once, the others of each.
  expect(drawn).toBeGreaterThan(150);
  expect(read.size).toBeGreaterThan(20);
});

it('every page is drawn of a project with thousands of occurrences', async () => {
  const part = Buffer.from(writeBoxPart({ id: 'ALL' })).toString('latin1');
  const project = await projectWith(largeStructure(part, 'ALL'));
  expect((await troubles(project, ['top.stp', 'p0.stp'])).found).toEqual([]);
});
