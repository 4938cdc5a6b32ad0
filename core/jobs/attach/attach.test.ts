import { describe, expect, it } from 'vitest';
import { DETACH } from '#core/jobs/follow/operation';
import { HandOffChoices } from '#core/jobs/handoff/choices';
import { planHandOff } from '#core/jobs/handoff/plan';
import { USED_IN } from '#core/jobs/uses/report';
import { type Operation, planOperation } from '#core/operation';
import { type Planning, planningOn } from '#core/planning';
import { MemoryFileSet } from '#core/project/change/memory';
import { MANIFEST_NAME, readManifest, writeManifest } from '#core/project/formats/manifest';
import { isStandard } from '#core/project/formats/standard-marks';
import { belongingFiles } from '#core/project/scan/project';
import { scanFileSet } from '#core/project/scan/scan';
import { lookAt } from '#core/report';
import { writeBoxPart } from '#core/testing/box-part';
import { lookContext } from '#core/testing/look-context';
import { testAssembly } from '#core/testing/projects';
import { ATTACH } from './operation';

const project = () =>
  new MemoryFileSet([
    ['top.stp', testAssembly('TOP', [{ written: 'parts/lid.stp', id: 'LID' }])],
    ['parts/lid.stp', writeBoxPart({ id: 'LID' })],
    ['reports/lid.html', Buffer.from('<p>stiff</p>')],
    ['reports/photo.png', Buffer.from('png')],
  ]);

// biome-ignore lint/suspicious/noExplicitAny: whichever operation
async function apply(files: MemoryFileSet, operation: Operation<any, any, any, Planning>, choices: object) {
  const planned = await planOperation(operation, planningOn(await scanFileSet(files), files), choices);
  await files.apply(planned.change);
  return planned.change;
}

const attach = (files: MemoryFileSet, note = '') =>
  apply(files, ATTACH, { files: ['reports/lid.html', 'reports/photo.png'], to: 'parts/lid.stp', note });

describe('attaching', () => {
  it('lets papers belong to a model: it is used in them, and they are not left over', async () => {
    const files = project();
    const change = await attach(files, ' as built ');
    expect(change.changes.map(({ path }) => path)).toEqual([MANIFEST_NAME]);
    const scanned = await scanFileSet(files);
    expect(scanned.attached.get('parts/lid.stp')).toEqual([
      { file: 'reports/lid.html', to: 'parts/lid.stp', note: 'as built' },
      { file: 'reports/photo.png', to: 'parts/lid.stp', note: 'as built' },
    ]);
    expect([...belongingFiles(scanned)].sort()).toEqual([
      'parts/lid.stp',
      'reports/lid.html',
      'reports/photo.png',
      MANIFEST_NAME,
      'top.stp',
    ]);
    const { data } = await lookAt(USED_IN, lookContext(files), { files: ['parts/lid.stp'] });
    expect(data.files.map(({ path, kind }) => [path, kind])).toEqual([
      ['reports/lid.html', 'attachment'],
      ['reports/photo.png', 'attachment'],
      ['top.stp', 'component'],
    ]);
  });

  it('follows both when they move, and goes into packages when that is asked for', async () => {
    const files = project();
    await attach(files);
    const { draft } = planningOn(await scanFileSet(files), files);
    await draft.move('parts/lid.stp', 'covers/lid 2.stp');
    await draft.move('reports/lid.html', 'papers/lid.html');
    await files.apply(await draft.finish('moved'));
    const scanned = await scanFileSet(files);
    expect(scanned.attached.get('covers/lid 2.stp')!.map(({ file }) => file)).toEqual([
      'papers/lid.html',
      'reports/photo.png',
    ]);
    const packed = (attachments: boolean) =>
      planHandOff(scanned, HandOffChoices.parse({ root: 'top.stp', attachments })).files.map(
        ({ from, why }) => [from, why],
      );
    expect(packed(true)).toContainEqual(['papers/lid.html', 'Attached to lid 2.stp']);
    expect(packed(false).map(([from]) => from)).toEqual(['top.stp', 'covers/lid 2.stp']);
  });

  it('is taken off by detaching, one or all, and nothing else of the manifest goes', async () => {
    const files = project();
    await attach(files);
    await apply(files, DETACH, { source: 'parts/lid.stp', files: ['reports/lid.html'] });
    const after = await scanFileSet(files);
    expect(after.attached.get('parts/lid.stp')!.map(({ file }) => file)).toEqual(['reports/photo.png']);
    await apply(files, DETACH, { source: 'parts/lid.stp', files: null });
    expect((await scanFileSet(files)).attached.size).toBe(0);
    await expect(apply(files, DETACH, { source: 'parts/lid.stp', files: null })).rejects.toThrow(
      'is attached to it',
    );
  });

  it('says what cannot be attached', async () => {
    const files = project();
    const asked = (paths: string[], to: string) => apply(files, ATTACH, { files: paths, to });
    await expect(asked(['no.png'], 'top.stp')).rejects.toThrow('There is no file no.png');
    await expect(asked(['top.stp'], 'top.stp')).rejects.toThrow('cannot be attached to itself');
    await attach(files);
    await expect(asked([MANIFEST_NAME], 'top.stp')).rejects.toThrow('attached to nothing itself');
  });

  it('says that a paper is missing when it is gone', async () => {
    const files = project();
    await attach(files);
    const { draft } = planningOn(await scanFileSet(files), files);
    await draft.remove('reports/photo.png');
    await files.apply(await draft.finish('gone'));
    const { links } = await scanFileSet(files);
    expect(links.filter(({ state }) => state === 'missing')).toMatchObject([
      { holder: MANIFEST_NAME, kind: 'listed', written: 'reports/photo.png' },
    ]);
  });
});

