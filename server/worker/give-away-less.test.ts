import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import type { GroupsPreview } from '#core/jobs/groups/view';
import type { LitePreview } from '#core/jobs/lite/view';
import type { RenewCatalogueOutline } from '#core/jobs/publish/renew';
import type { SealPreview } from '#core/jobs/seal/view';
import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { closeDatabase, type Database } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { requestShapes } from '#server/jobs/shapes';
import {
  catalogue,
  filesForOutside,
  pictureAt,
  publicationAt,
  publicationsOf,
  takeFile,
  withdraw,
} from '#server/projects/catalogue/publications';
import { ProjectFileSet } from '#server/projects/files/project-files';
import { loadProject } from '#server/projects/scan/project-scan';
import { operationsIn, testProject } from '#server/testing';
import { madeReportOf } from '#server/views/files/file-facts';
import { madeBeforeBy, outsideOf } from '#server/views/files/made-before';
import { catalogueView } from '#server/views/operations/catalogue-view';
import type { AppliedChange } from '#server/views/operations/planned-view';
import { makeShapes } from './make-shapes';

const kernel = new ThreadedKernel();
let db: Database;
let project: string;
let user: string;
let operations: ReturnType<typeof operationsIn>;

async function meshAll(): Promise<void> {
  const scanned = await loadProject(db, project);
  await requestShapes(db, scanned);
  for (const { sha256, path } of scanned.files.values())
    if (path.endsWith('.stp')) await makeShapes(db, kernel, { sha256, extension: 'stp' });
}

beforeAll(async () => {
  const files = new MemoryFileSet([
    [
      'a/top.stp',
      testAssembly('TOP', [
        { written: 'plate.stp', id: 'PLATE' },
        { written: 'pin.stp', id: 'PIN', times: 3 },
      ]),
    ],
    ['a/plate.stp', writeBoxPart({ id: 'PLATE', boxes: [{ name: 'plate', size: [100, 100, 10] }] })],
    ['a/pin.stp', writeBoxPart({ id: 'PIN', boxes: [{ name: 'pin', size: [2, 2, 2], corner: [0, 0, 10] }] })],
  ]);
  const made = await testProject(files);
  ({ db, project } = made);
  user = made.owner.id;
  operations = operationsIn(db, { project, user }, kernel);
});
afterAll(async () => {
  await kernel.close();
  await stopJobs();
  await closeDatabase();
});

