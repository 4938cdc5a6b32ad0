import { describe, expect, it } from 'vitest';
import { planOperation } from '#core/operation';
import { planningOn } from '#core/planning';
import { IDENTITY } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { lookAt } from '#core/report';
import { writeBoxPart } from '#core/testing/box-part';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { kernel } from '#core/testing/kernel';
import { lookContext } from '#core/testing/look-context';
import { testContext } from '#core/testing/plan-context';
import { testAssembly } from '#core/testing/projects';
import { DISMISS } from './dismiss-operation';
import type { FindingKind } from './finding';
import { ADVICE } from './report';

const box = (id: string, size: [number, number, number] = [10, 20, 30], at?: [number, number, number]) =>
  writeBoxPart({ id, boxes: [{ size, ...(at && { corner: at }) }] });

async function adviceOf(files: MemoryFileSet, choices: object = {}) {
  const { measured } = await testContext(files, kernel);
  const context = { ...lookContext(files), measured };
  return lookAt(ADVICE, context, choices);
}

const found = async (
  entries: [string, Uint8Array][],
  kind: FindingKind,
  choices: object = { shapes: false },
) =>
  (await adviceOf(new MemoryFileSet(entries), choices)).data.findings
    .filter((finding) => finding.kind === kind)
    .map(({ files, words }) => [files, words] as const);

const placing = (...parts: string[]) =>
  testAssembly(
    'TOP',
    parts.map((written, n) => ({ written, id: `P${n}` })),
  );

