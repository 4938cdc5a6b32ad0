import { execFile } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildNode, packagesLeftAlone } from '../scripts/build-node.mjs';

const ROOT = path.join(import.meta.dirname, '..');
const run = promisify(execFile);
let folder: string;
/** The package as it would be unpacked, with nothing of this repository but what it says that it holds and needs. */
let place: string;

beforeAll(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-package-'));
  place = path.join(folder, 'node_modules/stone-tray');
  mkdirSync(place, { recursive: true });
  const { stdout } = await run('npm', ['pack', '--dry-run', '--json', '--ignore-scripts'], { cwd: ROOT });
  // Some versions list by name.
  const packed = JSON.parse(stdout) as
    | { files: { path: string }[] }[]
    | { [name: string]: { files: { path: string }[] } };
  const [{ files }] = Object.values(packed) as [{ files: { path: string }[] }];
  expect(files.some(({ path: file }) => file === 'bin/stonetray')).toBe(true);
  for (const { path: file } of files) {
    // Built anew: what lies there may be of another day.
    if (file.startsWith('build/')) continue;
    mkdirSync(path.dirname(path.join(place, file)), { recursive: true });
    cpSync(path.join(ROOT, file), path.join(place, file));
  }
  await buildNode(path.join(place, 'build/node'));
  const { dependencies } = packagesLeftAlone();
  for (const name of Object.keys(dependencies)) {
    mkdirSync(path.dirname(path.join(folder, 'node_modules', name)), { recursive: true });
    symlinkSync(path.join(ROOT, 'node_modules', name), path.join(folder, 'node_modules', name));
  }
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('the package', () => {
  it('runs without this repository: nothing is translated, and no source of it is there', async () => {
    expect(existsSync(path.join(place, 'core'))).toBe(false);
    const stonetray = (...args: string[]) =>
      run(process.execPath, [path.join(place, 'bin/stonetray'), ...args], { cwd: folder }).catch(
        (error: { stdout: string; code: number }) => error,
      );
    expect((await stonetray('--help')).stdout).toContain('scan');
    cpSync(path.join(ROOT, 'demo/files/hx-12/standard'), path.join(folder, 'parts'), { recursive: true });
    const scanned = JSON.parse((await stonetray('scan', 'parts', '--json')).stdout);
    expect(scanned.totals.files).toBeGreaterThan(5);
    const washer = JSON.parse((await stonetray('bodies', 'parts/washer-m10.stp', '--json')).stdout);
    expect(washer.bodies[0].volume).toBeCloseTo(451.8, 0);
    const moved = await stonetray('mv', 'parts', 'washer-m10.stp', 'disc.stp');
    expect(moved.stdout).toContain('moved  washer-m10.stp -> disc.stp');
    expect((await stonetray('undo', 'parts')).stdout).toContain('Undid: Renamed washer-m10.stp');
  });

  it('needs nothing besides what it says that it depends on', () => {
    const { leftAlone, dependencies } = packagesLeftAlone();
    const known = (name: string) =>
      name.endsWith('/*')
        ? Object.keys(dependencies).some((one) => one.startsWith(name.slice(0, -1)))
        : name in dependencies;
    expect(leftAlone.filter((name) => !known(name))).toEqual([]);
  });
});