describe('giving away less, in a project', () => {
  it('waits for shapes, then plans a lite model with rows and pictures for its page, and makes it', async () => {
    const early = await operations.plan('lite', { file: 'a/top.stp' });
    expect(early).toMatchObject({ state: 'failed', error: expect.stringContaining('still being prepared') });
    await meshAll();
    const choices = { file: 'a/top.stp', smallerThan: 5, outside: true };
    const planned = await operations.plan<LitePreview>('lite', choices);
    const { preview, files } = planned.result!;
    expect(files).toEqual([
      { does: 'new', path: 'a/top-lite.stp' },
      { does: 'new', path: 'stonetray-project.json' },
    ]);
    expect(preview.components.map(({ reason, rows }) => [reason, rows])).toEqual([
      [null, [0]],
      ['size', [1]],
      ['size', [2]],
      ['size', [3]],
    ]);
    expect(preview.fates).toEqual([null, 'size', 'size', 'size']);
    expect(preview.faces[preview.facesOf[0]!]!.ids).toHaveLength(6);
    expect((await operations.apply('lite', choices, planned.result!)).state).toBe('done');
    const made = await loadProject(db, project);
    expect([...made.files.keys()]).toContain('a/top-lite.stp');
    const outside = await outsideOf(db, made);
    expect(madeReportOf(made, 'a/top-lite.stp', outside)).toMatchObject({
      before: { occurrences: 4, faces: 24 },
      after: { occurrences: 1, bodies: 1, faces: 6 },
      kept: { faces: 0, identical: 0 },
      leaks: [],
    });
    expect(madeReportOf(made, 'a/plate.stp', outside)).toBeNull();
    expect(await madeBeforeBy(db, made, 'a/top.stp', 'lite')).toEqual({
      operation: 'lite',
      source: 'a/top.stp',
      files: ['a/top-lite.stp'],
      opens: 'a/top-lite.stp',
      behind: 0,
    });
    // Parts of the whole were not made lighter themselves, and nothing was sealed.
    expect(await madeBeforeBy(db, made, 'a/plate.stp', 'lite')).toBeNull();
    expect(await madeBeforeBy(db, made, 'a/top.stp', 'seal')).toBeNull();
  });

  it('plans a sealed solid and moving groups with what their pages show', async () => {
    const sealed = await operations.plan<SealPreview>('seal', { file: 'a/top.stp', loose: 'drop' });
    expect(sealed.error ?? null).toBeNull();
    expect(sealed.result!.preview).toMatchObject({
      report: { way: 'exact', isValid: true, solids: 1 },
      picture: { url: expect.stringContaining(`/projects/${project}/pictures/`), node: '0' },
    });
    const groups = await operations.plan<GroupsPreview>('groups', { file: 'a/top.stp' });
    expect(groups.result!.preview.components.map(({ rows }) => rows)).toEqual([[0], [1], [2], [3]]);
    expect(groups.result!.files).toEqual([]);
  });

  it('offers for download only what was made for outside; downloads count, and end when it is withdrawn', async () => {
    const scanned = await loadProject(db, project);
    const publish = async (file: string, title: string) => {
      const planned = await operations.plan('publish', { file, title });
      if (!planned.result) return planned;
      return operations.apply('publish', { file, title }, planned.result);
    };
    expect(await filesForOutside(db, scanned)).toEqual([
      { path: 'a/top-lite.stp', kept: [], sources: expect.anything() },
    ]);
    expect((await publish('a/top.stp', 'Top')).error).toContain('was not made for outside');
    expect((await publish('a/top-lite.stp', 'Top')).error).toContain('still being prepared');
    await meshAll();
    const published = (await publish('a/top-lite.stp', 'A plate')).result as AppliedChange;
    expect(published.applied).toBeNull();
    const token = published.offered!;
    expect(token).toMatch(/^[\w-]{24}$/);
    const offered = (await publicationAt(db, token))!;
    expect(offered).toMatchObject({ title: 'A plate', facts: { sides: [100, 100, 10], faces: 6 } });
    expect(offered.files.map(({ format }) => format)).toEqual(['step', 'glb', '3mf', 'stl']);
    expect((await catalogue(db)).some((one) => one.token === token)).toBe(true);
    expect((await pictureAt(db, token))!.subarray(1, 4).toString()).toBe('PNG');
    const stl = (await takeFile(db, token, 'stl'))!;
    expect([stl.name, stl.content.readUInt32LE(80)]).toEqual(['top-lite.stl', 12]);
    await takeFile(db, token, 'stl');
    const [own] = await publicationsOf(db, project);
    expect(own!.files.map(({ format, downloads }) => [format, downloads])).toEqual([
      ['step', 0],
      ['glb', 0],
      ['3mf', 0],
      ['stl', 2],
    ]);
    expect(await takeFile(db, token, 'exe')).toBeUndefined();
    // Again it keeps its address, and its counts.
    expect((await publish('a/top-lite.stp', 'The plate')).result).toMatchObject({ offered: token });
    expect(
      (await publicationsOf(db, project)).map(({ title, files }) => [title, files[3]!.downloads]),
    ).toEqual([['The plate', 2]]);
    // In fewer formats, with what a customer wants to know: what was taken stays counted.
    const asked = { formats: ['step', 'glb'], partNumber: 'P-1', conditions: 'For planning.' };
    const fewer = { file: 'a/top-lite.stp', title: 'The plate', ...asked };
    const looked = await operations.plan('publish', fewer);
    await operations.apply('publish', fewer, looked.result!);
    const { files, facts } = (await publicationAt(db, token))!;
    expect(files.filter(({ offered }) => offered).map(({ format }) => format)).toEqual(['step', 'glb']);
    expect(files.find(({ format }) => format === 'stl')).toMatchObject({
      downloads: 2,
      offered: false,
      bytes: 0,
    });
    expect(await takeFile(db, token, 'stl')).toBeUndefined();
    expect(facts).toMatchObject({ partNumber: 'P-1', conditions: 'For planning.', mounting: [] });
  });

  it('holds what is offered against its original, and renews it in one change', async () => {
    const [before] = (await catalogueView(db, project)).offered;
    expect(before).toMatchObject({ path: 'a/top-lite.stp', file: 'same', moved: [] });
    expect(before!.choices).toMatchObject({ formats: ['step', 'glb'], partNumber: 'P-1' });
    // A thicker plate, and thicker again.
    const fileSet = new ProjectFileSet(db, project, user);
    for (const thick of [12, 15]) {
      const base = (await fileSet.list()).find(({ path }) => path === 'a/plate.stp')!.sha256;
      const plate = writeBoxPart({ id: 'PLATE', boxes: [{ name: 'plate', size: [100, 100, thick] }] });
      const changes = [write('a/plate.stp', base, plate)];
      await fileSet.applyAs({ summary: 'Thicker', changes, rewires: [], warnings: [] });
    }
    await meshAll();
    const [behind] = (await catalogueView(db, project)).offered;
    expect(behind).toMatchObject({ file: 'same', moved: [{ path: 'a/plate.stp', taken: 1, newest: 3 }] });

    const choices = { offers: [behind!.choices, { file: 'a/plate.stp' }] };
    const planned = await operations.plan<RenewCatalogueOutline>('renew-catalogue', choices);
    expect(planned.result!.files.map(({ does, path }) => [does, path])).toEqual([
      ['written', 'a/top-lite.stp'],
      ['written', 'stonetray-project.json'],
    ]);
    const { offers, failed } = planned.result!.preview;
    expect(offers).toMatchObject([
      { isMadeAgain: true, facts: { sides: [100, 100, 15], partNumber: 'P-1' } },
    ]);
    expect(failed).toEqual([{ file: 'a/plate.stp', why: expect.stringContaining('not made for outside') }]);
    // Until it is carried out nobody sees any of it.
    expect((await publicationAt(db, before!.token))!.facts.sides).toEqual([100, 100, 10]);
    const done = (await operations.apply('renew-catalogue', choices, planned.result!)).result!;
    expect(done.applied).not.toBeNull();
    const [after] = (await catalogueView(db, project)).offered;
    expect(after).toMatchObject({ token: before!.token, file: 'same', moved: [] });
    const offered = (await publicationAt(db, before!.token))!;
    expect(offered.facts.sides).toEqual([100, 100, 15]);
    const step = (await takeFile(db, before!.token, 'step'))!;
    expect(sha256(step.content)).toBe(offered.sha256);
    // A source under another name is the same one.
    const moves = { moves: [{ from: 'a/plate.stp', to: 'a/base-plate.stp' }] };
    const renamed = await operations.plan('move', moves);
    await operations.apply('move', moves, renamed.result!);
    expect((await catalogueView(db, project)).offered[0]!.moved).toEqual([]);
    const back = await operations.plan('undo', {});
    await operations.apply('undo', {}, back.result!);
    // What is offered goes on when the change is taken back: the file of the project is another then.
    const undo = await operations.plan('undo', {});
    await operations.apply('undo', {}, undo.result!);
    expect((await catalogueView(db, project)).offered[0]).toMatchObject({ file: 'newer' });

    await withdraw(db, project, user, offered.id);
    const { token } = offered;
    expect((await catalogueView(db, project)).offered).toEqual([]);
    expect((await catalogueView(db, project)).others).toEqual([{ path: 'a/top-lite.stp' }]);
    expect(await publicationAt(db, token)).toBeUndefined();
    expect(await takeFile(db, token, 'step')).toBeUndefined();
    expect(await pictureAt(db, token)).toBeUndefined();
    await expect(withdraw(db, project, user, offered.id)).rejects.toThrow('not in the catalogue any more');
  });
});