describe('advice', () => {
  it('finds nothing where a project is put together well', async () => {
    const { data, summary, hasFindings } = await adviceOf(
      new MemoryFileSet([
        ['top.stp', placing('a.stp', 'b.stp')],
        ['a.stp', box('P0')],
        ['b.stp', box('P1', [1, 2, 3])],
      ]),
    );
    expect(data.findings).toEqual([]);
    expect(summary).toBe('Nothing was found.');
    expect(hasFindings).toBe(false);
  });

  it.each<[FindingKind, [string, Uint8Array][], string[], RegExp]>([
    [
      'loop',
      [
        ['a.stp', testAssembly('A', [{ written: 'b.stp', id: 'B' }])],
        ['b.stp', testAssembly('B', [{ written: 'a.stp', id: 'A' }])],
      ],
      ['a.stp', 'b.stp'],
      /^a.stp and b.stp place each other/,
    ],
    [
      'units',
      [
        ['top.stp', placing('a.stp')],
        ['a.stp', writeBoxPart({ id: 'P0', unit: 'in' })],
      ],
      ['top.stp', 'a.stp'],
      /^top.stp is in mm; it places a.stp in in/,
    ],
    [
      'on-top',
      [
        [
          'top.stp',
          inFileAssembly({
            id: 'TOP',
            parts: [{ id: 'PIN', boxes: [{ size: [1, 1, 1] }] }],
            assemblies: [
              {
                id: 'TOP',
                places: [
                  ['PIN', IDENTITY],
                  ['PIN', IDENTITY],
                ],
              },
            ],
          }),
        ],
      ],
      ['top.stp'],
      /places PIN 2 times at the same place/,
    ],
    [
      'one-id',
      [
        ['top.stp', placing('a.stp', 'sub/a2.stp')],
        ['a.stp', box('X-100')],
        ['sub/a2.stp', box('X-100', [5, 5, 5])],
      ],
      ['a.stp', 'sub/a2.stp'],
      /different parts, and each has the number X-100/,
    ],
    [
      'luck',
      [
        ['asm/top.stp', placing('elsewhere/a.stp')],
        ['parts/a.stp', box('P0')],
      ],
      ['asm/top.stp', 'parts/a.stp'],
      /names elsewhere\/a.stp; parts\/a.stp was found by its name only/,
    ],
    [
      'case',
      [
        ['top.stp', placing('Lid.stp')],
        ['Lid.stp', box('P0')],
        ['lid.stp', box('P1')],
      ],
      ['Lid.stp', 'lid.stp'],
      /differ in case only/,
    ],
    [
      'many-bodies',
      [
        ['top.stp', placing('many.stp')],
        ['many.stp', writeBoxPart({ id: 'P0', boxes: [1, 2, 3, 4, 5].map((n) => ({ size: [n, 1, 1] })) })],
      ],
      ['many.stp'],
      /is placed as one part and holds 5 bodies/,
    ],
    [
      'copied',
      ['a.stp', 'b.stp'].map((name): [string, Uint8Array] => [
        name,
        inFileAssembly({
          id: name,
          parts: [{ id: 'BUSH-7', boxes: [{ size: [1, 1, 1] }] }],
          assemblies: [{ id: name, places: [['BUSH-7', IDENTITY]] }],
        }),
      ]),
      ['a.stp', 'b.stp'],
      /each carry a part BUSH-7 of their own/,
    ],
    [
      'unused',
      [
        ['top.stp', placing('a.stp')],
        ['a.stp', box('P0')],
        ['old/left.stp', box('OLD')],
      ],
      ['old/left.stp'],
      /belongs to no root assembly/,
    ],
  ])('finds %s', async (kind, entries, files, words) => {
    const all = await found(entries, kind);
    expect(all).toHaveLength(1);
    expect(all[0]![0]).toEqual(files);
    expect(all[0]![1]).toMatch(words);
  });

  it('finds equal shapes in files of other names, far ones, and ones that state another size', async () => {
    const far = box('FAR', [10, 10, 10], [20_000, 0, 0]);
    const text = Buffer.from(box('STATED', [7, 8, 9])).toString('latin1');
    const definition = /#(\d+)=PRODUCT_DEFINITION\(/.exec(text)![1]!;
    const stated = text.replace(
      'ENDSEC;\nEND-ISO',
      `#9001=PROPERTY_DEFINITION('geometric validation property','',#${definition});
#9002=MEASURE_REPRESENTATION_ITEM('volume measure',VOLUME_MEASURE(600.),$);
#9003=REPRESENTATION('volume',(#9002),$);
#9004=PROPERTY_DEFINITION_REPRESENTATION(#9001,#9003);
ENDSEC;\nEND-ISO`,
    );
    const files = new MemoryFileSet([
      ['top.stp', placing('a.stp', 'b.stp', 'far.stp', 'stated.stp')],
      ['a.stp', box('A-1')],
      ['b.stp', box('B-2', [30, 20, 10], [100, 0, 0])],
      ['far.stp', far],
      ['stated.stp', Buffer.from(stated, 'latin1')],
    ]);
    const { data } = await adviceOf(files);
    const of = (kind: FindingKind) => data.findings.filter((finding) => finding.kind === kind);
    expect(of('same-shape')).toMatchObject([{ files: ['a.stp', 'b.stp'] }]);
    expect(of('same-shape')[0]!.words).toMatch(/hold the same shape, turned by .*under the numbers A-1, B-2/);
    expect(of('far-away')).toMatchObject([{ files: ['far.stp'] }]);
    expect(of('unlike-stated')).toMatchObject([{ files: ['stated.stp'] }]);
    expect(of('unlike-stated')[0]!.words).toMatch(/states a volume of 600 mm³ and has 504 mm³/);
  });

  it('lets a finding stay until its file changes, whatever the file is called by then', async () => {
    const files = new MemoryFileSet([
      ['top.stp', placing('a.stp')],
      ['a.stp', box('P0')],
      ['left.stp', box('OLD')],
    ]);
    const apply = async (choices: object) => {
      const planned = await planOperation(DISMISS, planningOn(await scanFileSet(files), files), choices);
      await files.apply(planned.change);
    };
    const one = { kind: 'unused', files: ['left.stp'], about: '' };
    await expect(apply({ findings: [one], reason: ' ' })).rejects.toThrow('Say why');
    await apply({ findings: [one], reason: 'kept for the next unit' });
    const quiet = await adviceOf(files, { shapes: false });
    expect(quiet.data).toMatchObject({ findings: [], left: 1 });
    const draft = planningOn(await scanFileSet(files), files).draft;
    await draft.move('left.stp', 'kept/left over.stp');
    await files.apply(await draft.finish('moved'));
    const shown = await adviceOf(files, { shapes: false, dismissed: true });
    expect(shown.data.findings).toMatchObject([
      { files: ['kept/left over.stp'], dismissed: 'kept for the next unit' },
    ]);
    expect(shown.hasFindings).toBe(false);
    const changed = planningOn(await scanFileSet(files), files).draft;
    changed.write('kept/left over.stp', box('OLD', [4, 4, 4]));
    await files.apply(await changed.finish('changed'));
    expect((await adviceOf(files, { shapes: false })).data.findings).toMatchObject([
      { kind: 'unused', dismissed: null },
    ]);
  });

  it('is about one file and what it places, where that is asked for, and puts thousands together', async () => {
    const entries: [string, Uint8Array][] = [
      ['top.stp', placing('a.stp')],
      ['a.stp', box('P0')],
      ...Array.from({ length: 3000 }, (_, n): [string, Uint8Array] => [`old/${n}.txt`, Buffer.from('x')]),
    ];
    const files = new MemoryFileSet(entries);
    const all = await adviceOf(files, { shapes: false });
    expect(all.data.findings).toHaveLength(3000);
    expect(all.words.length).toBeLessThan(30);
    expect(all.words.join('\n')).toContain('and 2980 more');
    expect((await adviceOf(files, { shapes: false, file: 'top.stp' })).data.findings).toEqual([]);
  });
});
