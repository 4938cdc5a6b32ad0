import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { planOperation } from '#core/operation';
import { type Matrix4, placementFromAxes, transformPoint } from '#core/product/matrix';
import type { PlacementForm } from '#core/product/write-components';
import type { ChangeSet } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanContent } from '#core/project/scan/content';
import { startingPoints } from '#core/project/scan/project';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';
import { anyInFileAssembly } from '#core/testing/any-in-file-assembly';
import { AWKWARD_FILES } from '#core/testing/awkward-files';
import { writeBoxPart } from '#core/testing/box-part';
import { inFileAssembly } from '#core/testing/in-file-assembly';
import { kernel } from '#core/testing/kernel';
import { bodiesIn } from '#core/testing/placed-bodies';
import { testContext } from '#core/testing/plan-context';
import { inFileComponents } from './components';
import { PUT_OUT } from './operation';

const at = (x: number, y = 0, z = 0): Matrix4 => placementFromAxes([x, y, z]);
const turned = placementFromAxes([30, 5, 0], [0, 1, 0]);

/** A plate, two bolts of a pin and a nut, a nut by itself, and a washer in a file of its own. */
const assembly = (placementForm?: PlacementForm) =>
  inFileAssembly({
    id: 'TOP',
    placementForm,
    parts: [
      { id: 'Plate', boxes: [{ size: [50, 50, 5], colour: '#ff0000', name: 'plate' }], material: 'Steel' },
      {
        id: 'Pin',
        boxes: [
          { size: [5, 5, 40], colour: '#00ff00', name: 'shank' },
          { size: [8, 8, 3], corner: [0, 0, 40] },
        ],
        material: 'Brass',
      },
      { id: 'Nut', boxes: [{ size: [9, 9, 4], name: 'nut' }], material: 'Steel' },
    ],
    assemblies: [
      {
        id: 'Bolt',
        places: [
          ['Pin', at(0)],
          ['Nut', at(0, 0, 20)],
          ['Washer', at(0, 0, 25)],
        ],
      },
      {
        id: 'TOP',
        places: [
          ['Plate', at(0)],
          ['Bolt', at(10)],
          ['Bolt', turned],
          ['Nut', at(0, 90, 0)],
        ],
      },
    ],
    external: { Washer: '../std/washer.stp' },
  });
const ASSEMBLY = assembly();
const FILES: [string, Uint8Array][] = [
  ['unit/top.stp', ASSEMBLY],
  ['std/washer.stp', writeBoxPart({ id: 'Washer', boxes: [{ size: [9, 9, 1], name: 'washer' }] })],
];

async function put(choices: object, entries = FILES) {
  const files = new MemoryFileSet(entries);
  const context = await testContext(files, kernel);
  const planned = await planOperation(PUT_OUT, context, { file: 'unit/top.stp', ...choices });
  const undo = await files.apply(planned.change);
  return { files, planned, undo, project: await scanFileSet(files) };
}

