import { describe, expect, it } from 'vitest';
import { planRepair } from '#core/jobs/repair/plan';
import { reportOf } from '#core/jobs/scan/scan-report';
import { planningOn } from '#core/planning';
import { multiply, placementFromAxes } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { scanContent } from './content';
import { scanFileSet } from './scan';
import { structureTable } from './structure-table';
import { treeOf } from './tree';

describe('scanning a project', () => {
  it('says what every file is, which links hold, and what is reached', async () => {
    const report = reportOf(await scanFileSet(gearUnit()));
    expect(report.roots).toEqual(['unit.stp']);
    expect(report.totals).toEqual({
      files: 9,
      links: 6,
      sound: 4,
      behind: 0,
      missing: 1,
      ambiguous: 1,
      loop: 0,
      occurrences: 11,
      distinctParts: 5,
    });
    expect(report.unused).toEqual([
      'bought/washer.stp',
      'parts/left-over.stp',
      'parts/lid_rev-b.stp',
      'std/washer.stp',
    ]);
    expect(report.files.find(({ path }) => path === 'unit.stp')).toMatchObject({
      format: 'step',
      role: 'assembly',
      unit: 'mm',
      products: [{ id: 'UNIT', name: 'UNIT assembly' }],
      bodies: 0,
      error: null,
    });
    expect(report.files.find(({ path }) => path === 'parts/base.stp')).toMatchObject({
      role: 'part',
      bodies: 1,
    });
    expect(report.links.find(({ written }) => written.includes('washer'))).toMatchObject({
      state: 'ambiguous',
      to: null,
      occurrences: 4,
    });
    expect(report.links.find(({ written }) => written.includes('screw'))).toMatchObject({
      state: 'sound',
      to: 'std/screw-m6.stp',
    });
  });

  it('finds assemblies that place each other, and counts without end in sight', async () => {
    const project = await scanFileSet(
      new MemoryFileSet([
        ['a.stp', testAssembly('A', [{ written: 'b.stp', id: 'B' }])],
        [
          'b.stp',
          testAssembly('B', [
            { written: 'a.stp', id: 'A' },
            { written: 'p.stp', id: 'P' },
          ]),
        ],
        ['p.stp', writeBoxPart({ id: 'P' })],
        ['self.stp', testAssembly('SELF', [{ written: 'self.stp', id: 'SELF' }])],
      ]),
    );
    const { links, totals, roots } = reportOf(project);
    expect(links.map(({ from, state }) => [from, state])).toEqual([
      ['a.stp', 'loop'],
      ['b.stp', 'loop'],
      ['b.stp', 'sound'],
      ['self.stp', 'loop'],
    ]);
    expect(links[0]!.reason).toContain('a.stp, b.stp');
    expect(totals.loop).toBe(3);
    expect(roots).toEqual([]);
    expect(treeOf(project, 'a.stp')[0]!.children[0]!.file).toBe('b.stp');
  });

  it('counts a structure that doubles at each of 40 levels without unfolding it', async () => {
    const files: [string, Uint8Array][] = [['p.stp', writeBoxPart({ id: 'P' })]];
    for (let level = 0; level < 40; level++) {
      const below = level === 0 ? 'p' : `l${level - 1}`;
      files.push([
        `l${level}.stp`,
        testAssembly(`L${level}`, [{ written: `${below}.stp`, id: below.toUpperCase(), times: 2 }]),
      ]);
    }
    const project = await scanFileSet(new MemoryFileSet(files));
    expect(reportOf(project).totals).toMatchObject({ occurrences: 2 ** 40, distinctParts: 1 });
    expect(() => treeOf(project, 'l39.stp')).toThrow('more than 200,000 occurrences');
    const table = structureTable(project, 'l39.stp', true, { rows: 100, instances: 100 });
    expect(table.rows.map(({ total }) => total)).toEqual([
      1,
      ...Array.from({ length: 40 }, (_, n) => 2 ** (n + 1)),
    ]);
    expect([table.instances.length, table.undrawn]).toEqual([100, 2 ** 40 - 100]);
  });

  it('puts a part that was modelled in inches where a millimetre assembly wants it', async () => {
    const outer = placementFromAxes([100, 0, 0], [0, 0, 1], [0, 1, 0]);
    const inner = placementFromAxes([25.4, 50.8, 0]);
    const place = (id: string, component: string, placement: readonly number[], unit: 'mm' | 'in') =>
      writeAssembly({
        id,
        name: id,
        fileName: '',
        timeStamp: '',
        unit,
        components: [
          {
            id: component,
            name: component,
            written: `${component}.stp`,
            placings: [{ name: component, placement }],
          },
        ],
      });
    const project = await scanFileSet(
      new MemoryFileSet([
        ['TOP.stp', place('TOP', 'SUB', outer, 'mm')],
        ['SUB.stp', place('SUB', 'PART', inner, 'in')],
        ['PART.stp', writeBoxPart({ id: 'PART', unit: 'in' })],
      ]),
    );
    const { instances, rows } = structureTable(project, 'TOP.stp', true);
    expect(rows.map(({ name, depth }) => [name, depth])).toEqual([
      ['TOP', 0],
      ['SUB', 1],
      ['PART', 2],
    ]);
    multiply(outer, inner).forEach((value, n) => {
      expect(instances[0]!.placement[n]).toBeCloseTo(value, 9);
    });
  });

  it('takes alike placings together or lists them one by one', async () => {
    const project = await scanFileSet(gearUnit());
    const grouped = structureTable(project, 'unit.stp', true);
    expect(grouped.rows.find(({ product }) => product === 'M6')).toMatchObject({
      quantity: 4,
      total: 4,
      depth: 2,
    });
    const single = structureTable(project, 'unit.stp', false);
    expect(single.rows.filter(({ product }) => product === 'M6').map(({ name }) => name)).toEqual([
      'M6 1',
      'M6 2',
      'M6 3',
      'M6 4',
    ]);
    expect(single.instances).toHaveLength(grouped.instances.length);
  });
});

