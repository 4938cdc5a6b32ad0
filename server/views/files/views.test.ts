import { afterAll, describe, expect, it } from 'vitest';
import { stateCounts } from '#core/files/links/resolve';
import { isIdentity } from '#core/product/matrix';
import { resolveProject, startingPoints } from '#core/project/scan/project';
import { atOnce } from '#core/steps';
import { gearUnit } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { stopJobs } from '#server/jobs/queue';
import { requestShapes, type ShapeState } from '#server/jobs/shapes';
import { loadProject } from '#server/projects/scan/project-scan';
import { testProject } from '#server/testing';
import { rankingFor } from '#server/views/operations/repair-ranking';
import { findBroken, keyOfLink, previewSteps, queueSteps } from '#server/views/operations/repair-view';
import { packRowSteps, unpackRows } from '#server/views/packed/packed-rows';
import { structureViewSteps } from '#server/views/structure/structure-view';
import { rowSteps, shapeProgress } from './files-view';
import { standingOf } from './standing';

afterAll(async () => {
  await stopJobs();
  await closeDatabase();
});

const unit = async () => {
  const place = await testProject(gearUnit());
  return { ...place, scanned: await loadProject(place.db, place.project) };
};
const facts = (box: number[], volume = 10) => ({
  volume,
  area: 1,
  centre: [0, 0, 0] as [number, number, number],
  moments: [1, 1, 1] as [number, number, number],
  box: box as [number, number, number, number, number, number],
  boxTolerance: 0,
  faces: 6,
});
const done = (sha256: string, body: number, box: number[], volume?: number): ShapeState => ({
  sha256,
  state: 'done',
  done: 1,
  total: 1,
  gltf: 'x',
  bodies: [{ body, facts: facts(box, volume) }],
  error: null,
});

describe('a page that begins to listen', () => {
  it('is told where the project stands', async () => {
    const { db, project } = await testProject(gearUnit());
    const before = await standingOf(db, project);
    expect(before).toEqual({
      revision: expect.any(Number),
      open: expect.any(Number),
    });
    await requestShapes(db, await loadProject(db, project));
    const after = await standingOf(db, project);
    expect(after.revision).toBe(before.revision);
    expect(after.open).toBeGreaterThan(0);
  });
});

describe('the structure', () => {
  it('has rows with states and instances in world coordinates', async () => {
    const { scanned, project } = await unit();
    const view = atOnce(structureViewSteps(scanned, new Map(), project, { root: null, grouped: true }));
    expect(view).toMatchObject({ root: 'unit.stp', roots: ['unit.stp'], occurrences: 11, distinctParts: 5 });
    expect(
      view.rows.map(({ name, depth, quantity, link }) => [name, depth, quantity, link?.state ?? null]),
    ).toEqual([
      ['UNIT assembly', 0, 1, null],
      ['DRIVE assembly', 1, 1, 'sound'],
      ['HOUSING', 2, 1, 'sound'],
      ['LID', 2, 1, 'missing'],
      ['M6', 2, 4, 'sound'],
      ['WASHER', 2, 4, 'ambiguous'],
      ['BASE', 1, 1, 'sound'],
    ]);
    // Bodies of what is missing are nowhere; those of four screws are one body with four placings.
    expect(view.scene.bodies).toHaveLength(3);
    expect(view.scene.instances).toHaveLength(6);
    expect(isIdentity(view.scene.instances[0]!.placement)).toBe(true);
  });

  it('adds what the kernel found out, and says where a picture is', async () => {
    const { scanned, project } = await unit();
    const { sha256, scan } = scanned.files.get('parts/base.stp')!;
    const body = scan.products[0]!.bodies[0]!.id;
    const view = atOnce(
      structureViewSteps(
        scanned,
        new Map([[sha256, done(sha256, body, [0, 0, 0, 100, 100, 10], 1e5)]]),
        project,
        { root: null, grouped: true },
      ),
    );
    expect(view.rows.find(({ name }) => name === 'BASE')).toMatchObject({
      volume: 1e5,
      box: [0, 0, 0, 100, 100, 10],
      troubles: [],
    });
    expect(view.rows.find(({ name }) => name === 'HOUSING')).toMatchObject({ volume: null, box: null });
    expect(view.scene.bodies.map(({ url }) => url).filter(Boolean)).toEqual([
      `/projects/${project}/shapes/${sha256}/x`,
    ]);
    const refused: ShapeState = {
      ...done(sha256, body, []),
      gltf: null,
      bodies: [{ body, error: 'The kernel refused it.' }],
    };
    expect(
      atOnce(
        structureViewSteps(scanned, new Map([[sha256, refused]]), project, { root: null, grouped: true }),
      ).rows.find(({ name }) => name === 'BASE')!.troubles,
    ).toEqual(['The kernel refused it.']);
  });

  it('starts anywhere that is asked for, and somewhere when nothing is', async () => {
    const { scanned, project } = await unit();
    expect(
      atOnce(structureViewSteps(scanned, new Map(), project, { root: 'drive/drive.stp', grouped: true }))
        .root,
    ).toBe('drive/drive.stp');
    expect(
      atOnce(structureViewSteps(scanned, new Map(), project, { root: 'gone.stp', grouped: true })).root,
    ).toBe('unit.stp');
    const empty = await testProject();
    const nothing = await loadProject(empty.db, empty.project);
    expect(startingPoints(nothing)).toEqual([]);
    expect(
      atOnce(structureViewSteps(nothing, new Map(), empty.project, { root: null, grouped: true })),
    ).toMatchObject({
      root: null,
      rows: [],
      files: {},
    });
  });
});

