import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { scanContent } from '#core/project/scan/content';
import { writeBoxPart } from '#core/testing/box-part';
import { startModelling } from '#core/testing/step-of-shape';
import { doubtAbout, impossibleVolume, meshVolume } from './doubt';
import { OcctStepFile } from './occt';

/** A tetrahedron of 1/6 mm³, its faces turned outwards. */
const TETRAHEDRON = {
  positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1),
  triangles: Uint32Array.of(0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3),
  chord: 1e-4,
};
const FACTS = { volume: 1 / 6, area: 2.37, box: [0, 0, 0, 1, 1, 1] as never, boxTolerance: 0 };

describe('figures of a solid', () => {
  it('fit each other, wherever the mesh lies', () => {
    expect(doubtAbout(FACTS, TETRAHEDRON)).toBeNull();
    const away = { ...TETRAHEDRON, positions: TETRAHEDRON.positions.map((value) => value + 1000) };
    expect(meshVolume(away)).toBeCloseTo(1 / 6, 3);
  });

  it('are doubted from just over the chord error on', () => {
    expect(doubtAbout({ ...FACTS, volume: 1 / 6 + 3e-4 }, TETRAHEDRON)).toBeNull();
    expect(doubtAbout({ ...FACTS, volume: 1 / 6 + 1e-3 }, TETRAHEDRON)).not.toBeNull();
  });

  it('are doubted when the mesh has another volume, or the box no room for it', () => {
    expect(doubtAbout({ ...FACTS, volume: 6.5 }, TETRAHEDRON)).toMatch(
      /surfaces give 6.5 mm³, its mesh 0.167 mm³/,
    );
    const tight = { ...FACTS, box: [0, 0, 0, 0.5, 0.5, 0.5] as never };
    expect(doubtAbout(tight, TETRAHEDRON)).toMatch(/a box of 0.5 x 0.5 x 0.5 mm/);
  });

  it.each([
    [0, /0 mm³: its shell is not closed/],
    [-881_000, /negative \(-881 cm³\)/],
    [Number.NaN, /not a number/],
    [Number.POSITIVE_INFINITY, /not a number/],
  ])('of %s mm³ are impossible', (volume, words) => {
    expect(impossibleVolume(volume)).toMatch(words);
  });
});

describe('bodies as the kernel measures them', async () => {
  const oc = await startModelling();
  const shapes = (file: string, bytes: Uint8Array) => {
    const ids = scanContent(file, bytes).products.flatMap(({ bodies }) => bodies.map(({ id }) => id));
    using step = new OcctStepFile(oc, bytes, new Set(ids));
    return ids.map((id) => step.shape(id));
  };
  const demo = (file: string) =>
    shapes(file, readFileSync(new URL(`../../../demo/files/hx-12/${file}`, import.meta.url)));

  it('have no doubt in the demo, and a box that is exact or says by how much it is not', () => {
    const [bush] = demo('elevation/trunnion-bush.stp');
    expect(bush).toMatchObject({ facts: { doubt: null, boxTolerance: 0 } });
    const [ball] = demo('standard/bearing-6018/ball-15.stp');
    if (!ball || !('facts' in ball)) throw new Error('no ball');
    const { box, boxTolerance, doubt } = ball.facts;
    expect(doubt).toBeNull();
    expect(boxTolerance).toBeGreaterThan(0);
    expect(boxTolerance).toBeLessThan(0.05);
    for (const side of box) expect(7.5 - Math.abs(side)).toBeLessThanOrEqual(boxTolerance);
  });

  it('are refused when they are turned inside out, and drawn all the same', () => {
    const part = Buffer.from(writeBoxPart({ id: 'P' })).toString('latin1');
    const opened = part.replace(/(CLOSED_SHELL\('',\()#\d+,/, '$1');
    const [open] = shapes('p.stp', Buffer.from(opened, 'latin1'));
    expect(open).toMatchObject({ error: expect.stringContaining('not closed') });
    expect(open!.mesh!.triangles.length).toBeGreaterThan(0);
  });
});
