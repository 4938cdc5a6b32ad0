import { cp, mkdtemp, readFile, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { run } from './testing';

const DEMO = path.join(import.meta.dirname, '../demo/files/hx-12');
let folder: string;
let dir: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'stonetray-asks-'));
  dir = path.join(folder, 'hx-12');
  await cp(DEMO, dir, { recursive: true });
});
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('what is asked of a folder', () => {
  it('says what uses files and what they use, looking in the whole project', async () => {
    const { code, json } = await run('used-in', path.join(dir, 'standard/screw-m6x20.stp'), '--json');
    expect(code).toBe(0);
    expect(json()).toMatchObject({ roots: ['hx-12-heliostat.stp'] });
    expect(
      json().files.map((file: { path: string; occurrences: number }) => [file.path, file.occurrences]),
    ).toEqual([
      ['azimuth-drive/azimuth-drive.stp', 16],
      ['mirror/mirror.stp', 24],
      ['hx-12-heliostat.stp', 40],
    ]);
    const uses = await run(
      'uses',
      path.join(dir, 'azimuth-drive/azimuth-drive.stp'),
      path.join(dir, 'mirror/mirror.stp'),
    );
    expect(uses.code).toBe(1);
    expect(uses.out).toMatch(/^az-lid.stp +component +missing/m);
    expect(uses.out).toContain('These 2 files use');
    const gone = await run('used-in', path.join(dir, 'gone.stp'));
    expect(gone.code).toBe(2);
  });

  it('lists what to order, sets a material, and writes a workbook', async () => {
    const pedestal = path.join(dir, 'pedestal/pedestal.stp');
    const csv = await run('bom', pedestal, '--form', 'parts', '--no-masses', '--csv');
    expect(csv.out.split(/\r?\n/)[0]).toMatch(/^Part number,Name,In all,Material/);
    expect(csv.out).toMatch(/^STD-NUT-M24,Hexagon nut M24,8,Steel/m);
    const set = await run(
      'material',
      dir,
      'pedestal/anchor-stud-m24.stp',
      '--material',
      'Stainless steel',
      '--json',
    );
    expect(set.code).toBe(0);
    const { json } = await run('bom', pedestal, '--no-masses', '--json');
    expect(json().rows.find(({ id }: { id: string }) => id === 'HX12-111')).toMatchObject({
      material: 'Stainless steel',
      density: 7900,
      quantity: 8,
      properties: { Treatment: 'hot-dip galvanised' },
    });
    const file = path.join(folder, 'bill.xlsx');
    expect((await run('bom', pedestal, '--no-masses', '--xlsx', file)).code).toBe(0);
    const sheet = unzipSync(await readFile(file));
    expect(Buffer.from(sheet['xl/sharedStrings.xml']!).toString()).toContain('Hexagon nut M24');
    expect((await run('bom', pedestal, '--no-masses', '--xlsx', file)).error).toContain('exists already');
  });

  it('gives advice with exit code 1, and draws the map in words', async () => {
    const advice = await run('advice', dir, '--no-shapes', '--json');
    expect(advice.code).toBe(1);
    expect(advice.json().findings).toContainEqual({
      kind: 'many-bodies',
      files: ['mirror/mirror-frame.stp'],
      words: 'mirror/mirror-frame.stp is placed as one part and holds 52 bodies.',
    });
    const map = await run('map', dir, '--file', 'standard/bearing-6204.stp', '--steps', '1');
    expect(map.out).toMatch(/azimuth-drive\/azimuth-drive.stp +-> +standard\/bearing-6204.stp +component/);
  });

  it('attaches and detaches', async () => {
    const attached = await run(
      'attach',
      dir,
      'reports/frame-stiffness.md',
      '--model',
      'mirror/mirror.stp',
      '--note',
      'notes',
    );
    expect(attached.code).toBe(0);
    const users = await run('used-in', path.join(dir, 'mirror/mirror.stp'), '--json');
    expect(users.json().files).toContainEqual(
      expect.objectContaining({ path: 'reports/frame-stiffness.md', kind: 'attachment' }),
    );
    const detached = await run(
      'detach',
      dir,
      '--source',
      'mirror/mirror.stp',
      '--files',
      'reports/frame-stiffness.md',
    );
    expect(detached.code).toBe(0);
    const clip = await run('detach', path.join(dir, 'mirror/panel-clip.stp'), '--dry-run');
    expect(clip.code).toBe(0);
    expect(clip.out).toContain('Detached panel-clip.stp from panel-clip-set.stp');
    const none = await run('detach', path.join(dir, 'mirror/mirror-panel.stp'), '--dry-run');
    expect(none.code).not.toBe(0);
  });
});
