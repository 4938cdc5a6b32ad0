import { readFileSync } from 'node:fs';
import path from 'node:path';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';

/** A part file of many megabytes: the bodies of the demo housing again and again, numbered on. */
export function largePart(copies: number): Buffer {
  const text = readFileSync(
    path.join(import.meta.dirname, '../demo/files/hx-12/azimuth-drive/az-housing.stp'),
    'latin1',
  );
  const [head, rest] = text.split('DATA;\n') as [string, string];
  const [data] = rest.split('ENDSEC;') as [string];
  const highest = Math.max(...[...data.matchAll(/^#(\d+)/gm)].map(([, id]) => Number(id)));
  const parts = [`${head}DATA;\n`];
  for (let copy = 0; copy < copies; copy++)
    parts.push(data.replace(/#(\d+)/g, (_, id) => `#${Number(id) + copy * highest}`));
  parts.push('ENDSEC;\nEND-ISO-10303-21;\n');
  return Buffer.from(parts.join(''), 'latin1');
}

/**
 * A project of many files in folders: one in five is an assembly with twenty links, the others are parts. One part in
 * ten is large, as in the demo, whose files have 14 kB in the middle and 90 kB on average; here it is 12 and 45.
 * 10,000 files hold 40,000 links.
 */
export function* manyFiles(count: number): Generator<[string, Uint8Array]> {
  const assemblies = count / 5;
  for (let n = 0; n < count; n++) {
    const folder = `folder-${String(n % 100).padStart(2, '0')}`;
    if (n < assemblies) {
      const components = Array.from({ length: 20 }, (_, k) => {
        const part = assemblies + ((n * 20 + k * 7) % (count - assemblies));
        return { written: `../folder-${String(part % 100).padStart(2, '0')}/p${part}.stp`, id: `P${part}` };
      });
      yield [`${folder}/a${n}.stp`, testAssembly(`A${n}`, components)];
    } else {
      const boxes = Array.from({ length: n % 10 === 0 ? 60 : 2 }, (_, k) => ({
        corner: [k * 20, 0, 0] as const,
      }));
      yield [`${folder}/p${n}.stp`, writeBoxPart({ id: `P${n}`, boxes })];
    }
  }
}
