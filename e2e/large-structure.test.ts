import { afterAll, beforeAll, expect, it } from 'vitest';
import { type ChangeSet, write } from '#core/change/change-set';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { DEMO_USERS } from '#demo/account';
import { closeDatabase, database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { requestShapes } from '#server/jobs/shapes';
import { ProjectFileSet } from '#server/projects/project-files';
import { loadProject } from '#server/projects/project-scan';
import { createProject } from '#server/projects/projects';
import { type Stand, signedIn, stageReady, startStand } from './harness';

const PARTS = 300;
const GROUPS = 10;
let stand: Stand;
let project: string;

beforeAll(async () => {
  stand = await startStand();
  const db = database();
  const owner = await db('users').where('email', DEMO_USERS.engineer.email).first('id');
  project = await createProject(db, owner.id, 'Large');
  const plan: ChangeSet = { summary: 'Made up', changes: [], rewires: [], warnings: [] };
  const part = (n: number) => ({ written: `p${n}.stp`, id: `P${n}`, times: n < 200 ? 17 : 16 });
  for (let n = 0; n < PARTS; n++)
    plan.changes.push(
      write(
        `p${n}.stp`,
        null,
        writeBoxPart({ id: `P${n}`, boxes: [{ corner: [0, (n % 20) * 15, Math.floor(n / 20) * 15] }] }),
      ),
    );
  for (let g = 0; g < GROUPS; g++)
    plan.changes.push(
      write(
        `g${g}.stp`,
        null,
        testAssembly(
          `G${g}`,
          Array.from({ length: PARTS / GROUPS }, (_, k) => part(g * (PARTS / GROUPS) + k)),
        ),
      ),
    );
  plan.changes.push(
    write(
      'top.stp',
      null,
      testAssembly(
        'TOP',
        Array.from({ length: GROUPS }, (_, g) => ({ written: `g${g}.stp`, id: `G${g}` })),
      ),
    ),
  );
  await new ProjectFileSet(db, project, owner.id).applyAs(plan);
  await requestShapes(db, await loadProject(db, project));
  await stopJobs();
  await closeDatabase();
});
afterAll(() => stand?.stop());

it('stays quick with 5,000 occurrences of 300 parts', async () => {
  const { page, context, problems } = await signedIn(stand);
  await page.goto(`${stand.address}/projects/${project}/files`);
  await page.getByText('Preparing shapes').waitFor({ state: 'detached' });
  await page.goto(`${stand.address}/projects/${project}/structure?single=1`);
  await page.getByText('5,000 occurrences of 300 distinct parts').waitFor();
  const { bodies, drawCalls } = await stageReady(page);
  expect(bodies).toBe(PARTS);
  expect(drawCalls).toBeLessThanOrEqual(2 * PARTS + 1);

  const rows = () => page.getByRole('row').count();
  const body = page.getByTestId('ledger-body');
  let seen = 0;
  for (const top of [0, 20_000, 80_000, 149_000]) {
    await body.evaluate((scroller, to) => scroller.scrollTo(0, to), top);
    await page.waitForTimeout(150);
    const now = await rows();
    expect(now).toBeLessThan(200);
    expect(now).toBeGreaterThan(15);
    seen = Math.max(seen, now);
  }
  expect(seen).toBeGreaterThan(0);
  await body.focus();
  await page.keyboard.press('End');
  await page.getByRole('complementary').getByText('P299').first().waitFor();
  expect(problems).toEqual([]);
  await context.close();
});
