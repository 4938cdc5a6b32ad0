import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/part21/file';
import { writeBoxPart } from '#core/testing/box-part';
import { invertRigid, isIdentity, type Matrix4, multiply, placementFromAxes } from './matrix';
import { readStructure, rootProducts } from './structure';
import { writeAssembly } from './write-assembly';
import type { PlacementForm } from './write-components';

const structureOf = (bytes: Uint8Array) => readStructure(Part21File.read(bytes));
const TILTED: Matrix4 = placementFromAxes([120, -30, 5.5], [1, 1, 0], [0, 0, 1]);

describe('structure of one file', () => {
  it('finds the bodies of a part with number, name and unit', () => {
    const bytes = writeBoxPart({
      id: 'P-1',
      name: 'Plate',
      boxes: [{ name: 'web' }, { name: 'rib', corner: [20, 0, 0] }],
      unit: 'in',
    });
    const { unit, products } = structureOf(bytes);
    expect(unit).toBe('in');
    expect(products).toHaveLength(1);
    expect(products[0]).toMatchObject({ id: 'P-1', name: 'Plate' });
    expect(products[0]!.bodies.map(({ name, kind }) => [name, kind])).toEqual([
      ['web', 'solid'],
      ['rib', 'solid'],
    ]);
    for (const { id } of products[0]!.bodies)
      expect(Part21File.read(bytes).typeOf(id)).toBe('MANIFOLD_SOLID_BREP');
  });

  it.each<[PlacementForm, 'mm' | 'm' | 'in']>([
    ['pair', 'mm'],
    ['swapped pair', 'mm'],
    ['mapped item', 'mm'],
    ['pair', 'in'],
    ['swapped pair', 'm'],
    ['mapped item', 'in'],
  ])('reads placements written as %s in %s as millimetres', (placementForm, unit) => {
    const bytes = writeAssembly({
      id: 'A',
      name: 'Assembly',
      fileName: 'a.stp',
      timeStamp: '',
      unit,
      placementForm,
      components: [
        {
          id: 'C',
          name: 'Component',
          written: 'c.stp',
          placings: [
            { name: 'left', placement: TILTED },
            { name: 'right', placement: invertRigid(TILTED) },
          ],
        },
      ],
    });
    const { products } = structureOf(bytes);
    const [root] = rootProducts({ unit: null, products });
    expect(root!.id).toBe('A');
    expect(root!.occurrences.map(({ name }) => name)).toEqual(['left', 'right']);
    for (const [n, expected] of [TILTED, invertRigid(TILTED)].entries()) {
      root!.occurrences[n]!.placement.forEach((value, at) => expect(value).toBeCloseTo(expected[at]!, 9));
    }
  });

  it('takes the colour of a body from its style, its shell or most of its faces', () => {
    const plain = Buffer.from(
      writeBoxPart({ id: 'P', boxes: [{ name: 'a' }, { name: 'b' }, { name: 'c' }] }),
    ).toString('latin1');
    const solids = [...plain.matchAll(/#(\d+)=MANIFOLD_SOLID_BREP\('\w',#(\d+)\)/g)];
    const faces = [...plain.matchAll(/CLOSED_SHELL\('',\((#\d+),(#\d+)/g)].at(-1)!;
    const style = (n: number, item: string, colour: string) =>
      `#${n}=${colour};#${n + 1}=FILL_AREA_STYLE_COLOUR('',#${n});#${n + 2}=FILL_AREA_STYLE('',(#${n + 1}));#${n + 3}=SURFACE_STYLE_FILL_AREA(#${n + 2});#${n + 4}=SURFACE_SIDE_STYLE('',(#${n + 3}));#${n + 5}=SURFACE_STYLE_USAGE(.BOTH.,#${n + 4});#${n + 6}=PRESENTATION_STYLE_ASSIGNMENT((#${n + 5}));#${n + 7}=STYLED_ITEM('',(#${n + 6}),${item});`;
    const styled = plain.replace(
      'ENDSEC;\nEND-ISO',
      `${style(9000, `#${solids[0]![1]}`, "COLOUR_RGB('',0.2,0.4,1.)")}${style(9100, `#${solids[1]![2]}`, "DRAUGHTING_PRE_DEFINED_COLOUR('red')")}${style(9200, faces[1]!, "COLOUR_RGB('',0.,1.,0.)")}ENDSEC;\nEND-ISO`,
    );
    expect(structureOf(Buffer.from(styled)).products[0]!.bodies.map(({ colour }) => colour)).toEqual([
      '#3366ff',
      '#ff0000',
      '#00ff00',
    ]);
  });
});

describe('matrices', () => {
  it('inverts rigid placements', () => {
    expect(isIdentity(multiply(TILTED, invertRigid(TILTED)), 1e-9)).toBe(true);
  });

  it('falls back as ISO 10303-42 says when directions are missing or parallel', () => {
    expect(placementFromAxes([0, 0, 0])).toEqual([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);
    const parallel = placementFromAxes([0, 0, 0], [1, 0, 0], [1, 0, 0]);
    expect(parallel.every(Number.isFinite)).toBe(true);
    expect([parallel[2], parallel[6], parallel[10]]).toEqual([1, 0, 0]);
  });
});
