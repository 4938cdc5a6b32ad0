import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
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
    const [root] = rootProducts(products);
    expect(root!.id).toBe('A');
    expect(root!.occurrences.map(({ name }) => name)).toEqual(['left', 'right']);
    for (const [n, expected] of [TILTED, invertRigid(TILTED)].entries()) {
      root!.occurrences[n]!.placement.forEach((value, at) => expect(value).toBeCloseTo(expected[at]!, 9));
    }
  });

  it('takes the colour of a body from its style, its shell or most of its faces, and keeps what single faces have', () => {
    const plain = Buffer.from(
      writeBoxPart({ id: 'P', boxes: ['a', 'b', 'c', 'd'].map((name) => ({ name })) }),
    ).toString('latin1');
    const solids = [...plain.matchAll(/#(\d+)=MANIFOLD_SOLID_BREP\('\w',(#\d+)\)/g)];
    const faces = [...plain.matchAll(/CLOSED_SHELL\('',\(([^)]+)\)/g)].map(([, list]) => list!.split(','));
    let next = 9000;
    const style = (item: string, colour: string) => {
      const n = next;
      next += 10;
      return `#${n}=${colour};#${n + 1}=FILL_AREA_STYLE_COLOUR('',#${n});#${n + 2}=FILL_AREA_STYLE('',(#${n + 1}));#${n + 3}=SURFACE_STYLE_FILL_AREA(#${n + 2});#${n + 4}=SURFACE_SIDE_STYLE('',(#${n + 3}));#${n + 5}=SURFACE_STYLE_USAGE(.BOTH.,#${n + 4});#${n + 6}=PRESENTATION_STYLE_ASSIGNMENT((#${n + 5}));#${n + 7}=STYLED_ITEM('',(#${n + 6}),${item});`;
    };
    const [red, green] = ["DRAUGHTING_PRE_DEFINED_COLOUR('red')", "COLOUR_RGB('',0.,1.,0.)"];
    const styles = [
      style(`#${solids[0]![1]}`, "COLOUR_RGB('',0.2,0.4,1.)"),
      style(faces[0]![4]!, red),
      style(solids[1]![2]!, red),
      ...faces[2]!.slice(0, 4).map((face) => style(face, green)),
      style(faces[3]![5]!, green),
    ];
    const styled = plain.replace('ENDSEC;\nEND-ISO', `${styles.join('')}ENDSEC;\nEND-ISO`);
    expect(
      structureOf(Buffer.from(styled)).products[0]!.bodies.map(({ name, colour, faceColours }) => [
        name,
        colour,
        faceColours,
      ]),
    ).toEqual([
      ['a', '#3366ff', { of: 6, others: [{ colour: '#ff0000', faces: [4] }] }],
      ['b', '#ff0000', undefined],
      ['c', '#00ff00', { of: 6, others: [{ colour: null, faces: [4, 5] }] }],
      ['d', null, { of: 6, others: [{ colour: '#00ff00', faces: [5] }] }],
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
