import { describe, expect, it } from 'vitest';
import { ownProducts, scanContent, topProductsOf } from '#core/project/scan/content';
import { AWKWARD_FILES } from './awkward-files';

describe('a file with', () => {
  it.each(AWKWARD_FILES.map((file) => [file.what, file] as const))('%s', (_, { bytes, expected }) => {
    const scan = scanContent('x.stp', bytes);
    const { roots, products, bodies, links } = expected;
    for (const key of ['error', 'damage'] as const) {
      const wanted = expected[key];
      if (wanted === null) expect(scan[key]).toBeNull();
      else if (wanted) expect(scan[key]).toMatch(wanted);
      else if (!expected.error) expect(scan[key]).toBeNull();
    }
    if (roots) expect(topProductsOf(scan).map(({ name }) => name)).toEqual(roots);
    if (expected.unit !== undefined) expect(scan.unit).toBe(expected.unit);
    if (bodies !== undefined) expect(scan.products.flatMap((product) => product.bodies)).toHaveLength(bodies);
    const all = scan.products.flatMap((product) => product.bodies);
    if (expected.kinds) expect(all.map(({ kind }) => kind)).toEqual(expected.kinds);
    if (expected.colours)
      expect(
        all.map(({ colour, faceColours }) => [
          colour,
          faceColours?.others.reduce((sum, { faces }) => sum + faces.length, 0) ?? 0,
        ]),
      ).toEqual(expected.colours);
    if (expected.places) {
      const placed = scan.products.flatMap(({ occurrences }) =>
        occurrences.map(({ placement }) => placement),
      );
      expect(
        placed.map((at) => [at[3], at[7], at[11]].map((value) => Math.round(value! * 1e6) / 1e6)),
      ).toEqual(expected.places);
    }
    if (links) expect(scan.links.map(({ kind, written }) => ({ kind, written }))).toEqual(links);
    if (products)
      expect(
        ownProducts(scan).map(({ name, bodies: own, material, occurrences }, n) => ({
          name,
          ...(products[n]?.bodies !== undefined && { bodies: own.length }),
          ...(products[n]?.material !== undefined && { material }),
          ...(products[n]?.occurrences && { occurrences: occurrences.map((one) => one.name) }),
        })),
      ).toEqual(products);
  });
});
