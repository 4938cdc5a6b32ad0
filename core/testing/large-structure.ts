import { placementFromAxes } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import type { ComponentToWrite } from '#core/product/write-components';

export const LARGE = { parts: 300, occurrences: 5000 };
const GROUPS = 10;
const PITCH = 300;

/**
 * An assembly of ten groups with 300 parts, placed 5,000 times side by side.
 * @param part text of a STEP file, in which `id` stands for the part's own
 * @param parts how many, where it shall be fewer
 */
export function* largeStructure(
  part: string,
  id: string,
  parts = LARGE.parts,
): Generator<[path: string, content: Uint8Array]> {
  const assembly = (name: string, components: ComponentToWrite[]) =>
    writeAssembly({ id: name, name, fileName: `${name}.stp`, timeStamp: '2026-01-01T00:00:00', components });
  for (let n = 0; n < parts; n++) yield [`p${n}.stp`, Buffer.from(part.replaceAll(id, `P${n}`), 'latin1')];
  const perGroup = parts / GROUPS;
  const more = LARGE.occurrences % parts;
  const times = Math.floor(LARGE.occurrences / parts);
  for (let group = 0; group < GROUPS; group++)
    yield [
      `g${group}.stp`,
      assembly(
        `G${group}`,
        Array.from({ length: perGroup }, (_, k) => {
          const n = group * perGroup + k;
          return {
            id: `P${n}`,
            name: `P${n}`,
            written: `p${n}.stp`,
            placings: Array.from({ length: n < more ? times + 1 : times }, (_, at) => ({
              name: `P${n} ${at + 1}`,
              placement: placementFromAxes([at * PITCH, 0, k * PITCH]),
            })),
          };
        }),
      ),
    ];
  yield [
    'top.stp',
    assembly(
      'TOP',
      Array.from({ length: GROUPS }, (_, group) => ({
        id: `G${group}`,
        name: `G${group}`,
        written: `g${group}.stp`,
        placings: [{ name: `G${group}`, placement: placementFromAxes([0, group * PITCH, 0]) }],
      })),
    ),
  ];
}