describe('the manifest', () => {
  it('of a newer version is read as far as it is understood, and never written over', async () => {
    const files = project();
    await attach(files);
    const newer = JSON.parse(Buffer.from(await files.read(MANIFEST_NAME)).toString());
    newer.manifest = 'stonetray-project/7';
    newer.attachments.push({ file: 3 });
    newer.forms = [{ of: 'later' }];
    const { draft } = planningOn(await scanFileSet(files), files);
    const written = Buffer.from(JSON.stringify(newer));
    draft.write(MANIFEST_NAME, written);
    await files.apply(await draft.finish('newer'));
    const scanned = await scanFileSet(files);
    expect(scanned.files.get(MANIFEST_NAME)!.scan.error).toBeNull();
    expect(scanned.attached.get('parts/lid.stp')).toHaveLength(2);
    await expect(attach(files)).rejects.toThrow('written by a newer version');
    expect(Buffer.from(await files.read(MANIFEST_NAME)).equals(written)).toBe(true);
  });

  it('keeps what others have put into it', () => {
    const manifest = { manifest: 'stonetray-project/1', outside: [], ours: { a: [1] } };
    const read = readManifest(Buffer.from(JSON.stringify(manifest)));
    expect(JSON.parse(Buffer.from(writeManifest(read)).toString())).toEqual(manifest);
  });

  it.each([
    ['std/a/screw.stp', true],
    ['STD/x.stp', true],
    ['stdx/x.stp', false],
    ['any/DIN-7.stp', true],
    ['any/din-77.stp', false],
    ['one/file.stp', true],
    ['one/other.stp', false],
  ])('marks standard parts by folder, name or file: %s', (path, is) => {
    const marks = [{ folder: 'std' }, { name: 'din-?.*' }, { file: 'one/file.stp' }];
    expect(isStandard(marks, path)).toBe(is);
  });

  it('takes any pattern in no time', () => {
    expect(isStandard([{ name: `${'*a'.repeat(60)}b` }], `${'a'.repeat(150)}.stp`)).toBe(false);
  });
});
