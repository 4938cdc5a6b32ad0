import { execFile } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { cp, mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { REGISTRY } from '#core/operations';
import { gearUnit } from '#core/testing/projects';
import { run } from './testing';

const DEMO = path.join(import.meta.dirname, '../demo/files/hx-12');
let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'stonetray-cli-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

async function unitFolder(): Promise<string> {
  const files = gearUnit();
  for (const { path: file } of await files.list()) {
    const full = path.join(folder, 'unit', file);
    mkdirSync(path.dirname(full), { recursive: true });
    writeFileSync(full, await files.read(file));
  }
  return path.join(folder, 'unit');
}

describe('the whole job on a folder', () => {
  it('scans, repairs, undoes, packages, verifies and unpacks the demo', async () => {
    const dir = path.join(folder, 'hx-12');
    await cp(DEMO, dir, { recursive: true });

    const scan = await run('scan', dir, '--json');
    expect(scan.code).toBe(1);
    expect(scan.json().totals).toMatchObject({ missing: 3, ambiguous: 1, loop: 0, occurrences: 177 });
    expect(Object.keys(scan.json())).toEqual(['files', 'links', 'roots', 'unused', 'totals']);
    expect(Object.keys(scan.json().files[0])).toEqual([
      'path',
      'format',
      'role',
      'bytes',
      'sha256',
      'schema',
      'unit',
      'products',
      'bodies',
      'error',
    ]);
    expect(Object.keys(scan.json().links[0])).toEqual([
      'from',
      'kind',
      'written',
      'to',
      'state',
      'reason',
      'found',
      'occurrences',
    ]);

    const out = path.join(folder, 'out.zip');
    const blocked = await run('package', path.join(dir, 'hx-12-heliostat.stp'), '--out', out);
    expect([blocked.code, blocked.out]).toEqual([
      1,
      expect.stringContaining('No package was written: 3 links broken'),
    ]);

    const dry = await run('repair', dir, '--accept', '0.9', '--dry-run');
    expect(dry.out).toContain('would write  azimuth-drive/azimuth-drive.stp: az-lid.stp -> az-lid_rev-b.stp');
    expect((await run('scan', dir, '--json')).json().totals.missing).toBe(3);

    const repair = await run(
      'repair',
      dir,
      '--accept',
      '0.9',
      '--set',
      'elevation/elevation.stp::../norm/washer-m10.stp=standard/washer-m10.stp',
      '--json',
    );
    expect(repair.code).toBe(0);
    expect(repair.json().rewires).toHaveLength(4);
    expect((await run('scan', dir, '--json')).code).toBe(0);

    expect((await run('undo', dir)).code).toBe(0);
    expect((await run('scan', dir, '--json')).json().totals.missing).toBe(3);
    expect((await run('redo', dir)).code).toBe(0);

    expect(
      (
        await run(
          'package',
          path.join(dir, 'hx-12-heliostat.stp'),
          '--out',
          out,
          '--flatten',
          '--prefix',
          'P-',
        )
      ).code,
    ).toBe(0);
    expect(await run('verify', out)).toMatchObject({
      code: 0,
      out: expect.stringContaining('every link sound'),
    });
    const elsewhere = path.join(folder, 'elsewhere');
    expect((await run('unpack', out, '--to', elsewhere)).code).toBe(0);
    const opened = await run('scan', elsewhere, '--json');
    expect(opened.code).toBe(0);
    expect(opened.json().totals).toMatchObject({ occurrences: 177, missing: 0 });
  });

  it('takes in files, folders and packages, and takes any change back by its id', async () => {
    const [dir, more] = [path.join(folder, 'into'), path.join(folder, 'more')];
    await mkdir(dir);
    await mkdir(path.join(more, 'sub'), { recursive: true });
    await writeFile(path.join(more, 'sub/a.txt'), 'one');
    await writeFile(path.join(folder, 'b.txt'), 'two');
    const first = await run('import', dir, more, path.join(folder, 'b.txt'), '--json');
    expect(first.json()).toMatchObject({ added: ['sub/a.txt', 'b.txt'], replaced: [], problems: [] });
    await writeFile(path.join(folder, 'b.txt'), 'three');
    const kept = await run('import', dir, path.join(folder, 'b.txt'), '--on-conflict', 'keep');
    expect(kept.out).toContain('b.txt: kept as it was');
    expect((await run('import', dir, path.join(folder, 'b.txt'))).out).toContain(
      '0 new files, 1 new version',
    );
    expect(await readFile(path.join(dir, 'b.txt'), 'utf8')).toBe('three');

    const history = (await run('history', dir, '--json')).json().changes;
    expect(history.map(({ summary }: { summary: string }) => summary)).toEqual([
      'Imported 2 files',
      'Imported b.txt',
    ]);
    const blocked = await run('undo', dir, '--change', history[0].id);
    expect([blocked.code, blocked.error]).toEqual([2, expect.stringContaining('b.txt has changed since')]);
    expect((await run('undo', dir, '--dry-run')).out).toBe('Undid: Imported b.txt (not done: dry run).\n');
    expect((await run('undo', dir)).code).toBe(0);
    expect(await readFile(path.join(dir, 'b.txt'), 'utf8')).toBe('two');
    expect((await run('undo', dir, '--change', history[0].id)).code).toBe(0);
    expect((await run('scan', dir, '--json')).json().files).toEqual([]);
    expect((await run('import', dir, path.join(folder, 'nothing'))).code).toBe(2);

    // Forward again, step by step, until something else is done.
    const told = async (...steps: string[]) => {
      const lines: string[] = [];
      for (const step of steps) lines.push((await run(step, dir)).out.trim());
      return lines;
    };
    expect(await told('redo', 'redo', 'redo')).toEqual([
      'Redid: Imported 2 files.',
      'Redid: Imported b.txt.',
      '',
    ]);
    expect(await readFile(path.join(dir, 'b.txt'), 'utf8')).toBe('three');
    expect(await told('undo', 'undo')).toEqual(['Undid: Imported b.txt.', 'Undid: Imported 2 files.']);
    expect((await run('undo', dir)).error).toContain('No change is left in this folder that still stands');
    await run('redo', dir);
    await run('import', dir, path.join(folder, 'b.txt'));
    expect((await run('redo', dir)).error).toContain('something else was done since');
  });

  it('says which files differ between two folders, as lines, JSON and CSV', async () => {
    const [older, newer] = [path.join(folder, 'older'), path.join(folder, 'newer')];
    await cp(path.join(DEMO, 'standard'), older, { recursive: true });
    await cp(older, newer, { recursive: true });
    await rm(path.join(newer, 'nut-m24.stp'));
    await writeFile(path.join(newer, 'washer-m24.stp'), await readFile(path.join(older, 'screw-m6x20.stp')));
    await writeFile(path.join(newer, 'note.txt'), 'new');
    const compared = await run('compare', newer, '--with', older, '--json');
    expect([compared.code, compared.json().files]).toEqual([
      1,
      [
        { path: 'note.txt', difference: 'new', facts: [] },
        { path: 'nut-m24.stp', difference: 'gone', facts: [] },
        {
          path: 'washer-m24.stp',
          difference: 'changed',
          facts: [expect.stringMatching(/^bytes \d+ → \d+$/)],
        },
      ],
    ]);
    expect((await run('compare', newer, '--with', older, '--csv')).out).toContain('nut-m24.stp,gone,');
    expect((await run('compare', newer, '--with', newer)).out).toMatch(
      /^Nothing differs: \d+ files the same/,
    );
    expect((await run('compare', newer)).error).toContain('with: ');
  });

  it('prints the tree with placements in millimetres', async () => {
    const { json } = await run('tree', path.join(DEMO, 'standard/bearing-6018/bearing-6018.stp'), '--json');
    const tree = json();
    expect(Object.keys(tree)).toEqual(['name', 'file', 'product', 'placement', 'children']);
    expect(tree).toMatchObject({
      name: 'Bearing 6018',
      file: 'standard/bearing-6018/bearing-6018.stp',
      product: 'BRG-6018',
    });
    const balls = tree.children.filter(({ product }: { product: string }) => product === 'BRG-BALL-15');
    expect(balls).toHaveLength(13);
    for (const { placement } of balls) expect(Math.hypot(placement[3], placement[7])).toBeCloseTo(57.5, 6);
  });

  it('ends a tree by what is below the file, not by its neighbours', async () => {
    const dir = await unitFolder();
    expect((await run('tree', path.join(dir, 'unit.stp'), '--root', dir)).code).toBe(1);
    expect((await run('tree', path.join(dir, 'parts/base.stp'), '--root', dir)).code).toBe(0);
  });

  it('takes names with an equals sign', async () => {
    const dir = await unitFolder();
    const lid = path.join(dir, 'parts/lid_rev-b.stp');
    await cp(lid, path.join(dir, 'parts/lid d=40.stp'));
    await rm(lid);
    const set = 'drive/drive.stp::..\\parts\\lid.stp=parts/lid d=40.stp';
    const { json } = await run('repair', dir, '--set', set, '--json');
    expect(json().rewires).toMatchObject([
      { rewritten: '..\\parts\\lid d=40.stp', to: 'parts/lid d=40.stp' },
    ]);
  });

  it('reads a folder in which a change was cut off, says so, and finishes it with the next one', async () => {
    const unit = await unitFolder();
    await run('mv', unit, 'parts/base.stp', 'parts/foot.stp');
    const [history] = await readdir(path.join(unit, '.stonetray/history'));
    const record = path.join(unit, '.stonetray/history', history!);
    // As if it had been killed before its last step.
    await cp(record, path.join(unit, '.stonetray/journal.json'));
    await rm(record);
    const scanned = await run('scan', unit);
    expect(scanned.error).toContain('a change was cut off in this folder');
    expect((await run('history', unit)).out).toContain('Nothing has been changed');
    const tidied = await run('tidy', unit, '--older-than', '0', '--json');
    expect([tidied.code, tidied.error]).toEqual([0, '']);
    expect(tidied.json().contents).toBeGreaterThan(0);
    expect((await run('scan', unit)).error).toBe('');
    const undone = await run('undo', unit);
    expect([undone.code, undone.error]).toEqual([2, expect.stringContaining('no longer kept')]);
    expect((await run('tidy', unit, '--older-than', 'x')).code).toBe(2);
  });

  it('leaves open what is not clear, with the candidates', async () => {
    const dir = await unitFolder();
    const { code, json } = await run('repair', dir, '--accept', '1', '--json');
    expect(code).toBe(1);
    expect(json().applied).toBe(false);
    expect(json().open[0].candidates[0]).toMatchObject({
      path: expect.any(String),
      score: expect.any(Number),
      evidence: expect.any(Array),
    });
  });

  it('names what is damaged in a package and unpacks nothing of it', async () => {
    const dir = await unitFolder();
    const zip = path.join(folder, 'p.zip');
    await run('package', path.join(dir, 'parts/base.stp'), '--out', zip);
    const bytes = await readFile(zip);
    const at = bytes.indexOf('data/base.stp') + 60;
    bytes[at] = bytes[at]! ^ 0xff;
    await writeFile(zip, bytes);
    const verify = await run('verify', zip, '--json');
    expect(verify.code).toBe(1);
    expect(verify.json().ok).toBe(false);
    const unpacked = await run('unpack', zip, '--to', path.join(folder, 'x'));
    expect(unpacked.code).toBe(1);
    expect((await run('scan', path.join(folder, 'x'), '--json').catch(() => ({ code: 2 }))).code).not.toBe(1);
    expect(await readdir(folder)).not.toContain('x');
    await run('package', path.join(dir, 'parts/base.stp'), '--out', zip);
    expect((await run('unpack', zip, '--to', path.join(folder, 'x'), '--dry-run')).out).toContain(
      'Would unpack 1 file',
    );
    expect(await readdir(folder)).not.toContain('x');
    expect((await run('unpack', zip, '--to', path.join(folder, 'x/y'))).code).toBe(0);
    expect(await readdir(path.join(folder, 'x/y'))).toContain('base.stp');
  });
});

describe('wrong usage and unreadable input', () => {
  it('says what is missing by its name, in words of ours', async () => {
    const dir = await unitFolder();
    for (const [args, words] of [
      [['package', `${dir}/unit.stp`], '--out is missing'],
      [['lite', `${dir}/unit.stp`], '--out is missing'],
      [['repair', dir, '--set'], '--set needs what follows it'],
      [['mv', dir], 'FROM is missing'],
      [['scan', dir, '--all'], 'There is no --all'],
      [['scan', dir, 'more'], 'more than this command takes'],
      [['pack'], 'There is no command pack'],
    ] as const) {
      const { code, error } = await run(...args);
      expect(code, args.join(' ')).toBe(2);
      expect(error).toMatch(/^stonetray: /);
      expect(error).toContain(words);
    }
  });

  it('has words for every option of every command', async () => {
    const bare: string[] = [];
    for (const { name, command } of REGISTRY.map((entry) => ({ command: undefined, ...entry }))) {
      const { out } = await run(command ?? name, '--help');
      const options = out.split('\nOptions:\n')[1]!.split(/\n(?= {2}-)/);
      expect(options.length, name).toBeGreaterThan(1);
      for (const option of options)
        if (!/^ +\S.*?\s{2,}\S/s.test(option)) bare.push(`${name} ${option.trim()}`);
    }
    expect(bare).toEqual([]);
  });

  it('moves nothing out of the folder', async () => {
    const dir = await unitFolder();
    for (const to of ['/elsewhere/base.stp', '../base.stp', 'C:\\parts\\base.stp']) {
      const { code, error } = await run('mv', dir, 'parts/base.stp', to);
      expect(code, to).toBe(2);
      expect(error).toMatch(/^stonetray: /);
    }
    expect(await readdir(path.join(dir, 'parts'))).toContain('base.stp');
  });

  it('asks before it makes folders, and refuses files in the place of folders before the work', async () => {
    const dir = await unitFolder();
    const file = `${dir}/parts/base.stp`;
    const out = path.join(folder, 'gone/there.zip');
    const asked = await run('package', file, '--out', out);
    expect(asked).toMatchObject({ code: 2, error: expect.stringContaining('--make-folders') });
    expect(await readdir(folder)).not.toContain('gone');
    expect((await run('package', file, '--out', out, '--make-folders')).code).toBe(0);
    expect(await readdir(path.join(folder, 'gone'))).toEqual(['there.zip']);
    const isFolder = await run('package', file, '--out', folder);
    expect(isFolder).toMatchObject({ code: 2, error: expect.stringContaining('is a folder') });
    expect(await run('split', file, '--to', out)).toMatchObject({
      code: 2,
      error: expect.stringContaining('there.zip is a file'),
    });
  });

  it('ends with 2 where the file to be worked on is not to be read, and says its name first', async () => {
    const dir = await unitFolder();
    const [broken, note] = [`${dir}/broken.stp`, `${dir}/note.txt`];
    writeFileSync(broken, 'no STEP file');
    writeFileSync(note, 'a note');
    const out = path.join(folder, 'made.stp');
    for (const args of [
      ['package', broken, '--out', path.join(folder, 'made.zip')],
      ['lite', broken, '--out', out],
      ['seal', broken, '--out', out],
      ['groups', broken],
      ['bodies', broken],
      ['split', broken],
    ]) {
      const { code, error } = await run(...args);
      expect(code, args.join(' ')).toBe(2);
      expect(error).toMatch(/^stonetray: (unit\/)?broken\.stp( cannot be read.*|: ?)[Ll]ine 1, column 1/);
    }
    for (const command of ['lite', 'seal'])
      expect((await run(command, note, '--out', out)).error).toContain('note.txt is no STEP file');
    expect((await run('groups', note)).error).toContain('note.txt is no STEP file');
    expect((await run('verify', path.join(folder, 'missing.zip'))).error).toContain(
      'missing.zip cannot be read',
    );
  });

  it('counts what is there already when a package is taken in twice', async () => {
    const dir = await unitFolder();
    const zip = path.join(folder, 'base.zip');
    await run('package', `${dir}/drive/drive.stp`, '--out', zip, '--allow-broken');
    const into = path.join(folder, 'into');
    await mkdir(into);
    const first = (await run('import', into, zip, '--json')).json();
    expect(first).toMatchObject({ unchanged: 0 });
    expect(first.added.length).toBeGreaterThan(2);
    const second = (await run('import', into, zip, '--json')).json();
    expect(second).toMatchObject({ added: [], replaced: [], unchanged: first.added.length });
  });

  it.each([
    [['scan', '/does/not/exist']],
    [['tree', '/does/not/exist.stp']],
    [['tree', path.join(import.meta.dirname, 'main.ts')]],
    [['verify', path.join(import.meta.dirname, 'main.ts')]],
    [['repair', DEMO, '--set', 'nonsense', '--dry-run']],
    [['repair', DEMO, '--accept', '7']],
    [['package', '/does/not/exist.stp', '--out', '/tmp/x.zip']],
    [['unpack', 'x.zip']],
    [['fly']],
    [[]],
  ])('%j ends with 2 and says why', async (args) => {
    const { code, error } = await run(...args);
    expect(code).toBe(2);
    expect(error).not.toBe('');
  });

  it('runs from a checkout', async () => {
    const { stdout } = await promisify(execFile)(path.join(import.meta.dirname, '../bin/stonetray'), [
      '--help',
    ]);
    expect(stdout).toContain('scan');
  });
});

describe('split', () => {
  const part = path.join(DEMO, 'bought/actuator-la-300.stp');
  const splitDemo = async (...options: string[]) => {
    const file = path.join(folder, 'actuator.stp');
    await cp(part, file);
    return run('split', file, '--json', ...options);
  };

  it('takes where names come from by its own flag, and what has none from a file, which no flag undoes', async () => {
    const numbered = await splitDemo('--names', 'number', '--dry-run');
    expect(numbered.code).toBe(0);
    expect(numbered.json().bodies[0].file).toMatch(/actuator-0?1\.stp$/);
    const choices = path.join(folder, 'choices.json');
    await writeFile(choices, JSON.stringify({ naming: 'number', folder: 'elsewhere' }));
    const listed = await splitDemo('--choices', choices, '--dry-run');
    expect(listed.json().bodies[0].file).toMatch(/elsewhere\/actuator-0?1\.stp$/);
  });

  it('lists bodies with their facts and distinct shapes', async () => {
    const { code, json } = await run('bodies', part, '--json');
    expect(code).toBe(0);
    const { bodies, shapes } = json();
    expect(shapes).toBe(10);
    expect(bodies).toHaveLength(14);
    expect(bodies[0]).toEqual({
      id: expect.any(Number),
      name: 'lower eye',
      product: 'LA-300-S',
      volume: expect.any(Number),
      area: expect.any(Number),
      center: [expect.any(Number), expect.any(Number), expect.any(Number)],
      box: expect.any(Array),
      boxTolerance: expect.any(Number),
      color: '#6f767d',
      shape: 1,
      error: null,
      doubt: null,
    });
    expect(bodies.filter(({ name }: { name: string }) => name.startsWith('head screw'))).toEqual(
      Array.from({ length: 4 }, () => expect.objectContaining({ shape: 9 })),
    );
  });

  it('makes files and an assembly whose links are sound, and can be undone', async () => {
    const { code, json } = await splitDemo('--check', '--origin', 'axis');
    expect(code).toBe(0);
    const { bodies, components, check } = json();
    expect(check).toMatchObject({ isSame: true, before: { bodies: 14 }, after: { bodies: 14 } });
    expect(components).toBe(10);
    expect(Object.keys(bodies[0]).sort()).toEqual(
      ['body', 'file', 'instances', 'mirrorOf', 'name', 'shape', 'volume'].sort(),
    );
    const { totals, roots } = (await run('scan', folder, '--json')).json();
    expect(totals).toMatchObject({ links: 21, sound: 21, behind: 0, occurrences: 14, distinctParts: 10 });
    expect(roots).toEqual(['actuator/actuator-assembly.stp']);
    expect((await run('undo', folder)).code).toBe(0);
    expect((await run('scan', folder, '--json')).json().totals.files).toBe(1);
  });

  it('takes a folder, a pattern, one file a body, parts in one file, or nothing at all', async () => {
    const to = path.join(folder, 'parts');
    const numbered = await splitDemo(
      '--to',
      to,
      '--no-merge',
      '--pattern',
      'LA-{number}',
      '--origin',
      'body',
      '--no-tie',
    );
    expect(numbered.json().bodies.map(({ file }: { file: string }) => path.basename(file))).toContain(
      'LA-14.stp',
    );
    expect((await run('scan', folder, '--json')).json().totals).toMatchObject({ links: 14, sound: 14 });

    const one = path.join(folder, 'one');
    expect((await splitDemo('--to', one, '--in-file')).code).toBe(0);
    const tree = (await run('tree', path.join(one, 'actuator-assembly.stp'), '--json')).json();
    expect(tree.children).toHaveLength(14);

    const before = (await run('scan', folder, '--json')).json().totals.files;
    expect((await splitDemo('--to', path.join(folder, 'never'), '--dry-run')).json().applied).toBe(false);
    expect((await run('scan', folder, '--json')).json().totals.files).toBe(before);
  });

  it('ends with 2 and says why when there is nothing to split', async () => {
    for (const [file, words] of [
      ['hx-12-heliostat.stp', /is an assembly/],
      ['azimuth-drive/worm.stp', /has one body/],
      ['reports/frame-stiffness.md', /not a STEP file/],
      ['nowhere.stp', /cannot be read/],
    ] as const) {
      const { code, error } = await run('split', path.join(DEMO, file), '--dry-run');
      expect(code, file).toBe(2);
      expect(error).toMatch(words);
    }
    expect((await run('split', part, '--origin', 'moon', '--dry-run')).code).toBe(2);
  });
});
