import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { reportOf } from '#core/jobs/scan/scan-report';
import { splitChoices } from '#core/jobs/split/choices';
import { openSource, outlineSplit, planSplit } from '#core/jobs/split/plan';
import { planningOn } from '#core/planning';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { type BoxToWrite, writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import { measureBodies } from './measure';

/** A part of boxes whose text is changed before it is split. */
async function splitText(
  boxes: BoxToWrite[],
  change: (text: string) => string,
  given: Parameters<typeof splitChoices>[0] = {},
  measure = true,
) {
  const text = change(Buffer.from(writeBoxPart({ id: 'P', boxes })).toString('latin1'));
  const files = new MemoryFileSet([['p.stp', Buffer.from(text, 'latin1')]]);
  const source = await openSource(files, 'p.stp');
  const project = await scanFileSet(files);
  const choices = splitChoices(given);
  const measured = measure ? await measureBodies(kernel, source) : new Map();
  const outline = outlineSplit(project, source, choices, measured);
  const changes = await planSplit(planningOn(project, files), { outline, choices });
  await files.apply(changes);
  return { files, outline, measured, changes, after: await scanFileSet(files) };
}

const solids = (text: string) => [...text.matchAll(/#(\d+)=MANIFOLD_SOLID_BREP\('(.*?)',#(\d+)\);/g)];

describe('bodies that are not plain solids', () => {
  it('keep their voids', async () => {
    const hollow = (text: string) => {
      const [outer, inner] = solids(text) as [RegExpMatchArray, RegExpMatchArray];
      return text
        .replace(
          outer[0],
          `#${outer[1]}=BREP_WITH_VOIDS('${outer[2]}',#${outer[3]},(#9001));\n#9001=ORIENTED_CLOSED_SHELL('',*,#${inner[3]},.F.);`,
        )
        .replace(`${inner[0]}\n`, '')
        .replace(`#${inner[1]},`, '');
    };
    const { after, measured } = await splitText(
      [
        { name: 'hollow', size: [30, 30, 30] },
        { name: 'void', corner: [10, 10, 10] },
        { name: 'other', corner: [50, 0, 0] },
      ],
      hollow,
    );
    expect([...measured.values()].map(({ facts }) => Math.round(facts!.volume))).toEqual([26_000, 1000]);
    const { scan } = after.files.get('p/hollow.stp')!;
    expect(scan).toMatchObject({ error: null, products: [{ bodies: [{ kind: 'solid', name: 'hollow' }] }] });
  });

  it('may share a face: each file has it', async () => {
    const share = (text: string) => {
      const shells = [...text.matchAll(/=CLOSED_SHELL\('',\((#\d+),/g)].map(([, face]) => face!);
      return text.replace(`=CLOSED_SHELL('',(${shells[1]},`, `=CLOSED_SHELL('',(${shells[0]},`);
    };
    const { files } = await splitText(
      [{ name: 'a' }, { name: 'b', corner: [0, 0, 10] }],
      share,
      { merge: false },
      false,
    );
    for (const name of ['a', 'b'])
      expect(Part21File.read(await files.read(`p/${name}.stp`)).idsOfType('ADVANCED_FACE')).toHaveLength(6);
  });

  it('are left out when they are open surfaces, unless wanted', async () => {
    const open = (text: string) => {
      const last = solids(text).at(-1)!;
      const shell = new RegExp(`#${last[3]}=CLOSED_SHELL\\('',\\(#\\d+,`);
      return text
        .replace(last[0], `#${last[1]}=SHELL_BASED_SURFACE_MODEL('${last[2]}',(#${last[3]}));`)
        .replace(shell, `#${last[3]}=OPEN_SHELL('',(`);
    };
    const boxes = [
      { name: 'a' },
      { name: 'b', corner: [30, 0, 0] as const },
      { name: 'skin', corner: [60, 0, 0] as const },
    ];
    const without = await splitText(boxes, open);
    expect(
      without.outline.components.flatMap(({ group }) => group.members.map(({ body }) => body.name)),
    ).toEqual(['a', 'b']);
    const all = await splitText(boxes, open, { surfaces: true });
    expect(all.outline.components.map(({ group }) => group.members.length)).toEqual([2, 1]);
    expect(all.after.files.get('p/skin.stp')!.scan.products[0]!.bodies).toMatchObject([{ kind: 'surface' }]);
  });

  it('may be a thousand', async () => {
    const boxes = Array.from({ length: 1000 }, (_, n) => ({ corner: [n * 20, 0, 0] as const }));
    const { after, changes } = await splitText(boxes, (text) => text, { merge: false }, false);
    expect(changes.changes).toHaveLength(1001);
    const { totals } = reportOf(after);
    expect(totals).toMatchObject({
      files: 1002,
      occurrences: 1000,
      distinctParts: 1000,
      missing: 0,
      behind: 0,
    });
    expect(after.files.has('p/p-0001.stp') && after.files.has('p/p-1000.stp')).toBe(true);
  });
});
