import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { reportOf } from '#core/jobs/scan/scan-report';
import { planningOn } from '#core/planning';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { treeOf } from '#core/project/scan/tree';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { filesToRenew, planRenew } from './renew';

const text = (bytes: Uint8Array) => Buffer.from(bytes).toString('latin1');
const UNIT = '(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))';
/** As units were once written. */
const withOldUnits = (bytes: Uint8Array) =>
  Buffer.from(
    text(bytes).replace(UNIT, '(PLANE_ANGLE_UNIT()NAMED_UNIT(*)SI_UNIT($,.RADIAN.))'),
    'latin1',
  ).map((byte) => byte);
/** As the tie to a source was once written: a further document of the file's own product. */
const withOldTie = (bytes: Uint8Array, written: string) => {
  const file = Part21File.read(bytes);
  const [definition] = file.idsOfType('PRODUCT_DEFINITION');
  const at = file.highest;
  const tie = [
    "DOCUMENT_TYPE('split source')",
    `DOCUMENT_FILE('${written}','','',#${at + 1},'',$)`,
    "IDENTIFICATION_ROLE('external document id and location',$)",
    "EXTERNAL_SOURCE(IDENTIFIER(''))",
    `APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('${written}',#${at + 3},#${at + 4},(#${at + 2}))`,
    "IDENTIFICATION_ROLE('content digest',$)",
    `APPLIED_IDENTIFICATION_ASSIGNMENT('sha256:${'a'.repeat(64)}',#${at + 6},(#${at + 2}))`,
    "IDENTIFICATION_ROLE('item of source',$)",
    `APPLIED_IDENTIFICATION_ASSIGNMENT('#12 rod',#${at + 8},(#${at + 2}))`,
    `APPLIED_DOCUMENT_REFERENCE(#${at + 2},'',(#${definition}))`,
  ].map((entity, n) => `#${at + 1 + n}=${entity};\n`);
  return Buffer.from(text(bytes).replace(/ENDSEC;\nEND-ISO/, `${tie.join('')}ENDSEC;\nEND-ISO`), 'latin1');
};

const project = () =>
  new MemoryFileSet([
    [
      'top.stp',
      testAssembly(
        'TOP',
        [
          { written: 'parts/rod.stp', id: 'ROD', times: 2 },
          { written: 'parts\\pin.stp', id: 'PIN' },
        ],
        'associated',
      ),
    ],
    ['parts/rod.stp', withOldTie(writeBoxPart({ id: 'ROD' }), '../set.stp')],
    ['parts/pin.stp', withOldUnits(writeBoxPart({ id: 'PIN' }))],
    ['set.stp', writeBoxPart({ id: 'SET', boxes: [{ name: 'rod' }, { name: 'pin' }] })],
  ]);

describe('renewing how links are written', () => {
  it('finds the files that write in an old form, and leaves every link as it was', async () => {
    const files = project();
    const before = await scanFileSet(files);
    expect(filesToRenew(before)).toEqual([
      { path: 'parts/pin.stp', forms: ['units'] },
      { path: 'parts/rod.stp', forms: ['sources'] },
      { path: 'top.stp', forms: ['stand-ins'] },
    ]);
    const plan = await planRenew(planningOn(before, files));
    expect(plan.summary).toBe('Renewed how links are written in 3 files');
    await files.apply(plan);
    const after = await scanFileSet(files);
    expect(filesToRenew(after)).toEqual([]);
    expect(reportOf(after).links).toEqual(reportOf(before).links);
    expect(treeOf(after, 'top.stp')).toEqual(treeOf(before, 'top.stp'));
    expect(after.links.find(({ kind }) => kind === 'source')!.source).toEqual({
      relation: 'split',
      sha256: 'a'.repeat(64),
      bodies: [{ id: 12, name: 'rod' }],
    });
  });

  it('keeps every other byte', async () => {
    const files = project();
    const before = new Map(
      await Promise.all(
        (await files.list()).map(async ({ path }) => [path, text(await files.read(path))] as const),
      ),
    );
    await files.apply(await planRenew(planningOn(await scanFileSet(files), files)));
    const lines = async (path: string) => {
      const now = text(await files.read(path)).split('\n');
      const old = before.get(path)!.split('\n');
      return {
        gone: old.filter((line) => !now.includes(line)),
        added: now.filter((line) => !old.includes(line)),
      };
    };
    const units = await lines('parts/pin.stp');
    expect(units.added).toEqual([expect.stringContaining(UNIT)]);
    expect(units.gone).toHaveLength(1);
    const documents = await lines('top.stp');
    expect(documents.gone.map((line) => line.replace(/#\d+/g, '#'))).toEqual(
      Array(2).fill("#=PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS('design','',#,#,(#));"),
    );
    expect(documents.added.filter((line) => line.includes('=PRODUCT_DEFINITION('))).toEqual(
      documents.gone.map((line) =>
        line.replace('_WITH_ASSOCIATED_DOCUMENTS', '').replace(/,\(#\d+\)\)/, ')'),
      ),
    );
    const ties = await lines('parts/rod.stp');
    expect(ties.gone).toHaveLength(10);
    expect(ties.added.filter((line) => !/_ITEM|PROPERTY|REPRESENTATION/.test(line))).toEqual([]);
  });

  it('leaves a unit of another program as it is', async () => {
    const foreign = text(withOldUnits(writeBoxPart({ id: 'P' }))).replace("'Stone Tray'", "'Other'");
    const files = new MemoryFileSet([['p.stp', Buffer.from(foreign, 'latin1')]]);
    expect(filesToRenew(await scanFileSet(files))).toEqual([]);
  });
});

describe('a folder that stands apart from the name', () => {
  const withFolder = (folder: string) => {
    const text = Buffer.from(testAssembly('A', [{ written: 'sub/c.stp', id: 'C' }], 'folder and name'))
      .toString('latin1')
      .replace("IDENTIFIER('sub/')", `IDENTIFIER('${folder}')`);
    return new MemoryFileSet([
      ['a.stp', Buffer.from(text, 'latin1')],
      ['sub/c.stp', writeBoxPart({ id: 'C' })],
    ]);
  };

  it.each([
    ['sub/', ['folders']],
    ['..\\\\parts', ['folders']],
    ['./', []],
    ['D:\\\\work\\\\', []],
    ['/home/parts/', []],
  ])('%s is joined with the name only where that leads on', async (folder, forms) => {
    const [file] = filesToRenew(await scanFileSet(withFolder(folder)));
    expect(file?.forms ?? []).toEqual(forms);
  });

  it('becomes part of the path, in the place of the name', async () => {
    const files = withFolder('sub/');
    await files.apply(await planRenew(planningOn(await scanFileSet(files), files)));
    expect(text(await files.read('a.stp'))).toMatch(/ASSIGNMENT\('sub\/c\.stp'.*\n?/);
    expect(text(await files.read('a.stp'))).toContain("EXTERNAL_SOURCE(IDENTIFIER(''))");
    expect((await scanFileSet(files)).links[0]).toMatchObject({ written: 'sub/c.stp', to: 'sub/c.stp' });
  });
});
