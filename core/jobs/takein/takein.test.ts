import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PUT_OUT } from '#core/jobs/putout/operation';
import { planOperation } from '#core/operation';
import { type Matrix4, placementFromAxes } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import type { PlacementForm, ReferenceForm } from '#core/product/write-components';
import { MemoryFileSet } from '#core/project/change/memory';
import { startingPoints } from '#core/project/scan/project';
import { scanFileSet } from '#core/project/scan/scan';
import { anyInFileAssembly } from '#core/testing/any-in-file-assembly';
import { writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import { bodiesIn } from '#core/testing/placed-bodies';
import { testContext } from '#core/testing/plan-context';
import { expectWhole } from '#core/testing/whole-text';
import { TAKE_IN } from './operation';

const at = (x: number, y = 0, z = 0): Matrix4 => placementFromAxes([x, y, z]);
const turned = placementFromAxes([30, 5, 0], [0, 1, 0]);
const REFERENCE_FORMS: ReferenceForm[] = [
  'identification',
  'document id',
  'source',
  'folder and name',
  'document',
  'associated',
];

interface Manner {
  referenceForm?: ReferenceForm;
  placementForm?: PlacementForm;
  unit?: 'mm' | 'm' | 'in';
}

/** A plate and two bolts, each of a pin and a washer; the washer on the plate, too. */
function unitOf({ referenceForm, placementForm, unit }: Manner = {}): [string, Uint8Array][] {
  const component = (name: string, written: string, ...placements: Matrix4[]) => ({
    id: `${name}-1`,
    name,
    written,
    placings: placements.map((placement, n) => ({ name: `${name} ${n + 1}`, placement })),
  });
  const written = (name: string, components: ReturnType<typeof component>[]) =>
    writeAssembly({
      id: `${name}-1`,
      name,
      fileName: `${name}.stp`,
      timeStamp: '2026-01-01T00:00:00',
      components,
      ...(referenceForm && { referenceForm }),
      ...(placementForm && { placementForm }),
      ...(unit && { unit }),
    });
  return [
    [
      'unit/top.stp',
      written('Top', [
        component('Plate', 'plate.stp', at(0)),
        component('Bolt', 'bolts/bolt.stp', at(10), turned),
        component('Washer', '../std/washer.stp', at(0, 90)),
      ]),
    ],
    [
      'unit/bolts/bolt.stp',
      written('Bolt', [
        component('Pin', '../pin.stp', at(0)),
        component('Washer', '../../std/washer.stp', at(0, 0, 25)),
      ]),
    ],
    ['unit/plate.stp', part('Plate', [50, 50, 5], '#ff0000', 'Steel')],
    ['unit/pin.stp', part('Pin', [5, 5, 40], '#00ff00', 'Brass')],
    ['std/washer.stp', part('Washer', [9, 9, 1], '#0000ff')],
  ];
}

function part(name: string, size: [number, number, number], colour: string, material?: string): Uint8Array {
  const bare = writeBoxPart({
    id: `${name}-1`,
    name,
    boxes: [{ size, colour, name: name.toLowerCase() }],
  });
  const text = Buffer.from(bare).toString('latin1');
  const numberOf = (keyword: string) => new RegExp(`(#\\d+)=${keyword}\\(`).exec(text)![1];
  const more = [
    `#9001=PRODUCT_RELATED_PRODUCT_CATEGORY('part',$,(${numberOf('PRODUCT')}));`,
    ...(material ? [`#9002=MATERIAL_DESIGNATION('${material}',(${numberOf('PRODUCT_DEFINITION')}));`] : []),
  ];
  return Buffer.from(text.replace('ENDSEC;\nEND-ISO', `${more.join('\n')}\nENDSEC;\nEND-ISO`), 'latin1');
}

async function take(choices: object, entries = unitOf()) {
  const files = new MemoryFileSet(entries);
  const context = await testContext(files, kernel);
  const planned = await planOperation(TAKE_IN, context, { file: 'unit/top.stp', ...choices });
  const undo = await files.apply(planned.change);
  return { files, planned, undo, project: await scanFileSet(files) };
}

describe('taking components in', () => {
  const manners: Manner[] = [
    ...REFERENCE_FORMS.map((referenceForm) => ({ referenceForm })),
    ...(['pair', 'swapped pair', 'mapped item'] as const).map((placementForm) => ({ placementForm })),
    { unit: 'm' },
    { unit: 'in', placementForm: 'swapped pair' },
  ];

  it.each(manners)(
    'leaves every body where it is, with its name, colour and material: %j',
    async (manner) => {
      const entries = unitOf(manner);
      const before = bodiesIn(await scanFileSet(new MemoryFileSet(entries)));
      expect(before).toHaveLength(6);
      for (const choices of [
        {},
        { deep: true },
        { components: ['Bolt'] },
        { components: ['Washer', 'Plate'] },
      ]) {
        const { project, files, undo } = await take(choices, entries);
        expect(bodiesIn(project)).toEqual(before);
        expect(project.links.every(({ state }) => state === 'sound')).toBe(true);
        expect(project.files.get('unit/top.stp')!.scan).toMatchObject({ error: null, damage: null });
        expectWhole(await files.read('unit/top.stp'));
        await files.apply(undo);
        expect(await files.read('unit/top.stp')).toEqual(Buffer.from(entries[0]![1]));
      }
    },
  );

  it.each<PlacementForm>(['pair', 'swapped pair', 'mapped item'])(
    'makes one part of two stand-ins for it, placed off their origins in another unit, by %s',
    async (placementForm) => {
      const [[, top], ...entries] = unitOf({ unit: 'm', placementForm }) as [[string, Uint8Array]];
      const washer = (x: number) => ({
        id: 'Washer-1',
        name: 'Washer',
        written: '../std/washer.stp',
        placings: [{ name: `Washer ${x}`, placement: at(x) }],
      });
      const twice = writeAssembly({
        id: 'Top-1',
        name: 'Top',
        fileName: 'top.stp',
        timeStamp: '2026-01-01T00:00:00',
        unit: 'm',
        placementForm,
        components: [washer(10), washer(20)],
      });
      for (const bytes of [top, twice]) {
        const off = Buffer.from(bytes)
          .toString('latin1')
          .replace("CARTESIAN_POINT('',(0.,0.,0.))", "CARTESIAN_POINT('',(0.5,0.25,0.))");
        expect(off).toContain('(0.5,0.25,0.)');
        const all: [string, Uint8Array][] = [['unit/top.stp', Buffer.from(off, 'latin1')], ...entries];
        const before = bodiesIn(await scanFileSet(new MemoryFileSet(all)));
        const { project, files } = await take({ deep: true }, all);
        expect(bodiesIn(project)).toEqual(before);
        expectWhole(await files.read('unit/top.stp'));
        const names = project.files.get('unit/top.stp')!.scan.products.map(({ name }) => name);
        expect(names.filter((name) => name === 'Washer')).toHaveLength(1);
      }
    },
  );

  it('makes one file of all, with a part that several place once, and nothing left of documents', async () => {
    const { project, planned, files } = await take({ deep: true, dropUnused: true });
    expect([...project.files.keys()]).toEqual(['unit/top.stp']);
    expect(project.links).toEqual([]);
    const { products, placeholders } = project.files.get('unit/top.stp')!.scan;
    expect(products.map(({ name }) => name).sort()).toEqual(['Bolt', 'Pin', 'Plate', 'Top', 'Washer']);
    expect(placeholders).toEqual([]);
    const text = Buffer.from(await files.read('unit/top.stp')).toString('latin1');
    expect(text).not.toMatch(/DOCUMENT|EXTERNAL/);
    // What all say of themselves alike stands there once.
    expect(text.match(/=APPLICATION_CONTEXT\(/g)).toHaveLength(1);
    expect(text.match(/=PRODUCT_RELATED_PRODUCT_CATEGORY\(/g)).toHaveLength(5);
    expect(planned.preview.unused.sort()).toEqual([
      'std/washer.stp',
      'unit/bolts/bolt.stp',
      'unit/pin.stp',
      'unit/plate.stp',
    ]);
  });

  it('takes in what is named alone, and says what still uses its file', async () => {
    const { project, planned } = await take({ components: ['Washer'], dropUnused: true });
    expect(planned.preview).toMatchObject({
      taken: [{ path: 'std/washer.stp', name: 'Washer', placings: 1 }],
      unused: [],
      used: [{ path: 'std/washer.stp', by: ['unit/bolts/bolt.stp'] }],
    });
    expect(project.files.size).toBe(5);
    expect((project.uses.get('unit/top.stp') ?? []).map(({ to }) => to).sort()).toEqual([
      'unit/bolts/bolt.stp',
      'unit/plate.stp',
    ]);
  });

  it('leads on to what a file referred to, as seen from the assembly', async () => {
    const { project } = await take({ components: ['Bolt'] });
    const uses = project.uses.get('unit/top.stp')!.map(({ written, to }) => `${written} ${to}`);
    expect(uses.sort()).toEqual([
      '../std/washer.stp std/washer.stp',
      'pin.stp unit/pin.stp',
      'plate.stp unit/plate.stp',
    ]);
  });

  it('changes no byte of the assembly but its stand-ins', async () => {
    const lines = (bytes: Uint8Array) => Buffer.from(bytes).toString('latin1').split('\n');
    const before = lines(unitOf()[0]![1]);
    const { files } = await take({ components: ['Plate'] });
    const after = new Set(lines(await files.read('unit/top.stp')));
    expect(before.filter((line) => !after.has(line)).map((line) => line.replace(/#\d+/g, '#'))).toEqual([
      "#=DOCUMENT_FILE('plate.stp','',$,#,'',$);",
      "#=APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('plate.stp',#,#,(#));",
      // The part's own is its category from now on.
      "#=PRODUCT_RELATED_PRODUCT_CATEGORY('part','',(#));",
      "#=SHAPE_REPRESENTATION('Plate',(#),#);",
      "#=APPLIED_DOCUMENT_REFERENCE(#,'',(#));",
    ]);
  });

  it.each([
    [{ components: ['Cover'] }, 'unit/top.stp has no component Cover.'],
    [{ components: ['Top'] }, 'Top lies in unit/top.stp already.'],
    [{ file: 'gone.stp' }, 'There is no file gone.stp.'],
    [{ file: 'unit/plate.stp' }, 'unit/plate.stp refers to no components: all of them lie in it already.'],
  ])('refuses %j', async (choices, words) => {
    await expect(take(choices)).rejects.toThrow(words);
  });

  it('goes on without a file that is damaged, unless that one is asked for', async () => {
    const entries = unitOf();
    const plate = Buffer.from(entries[2]![1])
      .toString('latin1')
      .replace(/#\d+=VERTEX_POINT.*\n/, '');
    entries[2] = ['unit/plate.stp', Buffer.from(plate, 'latin1')];
    await expect(take({ components: ['Plate'] }, entries)).rejects.toThrow(
      /^unit\/plate.stp cannot be taken in: /,
    );
    const { planned } = await take({}, entries);
    expect(planned.preview.staying).toEqual([
      { path: 'unit/plate.stp', placings: 1, why: expect.stringMatching(/comes from$/) },
    ]);
    expect(planned.preview.taken.map(({ path }) => path)).toEqual(['unit/bolts/bolt.stp', 'std/washer.stp']);
  });

  it('says which links lead nowhere, and leaves them as they are, as seen from the assembly', async () => {
    const entries = unitOf().filter(([path]) => path !== 'unit/pin.stp');
    const { planned, project } = await take({ deep: true }, entries);
    expect(planned.change.warnings).toEqual([
      'A component stays a link: its file is not found, or not surely (pin.stp).',
    ]);
    expect(project.uses.get('unit/top.stp')).toEqual([
      expect.objectContaining({ written: 'pin.stp', state: 'missing' }),
    ]);
  });

  it('keeps out a file that uses the assembly', async () => {
    const entries = unitOf();
    const bolt = Buffer.from(entries[1]![1])
      .toString('latin1')
      .replaceAll('../pin.stp', '../top.stp')
      .replace("'Pin-1','Pin'", "'Top-1','Top'");
    entries[1] = ['unit/bolts/bolt.stp', Buffer.from(bolt, 'latin1')];
    await expect(take({ components: ['Bolt'] }, entries)).rejects.toThrow(
      'unit/bolts/bolt.stp cannot be taken in: it uses the assembly itself: it cannot be a part of it.',
    );
  });

  it('writes the larger protocol, and the administration in its words', async () => {
    const entries = unitOf();
    const older = Buffer.from(entries[2]![1])
      .toString('latin1')
      .replace(/AP242_[A-Z0-9_]+[^']*/, 'CONFIG_CONTROL_DESIGN')
      .replace(
        /(#\d+)=PRODUCT_DEFINITION\(.*\n/,
        (line, id) =>
          `${line}#900001=CC_DESIGN_APPROVAL(#900002,(${id}));\n#900002=APPROVAL($,'released');\n`,
      );
    entries[2] = ['unit/plate.stp', Buffer.from(older, 'latin1')];
    const { files } = await take({ components: ['Plate'] }, entries);
    const text = Buffer.from(await files.read('unit/top.stp')).toString('latin1');
    expect(text).toContain('AP242_MANAGED_MODEL');
    expect(text).toMatch(/=APPLIED_APPROVAL_ASSIGNMENT\(#\d+,\(#\d+\)\);/);
    const top = Buffer.from(entries[0]![1])
      .toString('latin1')
      .replace(/AP242_[A-Z0-9_]+[^']*/, 'CONFIG_CONTROL_DESIGN');
    const { files: raised, planned } = await take({ components: ['Washer'] }, [
      ['unit/top.stp', Buffer.from(top, 'latin1')],
      ...entries.slice(1),
    ]);
    expect(Buffer.from(await raised.read('unit/top.stp')).toString('latin1')).toContain("(('AP242_MANAGED");
    expect(planned.change.warnings).toContainEqual(expect.stringContaining('it was CONFIG_CONTROL_DESIGN'));
  });

  it('finds numbers where the highest are taken', async () => {
    const entries = unitOf();
    const text = Buffer.from(entries[0]![1]).toString('latin1').replace(/#5\b/g, '#4294967290');
    entries[0] = ['unit/top.stp', Buffer.from(text, 'latin1')];
    const before = bodiesIn(await scanFileSet(new MemoryFileSet(entries)));
    const { project, files } = await take({ deep: true }, entries);
    expect(bodiesIn(project)).toEqual(before);
    expectWhole(await files.read('unit/top.stp'));
  });
});

describe('of any assembly', () => {
  it('all that is put out is taken in again, with the same bodies', async () => {
    await fc.assert(
      fc.asyncProperty(anyInFileAssembly, fc.boolean(), async (bytes, isDeep) => {
        const files = new MemoryFileSet([['unit/top.stp', bytes]]);
        let project = await scanFileSet(files);
        const before = bodiesIn(project);
        const roots = startingPoints(project);
        const choices = { file: 'unit/top.stp' };
        const out = await planOperation(PUT_OUT, await testContext(files, kernel), {
          ...choices,
          all: true,
          to: 'parts',
        });
        await files.apply(out.change);
        const between = new Map((await files.list()).map(({ path, sha256 }) => [path, sha256]));
        const taken = await planOperation(TAKE_IN, await testContext(files, kernel), {
          ...choices,
          deep: isDeep,
          dropUnused: true,
        });
        const undo = await files.apply(taken.change);
        project = await scanFileSet(files);
        expect(bodiesIn(project)).toEqual(before);
        expect(startingPoints(project)).toEqual(roots);
        if (isDeep) expect(project.files.size).toBe(1);
        for (const { path, scan } of project.files.values()) {
          expect([scan.error, scan.damage]).toEqual([null, null]);
          expectWhole(await files.read(path));
        }
        await files.apply(undo);
        expect(new Map((await files.list()).map(({ path, sha256 }) => [path, sha256]))).toEqual(between);
      }),
      { numRuns: 40 },
    );
  });
});
