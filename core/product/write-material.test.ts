import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { writeBoxPart } from '#core/testing/box-part';
import { readStructure } from './structure';
import { withMaterial } from './write-material';

const productsIn = (bytes: Uint8Array) => readStructure(Part21File.read(bytes, { check: true })).products;
const part = Buffer.from(writeBoxPart({ id: 'P' }));
const { definition } = productsIn(part)[0]!;

describe('writing a material', () => {
  it('is read as it was written, and taken out again to the byte', () => {
    const steel = withMaterial(part, [definition], { name: 'Größerer Stahl', density: 7850 });
    expect(productsIn(steel)[0]).toMatchObject({ material: 'Größerer Stahl', density: 7850 });
    expect(Buffer.from(withMaterial(steel, [definition], null)).equals(part)).toBe(true);
    const bare = withMaterial(steel, [definition], { name: 'Cork', density: null });
    expect(productsIn(bare)[0]!.material).toBe('Cork');
    expect(productsIn(bare)[0]!.density).toBeUndefined();
  });

  it('takes the place of one before, whatever came between, in any order', () => {
    const material = fc.option(
      fc.record({
        name: fc.string({ minLength: 1, unit: 'grapheme' }).filter((name) => name.trim() !== ''),
        density: fc.option(fc.double({ min: 1, max: 30_000, noNaN: true })),
      }),
    );
    fc.assert(
      fc.property(fc.array(material, { minLength: 1, maxLength: 5 }), (materials) => {
        let bytes: Uint8Array = part;
        for (const one of materials) bytes = withMaterial(bytes, [definition], one);
        const last = materials.at(-1)!;
        const [product] = productsIn(bytes);
        expect(product!.material).toBe(last?.name);
        if (last?.density === null || !last) expect(product!.density).toBeUndefined();
        else expect(product!.density).toBeCloseTo(last.density, 6);
        expect(Buffer.from(withMaterial(bytes, [definition], null)).equals(part)).toBe(true);
      }),
      { numRuns: 60 },
    );
  });
});
