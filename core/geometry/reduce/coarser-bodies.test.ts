import type { Shape3D } from 'replicad';
import { beforeAll, describe, expect, it } from 'vitest';
import type { ReduceChoices } from '#core/geometry/reduce/choices';
import { openingsOf } from '#core/geometry/reduce/filled-parts';
import { LITE } from '#core/jobs/lite/operation';
import { planOperation } from '#core/operation';
import { kernel } from '#core/testing/kernel';
import { madeAssembly, placedAt, roundBar, without } from '#core/testing/made-assemblies';
import { testContext } from '#core/testing/plan-context';
import { boxAt, startModelling } from '#core/testing/step-of-shape';

beforeAll(startModelling);

/** What becomes of a part that is placed twice. */
async function lite(body: Shape3D, choices: Partial<ReduceChoices>) {
  const files = await madeAssembly([
    { name: 'Part', bodies: [body], places: [placedAt(0, 0, 0), placedAt(200, 0, 0)] },
  ]);
  const context = await testContext(files, kernel);
  const { preview, change } = await planOperation(LITE, context, { file: 'top.stp', ...choices });
  const { report, could, steps } = preview;
  const faces = { before: report.before.faces / 2, after: report.after.faces / 2 };
  return { files, context, report, could, steps, faces, warnings: change.warnings };
}

describe('a lite model made coarser', () => {
  const plate = () =>
    without(
      boxAt(80, 60, 10).chamfer(1, (edges) => edges.inPlane('XY', 10)) as Shape3D,
      boxAt(6, 100, 4, [25, 0, 6]),
      roundBar(3, 60, [-20, 10, -20]),
    );

  it('has sharp edges, no slots, and faces that are one, at every place', async () => {
    const choices = { sharpEdges: 1, joinFaces: true, fill: ['slot' as const] };
    const { faces, report, could, steps, warnings } = await lite(plate(), choices);
    expect(warnings).toEqual([]);
    expect(faces.after).toBe(7);
    expect(report.volume.after / 2).toBeCloseTo(80 * 60 * 10 - Math.PI * 9 * 10, 3);
    expect(report.removed).toMatchObject({ slots: 1, holes: 0 });
    expect(report.removed.sharpened).toHaveLength(2);
    expect(report.removed.sharpened[0]!.off).toBeCloseTo(Math.SQRT1_2, 6);
    expect(report.box.after).toEqual(report.box.before);
    expect(could.fill.find(({ kind }) => kind === 'hole')).toMatchObject({ count: 2, faces: 2 });
    expect(could.edges).toBeGreaterThanOrEqual(8);
    expect(steps.find(({ step }) => step === 'round')!.faces).toBeGreaterThanOrEqual(could.edges);
  });

  it('leaves a face that is kept as it is, to the last digit, and goes on elsewhere', async () => {
    const body = boxAt(80, 60, 10).fillet(2, (edges) => edges.inDirection('Z')) as Shape3D;
    const made = without(body, boxAt(10, 10, 4, [0, 30, 6]));
    const { files, context } = await lite(made, {});
    const { bodies } = await openingsOf(context, 'part.stp');
    const faces = [...bodies.values()].flatMap(({ topology }) => topology.faces);
    const end = faces.find(
      ({ surface: one }) =>
        one.kind === 'plane' && Math.abs(one.normal[0]) > 0.99 && Math.abs(one.at[0]) > 39.9,
    )!;
    const { preview } = await planOperation(LITE, await testContext(files, kernel), {
      file: 'top.stp',
      sharpEdges: 2,
      fill: ['slot'],
      keepFaces: [{ file: 'part.stp', face: end.id, name: '' }],
    });
    expect(preview.report.kept).toMatchObject([{ identical: true }]);
    // Two of four rounds touch it.
    expect(preview.report.after.faces / 2).toBe(6 + 2);
    expect(preview.report.removed.slots).toBe(1);
  });

  it('is filled by how deep openings are, and by how many stand together', async () => {
    const holes = Array.from({ length: 30 }, (_, n) =>
      roundBar(2, 40, [-35 + 7 * (n % 6), -20 + 7 * Math.floor(n / 6), -10]),
    );
    const bolts = Array.from({ length: 4 }, (_, n) => roundBar(2, 40, [30, -25 + 15 * n, -10]));
    const shallow = [boxAt(6, 2, 0.4, [20, 20, 9.6]), boxAt(2, 6, 3, [10, 20, 7])];
    const sheet = without(boxAt(80, 60, 10), ...holes, ...bolts, ...shallow);
    const engraved = await lite(sheet, { fill: ['engraving'], engraved: 0.5 });
    expect(engraved.faces.before - engraved.faces.after).toBe(5);
    const perforated = await lite(sheet, { fill: ['perforation'] });
    expect(perforated.report.removed.holes).toBe(30);
    expect(perforated.could.fill).toContainEqual({ kind: 'perforation', count: 60, faces: 60 });
    expect(perforated.could.fill).toContainEqual({ kind: 'engraving', count: 2, faces: 10 });
  });
});