describe('bad input', () => {
  const errorOf = (content: string | Uint8Array, path = 'x.stp') =>
    scanContent(path, typeof content === 'string' ? Buffer.from(content, 'latin1') : content).error;
  const whole = Buffer.from(writeBoxPart({ id: 'P' }));

  it.each([
    ['an empty file', '', 'Line 1, column 1: the file is empty'],
    [
      'a letter called .stp',
      'Dear colleague,\nhere is the part.',
      'Line 1, column 1: this is not a STEP file',
    ],
    ['a file cut in half', whole.subarray(0, whole.length / 2), 'the file ends inside'],
    ['a number defined twice', whole.toString().replace('#2=', '#1='), 'defined twice'],
  ])('%s gets an error that says where and what', (_, content, words) => {
    const error = errorOf(content);
    expect(error).toContain(words);
    expect(error).toMatch(/^Line \d+, column \d+: /);
  });

  it('keeps what was understood of a broken file', () => {
    expect(scanContent('x.stp', whole.subarray(0, -40))).toMatchObject({
      format: 'step',
      schema: 'AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF',
    });
  });

  it('is not led astray by instances that refer to themselves or to nothing', () => {
    const data =
      "#1=PRODUCT('a','a','',(#1));#2=PRODUCT_DEFINITION_FORMATION('','',#1);#3=PRODUCT_DEFINITION('','',#2,#99);#4=PRODUCT_DEFINITION_SHAPE('','',#3);#5=SHAPE_DEFINITION_REPRESENTATION(#4,#6);#6=SHAPE_REPRESENTATION('',(#6,#7),#6);#7=MAPPED_ITEM('',#8,#7);#8=REPRESENTATION_MAP(#8,#9);#9=SHAPE_REPRESENTATION('',(#7),#9);#10=STYLED_ITEM('',(#10),#10);#11=NEXT_ASSEMBLY_USAGE_OCCURRENCE('','','',#3,#3,$);#12=(LENGTH_UNIT()CONVERSION_BASED_UNIT('x',#12)NAMED_UNIT(*));#13=SHAPE_REPRESENTATION_RELATIONSHIP('','',#6,#6);";
    const text = `ISO-10303-21;HEADER;FILE_SCHEMA(('X'));ENDSEC;DATA;${data}ENDSEC;END-ISO-10303-21;`;
    const scan = scanContent('x.stp', Buffer.from(text));
    expect(scan.error).toBeNull();
    expect(scan.products).toHaveLength(1);
  });

  it('lets one broken file of a project fail alone', async () => {
    const files = gearUnit();
    await files.apply({
      summary: '',
      rewires: [],
      warnings: [],
      changes: [
        { action: 'write', path: 'bad.stp', base: null, sha256: '', bytes: 4, content: Buffer.from('oops') },
      ],
    });
    const report = reportOf(await scanFileSet(files));
    expect(report.files.filter(({ error }) => error !== null).map(({ path }) => path)).toEqual(['bad.stp']);
    expect(report.totals.sound).toBe(4);
  });

  it('reads names in every script, with spaces, quotes and signs', async () => {
    const names = [
      'Gehäuse größe.stp',
      "it's (1) 100% #5.stp",
      '歯車.stp',
      'вал.stp',
      `${'x'.repeat(180)}.stp`,
      'emoji 😀.stp',
    ];
    const files = new MemoryFileSet([
      [
        'top.stp',
        testAssembly(
          'TOP',
          names.map((written, n) => ({ written, id: `P${n}` })),
        ),
      ],
      ...names.map((name, n): [string, Uint8Array] => [name, writeBoxPart({ id: `P${n}`, name })]),
    ]);
    const { totals } = reportOf(await scanFileSet(files));
    expect(totals).toMatchObject({ sound: names.length, missing: 0 });
  });
});