describe('the files', () => {
  it('say what they hold, who uses them, and which no root reaches', async () => {
    const { scanned } = await unit();
    const rows = new Map(
      unpackRows(
        atOnce(packRowSteps(atOnce(rowSteps(scanned, [...scanned.files.values()], new Map(), new Set())))),
      ).map((row) => [row.path, row]),
    );
    expect(rows.get('drive/drive.stp')).toMatchObject({
      role: 'assembly',
      product: 'DRIVE assembly',
      usedBy: 1,
      unused: false,
      version: 1,
      links: { sound: 2, missing: 1, ambiguous: 1, loop: 0 },
    });
    expect(rows.get('parts/left-over.stp')).toMatchObject({ unused: true, usedBy: 0, bodies: 1, unit: 'mm' });
    expect(stateCounts(scanned.links)).toEqual({ sound: 4, behind: 0, missing: 1, ambiguous: 1, loop: 0 });
  });

  it('say how far the shapes are', () => {
    const states = (['waiting', 'running', 'done', 'failed', 'cancelled'] as const).map(
      (state, n): [string, ShapeState] => [String(n), { ...done('', 1, []), state }],
    );
    const project = resolveProject([]);
    expect(shapeProgress(project, new Map(states))).toMatchObject({
      total: 5,
      open: 2,
      failed: 2,
      unasked: 0,
    });
  });
});

describe('the Repair desk', () => {
  it('queues every broken link with what is wanted', async () => {
    const { scanned } = await unit();
    expect(
      atOnce(queueSteps(scanned)).map(({ wanted, state, occurrences, alike }) => [
        wanted,
        state,
        occurrences,
        alike,
      ]),
    ).toEqual([
      ['LID', 'missing', 1, 1],
      ['WASHER', 'ambiguous', 4, 1],
    ]);
    const [first, second] = atOnce(queueSteps(scanned));
    expect(keyOfLink(findBroken(scanned, second!.key)!)).toBe(second!.key);
    expect(keyOfLink(findBroken(scanned, 'no such link')!)).toBe(first!.key);
  });

  it('ranks with what is remembered of the last target', async () => {
    const { db, project, fileSet, scanned } = await unit();
    const { sha256 } = scanned.files.get('parts/base.stp')!;
    await fileSet.applyAs({
      summary: 'Moved outside',
      rewires: [],
      warnings: [],
      changes: [{ action: 'move', path: 'parts/base.stp', to: 'elsewhere/foundation.stp', base: sha256 }],
    });
    const later = await loadProject(db, project);
    const link = findBroken(later, 'unit.stp::parts/base.stp')!;
    const [best] = (await rankingFor(db, project, later, new Map())).get(link)!;
    expect(best).toMatchObject({ path: 'elsewhere/foundation.stp' });
    expect(best!.evidence[0]!.words).toBe('Same content as the file that the link last led to');
  });

  it('shows a candidate in its place, and everything else faintly', async () => {
    const { scanned, project } = await unit();
    const link = findBroken(scanned, null)!;
    const empty = atOnce(previewSteps(scanned, new Map(), project, link, null));
    expect(empty.instances.every(({ tone }) => tone === 'ghost')).toBe(true);
    const tried = atOnce(previewSteps(scanned, new Map(), project, link, 'parts/lid_rev-b.stp'));
    expect(tried.instances.filter(({ tone }) => tone === 'focus')).toHaveLength(1);
    expect(tried.instances.filter(({ tone }) => tone === 'ghost')).toHaveLength(empty.instances.length);
    // Trying changes nothing.
    expect(scanned.links.filter(({ state }) => state !== 'sound')).toHaveLength(2);
  });
});
