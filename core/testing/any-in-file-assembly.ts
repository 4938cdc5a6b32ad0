import fc from 'fast-check';
import { type Matrix4, placementFromAxes } from '#core/product/matrix';
import type { PlacementForm } from '#core/product/write-components';
import { inFileAssembly } from './in-file-assembly';

/** Parts, then assemblies that place what stands before them; the last one is the top. */
export const anyInFileAssembly: fc.Arbitrary<Uint8Array> = fc
  .record({
    parts: fc.integer({ min: 1, max: 4 }),
    assemblies: fc.array(
      fc.array(
        fc.record({
          child: fc.nat(20),
          x: fc.integer({ min: -300, max: 300 }),
          tilt: fc.integer({ min: -3, max: 3 }),
        }),
        { minLength: 1, maxLength: 4 },
      ),
      { minLength: 1, maxLength: 4 },
    ),
    placementForm: fc.constantFrom<PlacementForm>('pair', 'swapped pair', 'mapped item'),
  })
  .map(({ parts, assemblies, placementForm }) => {
    const ids = Array.from({ length: parts }, (_, n) => `P${n}`);
    const written = assemblies.map((places, n) => {
      const known = [...ids];
      ids.push(`A${n}`);
      return {
        id: `A${n}`,
        places: places.map(({ child, x, tilt }): [string, Matrix4] => [
          known[child % known.length]!,
          placementFromAxes([x, 7 * x, 3], [tilt, 1, 2], [1, 0, tilt]),
        ]),
      };
    });
    return inFileAssembly({
      id: 'TOP',
      parts: Array.from({ length: parts }, (_, n) => ({
        id: `P${n}`,
        boxes: [{ size: [5 + n, 6, 7], colour: ['#102030', '#ff8000'][n % 2]!, name: `body ${n}` }],
        ...(n % 2 === 0 && { material: `Alloy ${n}` }),
      })),
      assemblies: written,
      placementForm,
    });
  });