describe('documents of the whole', () => {
  /** A part with a note that is about the assembly, and the assembly. */
  const withNote = () => {
    const part = Buffer.from(writeBoxPart({ id: 'P' })).toString('latin1');
    const note = "#9000=DOCUMENT_TYPE('note');\n#9001=DOCUMENT_FILE('top.stp','','',#9000,'',$);\n";
    return new MemoryFileSet([
      ['top.stp', testAssembly('TOP', [{ written: 'p.stp', id: 'P' }])],
      ['p.stp', Buffer.from(part.replace('ENDSEC;\nEND-ISO', `${note}ENDSEC;\nEND-ISO`), 'latin1')],
    ]);
  };

  it('leave it a root, and make no loop', async () => {
    const project = await scanFileSet(withNote());
    const { roots, links, totals } = reportOf(project);
    expect(roots).toEqual(['top.stp']);
    expect(totals).toMatchObject({ loop: 0, occurrences: 1 });
    expect(links.map(({ kind, state }) => [kind, state])).toEqual([
      ['attachment', 'sound'],
      ['component', 'sound'],
    ]);
    await planRepair(planningOn(project, withNote()), [
      { holder: 'top.stp', written: 'p.stp', target: 'p.stp' },
    ]);
  });
});

describe('which part a link means', () => {
  const empty = (id: string) =>
    `#9001=PRODUCT('${id}','${id}','',());#9002=PRODUCT_DEFINITION_FORMATION('','',#9001);#9003=PRODUCT_DEFINITION('','',#9002,$);`;
  const before = (text: string, data: string) =>
    Buffer.from(text.replace('DATA;\n', `DATA;\n${data}\n`), 'latin1');
  const bytes = (content: Uint8Array) => Buffer.from(content).toString('latin1');

  it('is the one with a shape, where neither id nor name agrees', async () => {
    const project = await scanFileSet(
      new MemoryFileSet([
        ['top.stp', testAssembly('TOP', [{ written: 'p.stp', id: 'ELSE' }])],
        ['p.stp', before(bytes(writeBoxPart({ id: 'REAL' })), empty('FIRST'))],
      ]),
    );
    expect(treeOf(project, 'top.stp')[0]!.children[0]!.product).toBe('REAL');
    expect(reportOf(project).totals).toMatchObject({ occurrences: 1, distinctParts: 1 });
  });

  it('is counted as no part where the file has none', async () => {
    const part = bytes(writeBoxPart({ id: 'P' }));
    const nothing = Buffer.from(
      part.replace(/DATA;[\s\S]*ENDSEC;\nEND/, `DATA;\n${empty('P')}\nENDSEC;\nEND`),
      'latin1',
    );
    const project = await scanFileSet(
      new MemoryFileSet([
        ['top.stp', testAssembly('TOP', [{ written: 'p.stp', id: 'P', times: 3 }])],
        ['p.stp', nothing],
      ]),
    );
    expect(reportOf(project).totals).toMatchObject({ sound: 1, occurrences: 0, distinctParts: 0 });
  });
});
