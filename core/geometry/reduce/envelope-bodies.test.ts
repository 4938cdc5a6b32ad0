import { beforeAll, describe, expect, it } from 'vitest';
import { meshBodies } from '#core/geometry/bodies/measure';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { missingIn } from '#core/geometry/solids/missing';
import { tidiedMesh } from '#core/geometry/solids/touching';
import { LITE } from '#core/jobs/lite/operation';
import { planOperation } from '#core/operation';
import { kernel } from '#core/testing/kernel';
import { around, madeAssembly, placedAt, ring, roundBar, without } from '#core/testing/made-assemblies';
import { testContext } from '#core/testing/plan-context';
import { boxAt, startModelling } from '#core/testing/step-of-shape';

beforeAll(startModelling);

describe('an envelope around each part', () => {
  it('holds all of it, stands off no further than asked, and stays where it is placed', async () => {
    const bracket = without(
      boxAt(80, 60, 50),
      boxAt(80, 60, 40, [12, 0, 12]),
      ...Array.from({ length: 15 }, (_, n) =>
        roundBar(3, 40, [-20 + 12 * (n % 5), -20 + 20 * Math.floor(n / 5), -20]),
      ),
    );
    const files = await madeAssembly([
      { name: 'Bracket', bodies: [bracket], places: around(3, 120) },
      { name: 'Pin', bodies: [roundBar(5, 40)], places: [placedAt(0, 0, 0)] },
      { name: 'Ring', bodies: [without(ring(40, 25, 10), boxAt(6, 200, 5))], places: [placedAt(0, 0, 60)] },
    ]);
    const standOff = 6;
    const { preview, change } = await planOperation(LITE, await testContext(files, kernel), {
      file: 'top.stp',
      envelopes: standOff,
    });
    const { report } = preview;
    expect(change.warnings).toEqual([]);
    expect(report.after).toMatchObject({ occurrences: 5, distinctParts: 3, bodies: 5 });
    expect(report.after.faces).toBeLessThan(report.before.faces);
    // A pin of three faces is lighter than a box around it.
    expect(report.removed.enveloped).toEqual(expect.arrayContaining(['Bracket']));
    expect(report.removed.enveloped.join()).not.toContain('Pin');
    await files.apply(change);
    const written = [...(await meshBodies(kernel, await files.read(preview.file))).values()];
    for (const name of ['bracket', 'ring']) {
      const [body] = (await meshBodies(kernel, await files.read(`${name}.stp`))).values();
      const own = tidiedMesh(finestMesh(body!));
      const missing = await Promise.all(
        written.map((mesh) => missingIn([own], [tidiedMesh(finestMesh(mesh))])),
      );
      expect(missing.some((of) => of.length === 0)).toBe(true);
    }
    const off = report.box.after.map((value, n) => Math.abs(value - report.box.before[n]!));
    expect(Math.max(...off)).toBeLessThan(standOff);
    expect(report.deviation.max).toBeLessThan(standOff * 2);
  });
});
