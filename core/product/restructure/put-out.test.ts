import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { placementFromAxes } from '#core/product/matrix';
import { readStructure } from '#core/product/structure';
import { anyInFileAssembly } from '#core/testing/any-in-file-assembly';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { Anchors } from './belonging';
import { putOut, putOutSeveral } from './put-out';

const TEXT = Buffer.from(
  inFileAssembly({
    id: 'TOP',
    parts: [
      { id: 'Plate', boxes: [{ name: 'plate', colour: '#ff0000' }] },
      { id: 'Pin', boxes: [{ name: 'pin', colour: '#00ff00' }] },
    ],
    assemblies: [
      {
        id: 'TOP',
        places: [
          ['Plate', placementFromAxes([0, 0, 0])],
          ['Pin', placementFromAxes([20, 0, 0])],
        ],
      },
    ],
  }),
).toString('latin1');
const numberOf = (pattern: RegExp) => Number(pattern.exec(TEXT)![1]);
const [PLATE, PIN] = ['plate', 'pin'].map((name) =>
  numberOf(new RegExp(`#(\\d+)=MANIFOLD_SOLID_BREP\\('${name}'`)),
);
const PRODUCTS = ['Plate', 'Pin', 'TOP'].map((name) => numberOf(new RegExp(`#(\\d+)=PRODUCT\\('${name}'`)));

/** The assembly with more instances, and its plate put out. */
function plateOf(more: string) {
  const file = Part21File.read(
    Buffer.from(TEXT.replace('ENDSEC;\nEND-ISO', `${more}\nENDSEC;\nEND-ISO`), 'latin1'),
  );
  const { products } = readStructure(file);
  const { assembly, component, lost } = putOut(new Anchors(file, products), {
    definition: products.find(({ name }) => name === 'Plate')!.definition,
    fileName: 'plate.stp',
    timeStamp: '2026-01-01T00:00:00',
    written: 'plate.stp',
  });
  const lines = (bytes: Uint8Array) => {
    const text = Buffer.from(bytes).toString('latin1');
    const written = Part21File.read(bytes);
    // Nothing refers to what is not there.
    for (const [, id] of text.replace(/'[^']*'/g, '').matchAll(/#(\d+)/g))
      expect(written.has(Number(id))).toBe(true);
    return text.split('\n');
  };
  return { assembly: lines(assembly), component: lines(component), lost: [...lost] };
}

describe('what refers to a component that is put out', () => {
  it('among others, in a list, is shared out', () => {
    const { assembly, component, lost } = plateOf(
      `#9001=PRESENTATION_LAYER_ASSIGNMENT('metal','',(#${PLATE},#${PIN}));
#9002=PRODUCT_RELATED_PRODUCT_CATEGORY('detail','',(${PRODUCTS.map((id) => `#${id}`).join(',')}));`,
    );
    expect(assembly).toContain(`#9001=PRESENTATION_LAYER_ASSIGNMENT('metal','',(#${PIN}));`);
    expect(component).toContain(`#9001=PRESENTATION_LAYER_ASSIGNMENT('metal','',(#${PLATE}));`);
    // The stand-in is a part of its category still.
    expect(assembly).toContain(
      `#9002=PRODUCT_RELATED_PRODUCT_CATEGORY('detail','',(${PRODUCTS.map((id) => `#${id}`).join(',')}));`,
    );
    expect(component).toContain(`#9002=PRODUCT_RELATED_PRODUCT_CATEGORY('detail','',(#${PRODUCTS[0]}));`);
    expect(lost).toEqual([]);
  });

  it('alone goes along, with what says more of it', () => {
    const { assembly, component, lost } = plateOf(
      `#9001=DOCUMENT_TYPE('sheet');
#9002=DOCUMENT_FILE('data sheet.pdf','',$,#9001,'',$);
#9003=APPLIED_DOCUMENT_REFERENCE(#9002,'',(#${numberOf(/#(\d+)=PRODUCT_DEFINITION\(/)}));
#9004=IDENTIFICATION_ROLE('where it is',$);
#9005=EXTERNAL_SOURCE(IDENTIFIER('archive'));
#9006=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('data sheet.pdf',#9004,#9005,(#9002));`,
    );
    for (const id of [9001, 9002, 9003, 9004, 9005, 9006]) {
      expect([id, assembly.some((line) => line.startsWith(`#${id}=`))]).toEqual([id, false]);
      expect([id, component.some((line) => line.startsWith(`#${id}=`))]).toEqual([id, true]);
    }
    expect(lost).toEqual([]);
  });

  it('and to another, as one thing, is in neither file, and named', () => {
    const { assembly, component, lost } = plateOf(
      `#9001=SHAPE_REPRESENTATION_WITH_PARAMETERS('gap',(#${PLATE}),$);
#9002=ANNOTATION_OF_TWO('distance',#${PLATE},#${PIN});
#9003=NOTE_ON('too narrow',#9002);`,
    );
    for (const id of [9002, 9003])
      expect([...assembly, ...component].some((line) => line.startsWith(`#${id}=`))).toBe(false);
    expect(lost.sort()).toEqual([
      ['ANNOTATION_OF_TWO', 1],
      ['NOTE_ON', 1],
    ]);
  });
});

describe('several components at once', () => {
  it('become the same files as one after the other, and so does the assembly', async () => {
    await fc.assert(
      fc.asyncProperty(anyInFileAssembly, async (bytes) => {
        const { products } = readStructure(Part21File.read(bytes));
        const placed = new Set(products.flatMap(({ occurrences }) => occurrences.map(({ child }) => child)));
        // Parts: none of them is in another.
        const named = products
          .filter(
            ({ definition, bodies, occurrences }) =>
              bodies.length > 0 && occurrences.length === 0 && placed.has(definition),
          )
          .map(({ definition }) => ({
            definition,
            fileName: `${definition}.stp`,
            timeStamp: '2026-01-01T00:00:00',
            written: `${definition}.stp`,
          }));
        if (named.length === 0) return;
        const read = (text: Uint8Array) => {
          const file = Part21File.read(text);
          return new Anchors(file, readStructure(file).products);
        };
        const together = putOutSeveral(read(bytes), named);
        let assembly = bytes;
        for (const one of named) {
          const put = putOut(read(assembly), one);
          expect(textOf(together.files.get(one.definition)!)).toBe(textOf(put.component));
          assembly = put.assembly;
        }
        // Their references are numbered in another order.
        expect(textOf(together.assembly).replace(/#\d+/g, '#').split('\n').sort()).toEqual(
          textOf(assembly).replace(/#\d+/g, '#').split('\n').sort(),
        );
      }),
      { numRuns: 60 },
    );
  });
});

const textOf = (bytes: Uint8Array) => Buffer.from(bytes).toString('latin1');