describe('putting components out', () => {
  it.each([
    [{ all: true }, 4],
    [{ components: ['Plate'] }, 1],
    [{ components: ['Bolt'] }, 1],
    [{ components: ['Pin', 'Bolt'], to: 'parts/of it' }, 2],
    [{ all: true, to: 'parts' }, 4],
  ])('leaves every body where it is, with its name, colour and material: %j', async (choices, count) => {
    const before = bodiesIn(await scanFileSet(new MemoryFileSet(FILES)));
    expect(before).toHaveLength(10);
    const { project, planned, files, undo } = await put(choices);
    expect(bodiesIn(project)).toEqual(before);
    expect(planned.preview.components).toHaveLength(count);
    // What is told of links is what is there.
    const told = planned.change.rewires.map(({ holder, rewritten, to }) => `${holder} ${rewritten} ${to}`);
    const there = project.links.map(({ holder, written, to }) => `${holder} ${written} ${to}`);
    expect(told.length).toBeGreaterThan(0);
    for (const line of told) expect(there).toContain(line);
    expect(project.links.every(({ state }) => state === 'sound')).toBe(true);
    for (const { path, scan } of project.files.values()) {
      expect([path, scan.error, scan.damage]).toEqual([path, null, null]);
      const file = Part21File.read(await files.read(path));
      for (const id of file.index.ids) expect(file.instance(id)).toBeDefined();
    }
    await files.apply(undo);
    expect(await files.read('unit/top.stp')).toEqual(Buffer.from(ASSEMBLY));
    expect(await files.list()).toHaveLength(FILES.length);
  });

  it.each<PlacementForm>(['pair', 'swapped pair', 'mapped item'])(
    'is the same where components are placed by %s',
    async (form) => {
      const entries: [string, Uint8Array][] = [['unit/top.stp', assembly(form)], FILES[1]!];
      const before = bodiesIn(await scanFileSet(new MemoryFileSet(entries)));
      expect(before).toHaveLength(10);
      for (const choices of [{ all: true, to: 'parts' }, { components: ['Bolt'] }, { components: ['Nut'] }])
        expect(bodiesIn((await put(choices, entries)).project)).toEqual(before);
    },
  );

  it.each<PlacementForm>(['pair', 'swapped pair', 'mapped item'])(
    'is the same where two levels share what they place by: %s',
    async (placementForm) => {
      const bytes = inFileAssembly({
        id: 'TOP',
        placementForm,
        parts: [{ id: 'Pin', boxes: [{}] }],
        assemblies: [
          { id: 'Bolt', places: [['Pin', turned]] },
          { id: 'TOP', places: [['Bolt', turned]] },
        ],
      });
      const entries: [string, Uint8Array][] = [['unit/top.stp', bytes]];
      const before = bodiesIn(await scanFileSet(new MemoryFileSet(entries)));
      for (const components of [['Bolt'], ['Pin']])
        expect(bodiesIn((await put({ components }, entries)).project)).toEqual(before);
    },
  );

  it('takes all of it out of the assembly, and copies what another needs too', async () => {
    const { project, planned, files } = await put({ components: ['Bolt'] });
    const top = project.files.get('unit/top.stp')!.scan;
    expect(top.products.map(({ name, bodies }) => [name, bodies.length])).toEqual([
      ['Plate', 1],
      ['Nut', 1],
      ['Bolt', 0],
      ['TOP', 0],
    ]);
    const text = Buffer.from(await files.read('unit/top.stp')).toString('latin1');
    expect(text).not.toContain('washer.stp');
    expect(text).not.toContain('Brass');
    const bolt = project.files.get('unit/Bolt.stp')!.scan;
    expect(bolt.products.map(({ name }) => name).sort()).toEqual(['Bolt', 'Nut', 'Pin', 'Washer']);
    expect(planned.change.warnings).toEqual([
      'Something else in top.stp places Nut, too: it is in both files now. Put it out as well, to have it once.',
    ]);
  });

  it('puts all out without copies: what is placed goes before what places it', async () => {
    const { project, planned } = await put({ all: true });
    expect(planned.change.warnings).toEqual([]);
    expect([...project.files.keys()].sort()).toEqual([
      'std/washer.stp',
      'unit/Bolt.stp',
      'unit/Nut.stp',
      'unit/Pin.stp',
      'unit/Plate.stp',
      'unit/top.stp',
    ]);
    const usesOf = (path: string) => (project.uses.get(path) ?? []).map(({ to }) => to).sort();
    expect(usesOf('unit/Bolt.stp')).toEqual(['std/washer.stp', 'unit/Nut.stp', 'unit/Pin.stp']);
    expect(usesOf('unit/top.stp')).toEqual(['unit/Bolt.stp', 'unit/Nut.stp', 'unit/Plate.stp']);
  });

  it('changes no byte of what stays but the stand-in, and adds the reference', async () => {
    const { files } = await put({ components: ['Plate'] });
    const lines = (bytes: Uint8Array) => Buffer.from(bytes).toString('latin1').split('\n');
    const before = new Set(lines(ASSEMBLY));
    const after = lines(await files.read('unit/top.stp'));
    const changed = after.filter((line) => !before.has(line)).map((line) => line.replace(/#\d+/g, '#'));
    expect(changed).toEqual([
      "#=SHAPE_REPRESENTATION('Plate',(#),#);",
      "#=DOCUMENT_TYPE('configuration controlled document version');",
      "#=DOCUMENT_FILE('Plate.stp','',$,#,'',$);",
      "#=IDENTIFICATION_ROLE('external document id and location',$);",
      "#=EXTERNAL_SOURCE(IDENTIFIER(''));",
      "#=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('Plate.stp',#,#,(#));",
      "#=APPLIED_DOCUMENT_REFERENCE(#,'',(#));",
    ]);
  });

  it('takes a name that is free, and one that was typed', async () => {
    const taken: [string, Uint8Array][] = [...FILES, ['unit/PLATE.stp', writeBoxPart({ id: 'X' })]];
    const { planned } = await put({ components: ['Plate'] }, taken);
    expect(planned.preview.components.map(({ file }) => file)).toEqual(['unit/Plate-2.stp']);
    const plate = planned.preview.components[0]!.definition;
    const typed = await put({ components: [String(plate)], names: { [plate]: 'Base: plate' }, to: 'p' });
    expect(typed.planned.preview.components.map(({ file }) => file)).toEqual(['p/Base--plate.stp']);
  });

  it.each([
    [{ components: ['Washer'] }, 'Washer is a file of its own already.'],
    [{ components: ['TOP'] }, 'TOP is what unit/top.stp is about: nothing in it places it.'],
    [{ components: ['Cover'] }, 'unit/top.stp has no component Cover.'],
    [{}, 'Choose the components that become files.'],
    [{ file: 'gone.stp', all: true }, 'There is no file gone.stp.'],
    [
      { file: 'std/washer.stp', all: true },
      'std/washer.stp holds no components: all of them are files already.',
    ],
    [{ all: true, to: '../out' }, /^The folder cannot be used/],
  ])('refuses %j', async (choices, words) => {
    await expect(put(choices)).rejects.toThrow(words);
  });

  it('says where a schema knows no references to files', async () => {
    const older = Buffer.from(
      Buffer.from(ASSEMBLY)
        .toString('latin1')
        .replace(/AP242_[A-Z0-9_]+/, 'CONFIG_CONTROL_DESIGN'),
      'latin1',
    );
    const { planned, project } = await put({ all: true }, [['unit/top.stp', older], FILES[1]!]);
    expect(planned.change.warnings).toEqual([expect.stringContaining('first edition of AP203')]);
    expect(project.files.get('unit/Bolt.stp')!.scan.schema).toContain('CONFIG_CONTROL_DESIGN');
  });

  it('asks which is meant where two have one name', async () => {
    const twins = inFileAssembly({
      id: 'TOP',
      parts: [
        { id: 'A', boxes: [{}] },
        { id: 'B', boxes: [{}] },
      ],
      assemblies: [
        {
          id: 'TOP',
          places: [
            ['A', at(0)],
            ['B', at(20)],
          ],
        },
      ],
    });
    const named = Buffer.from(
      Buffer.from(twins).toString('latin1').replace("PRODUCT('B','B'", "PRODUCT('B','A'"),
      'latin1',
    );
    await expect(put({ components: ['A'] }, [['unit/top.stp', named]])).rejects.toThrow(
      /^2 components of unit\/top.stp are called A: name them by their numbers, \d+, \d+\.$/,
    );
  });
});

describe('of any assembly, putting components out', () => {
  it('leaves all bodies as they are, one after the other, and everything back again', async () => {
    await fc.assert(
      fc.asyncProperty(anyInFileAssembly, fc.infiniteStream(fc.nat(50)), async (bytes, choose) => {
        const files = new MemoryFileSet([['unit/top.stp', bytes]]);
        let project = await scanFileSet(files);
        const roots = startingPoints(project);
        const before = bodiesIn(project);
        const undos: ChangeSet[] = [];
        for (let step = 0; step < 3; step++) {
          const there = inFileComponents(project.files.get('unit/top.stp')!.scan);
          if (there.length === 0) break;
          const { definition } = there[choose.next().value! % there.length]!;
          const planned = await planOperation(PUT_OUT, await testContext(files, kernel), {
            file: 'unit/top.stp',
            components: [String(definition)],
            to: step === 1 ? 'other' : null,
          });
          undos.push(await files.apply(planned.change));
          project = await scanFileSet(files);
          expect(bodiesIn(project)).toEqual(before);
          expect(startingPoints(project)).toEqual(roots);
          for (const { scan } of project.files.values())
            expect([scan.error, scan.damage]).toEqual([null, null]);
        }
        for (const undo of undos.reverse()) await files.apply(undo);
        expect(await files.read('unit/top.stp')).toEqual(Buffer.from(bytes));
      }),
      { numRuns: 40 },
    );
  });

  const assemblies = AWKWARD_FILES.filter(({ bytes }) => {
    const scan = scanContent('x.stp', bytes);
    return scan.error === null && scan.damage === null && inFileComponents(scan).length > 0;
  });

  it.each(assemblies.map(({ what, bytes }) => [what, bytes] as const))(
    'leaves all bodies as they are, or says why not: %s',
    async (_, bytes) => {
      const before = await scanFileSet(new MemoryFileSet([['unit/top.stp', bytes]]));
      try {
        const { project } = await put({ all: true }, [['unit/top.stp', bytes]]);
        expect(bodiesIn(project)).toEqual(bodiesIn(before));
      } catch (error) {
        expect(error).toBeInstanceOf(Refusal);
      }
    },
  );
});

describe('other files that carry the same part', () => {
  const pin = (corner: readonly [number, number, number], size = [5, 5, 40] as const) => ({
    id: 'PIN-7',
    boxes: [{ corner, size, name: 'shank' }],
  });
  const holding = (id: string, part: ReturnType<typeof pin>, external?: { [id: string]: string }) =>
    inFileAssembly({
      id,
      parts: [part],
      assemblies: [
        {
          id,
          places: [
            ['PIN-7', at(1, 2, 3)],
            ['PIN-7', turned],
            ...Object.keys(external ?? {}).map((one) => [one, at(0)] as const),
          ],
        },
      ],
      ...(external && { external }),
    });
  const entries: [string, Uint8Array][] = [
    ['unit/top.stp', holding('TOP', pin([0, 0, 0]), { RAIL: '../other/rail.stp' })],
    // The same lies elsewhere in its own coordinates; another one has the number only.
    ['other/rail.stp', holding('RAIL', pin([100, 0, 0]))],
    ['other/frame.stp', holding('FRAME', pin([0, 0, 0], [5, 5, 41] as never))],
  ];

  it('place the new file wherever theirs stood, where it is the same shape; undone, every byte is back', async () => {
    const { files, planned, project, undo } = await put({ all: true, others: true }, entries);
    expect(planned.preview.components).toMatchObject([
      { file: 'unit/PIN-7.stp', carriers: ['other/frame.stp', 'other/rail.stp'] },
    ]);
    expect(planned.change.warnings).toEqual([
      expect.stringContaining(
        'frame.stp carries PIN-7, too: left as it is, since it has another shape there.',
      ),
      'Nothing in rail.stp places PIN-7 any more: no longer in the file.',
      expect.stringContaining('rail.stp: the change shows there, too'),
      'rail.stp places PIN-7.stp instead of a part of its own.',
    ]);
    const users = project.usedBy.get('unit/PIN-7.stp')!.map(({ holder, state }) => [holder, state]);
    expect(users.sort()).toEqual([
      ['other/rail.stp', 'sound'],
      ['unit/top.stp', 'sound'],
    ]);
    // Where the corner of the shape lay, the new file has its origin.
    const { occurrences } = project.files
      .get('other/rail.stp')!
      .scan.products.find(({ id }) => id === 'RAIL')!;
    for (const [n, corner] of [at(1, 2, 3), turned]
      .map((place) => transformPoint(place, [100, 0, 0]))
      .entries())
      for (const [axis, value] of corner.entries())
        expect(occurrences[n]!.placement[4 * axis + 3]).toBeCloseTo(value, 9);
    expect(bodiesIn(project)).toHaveLength(bodiesIn(await scanFileSet(new MemoryFileSet(entries))).length);
    await files.apply(undo);
    for (const [path, bytes] of entries) expect(await files.read(path)).toEqual(Buffer.from(bytes));
  });

  it('stay as they are unless it is asked for, and are named', async () => {
    const { planned, files } = await put({ components: ['PIN-7'] }, entries);
    expect(planned.preview.components[0]!.carriers).toHaveLength(2);
    expect(await files.read('other/rail.stp')).toEqual(Buffer.from(entries[1]![1]));
  });
});
