import { readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { inFileComponents } from '#core/jobs/putout/components';
import { reportOf } from '#core/jobs/scan/scan-report';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { scanFileSet } from '#core/project/scan/scan';
import { treeOf } from '#core/project/scan/tree';
import { ACTUATOR_LENGTH } from './model/assemblies';

const FILES = path.join(import.meta.dirname, 'files/hx-12');
const ARRIVED = path.join(import.meta.dirname, 'files/arrived');

describe('the HX-12', () => {
  it('is as large and as deep as it should be, and wrong only where it is meant to be', async () => {
    const project = await scanFileSet(await FolderFileSet.open(FILES));
    const report = reportOf(project);
    expect(report.files.length).toBeGreaterThanOrEqual(25);
    expect(report.totals.occurrences).toBeGreaterThanOrEqual(120);
    expect(report.files.filter(({ error }) => error)).toEqual([]);
    expect(report.roots).toEqual(['hx-12-heliostat.stp']);
    expect(
      report.links.filter(({ state }) => state !== 'sound').map(({ written, state }) => [written, state]),
    ).toEqual([
      ['az-lid.stp', 'missing'],
      ['../azimuth-drive/az-lid.stp', 'missing'],
      ['../pins/clevis pin 20x90.stp', 'missing'],
      ['../norm/washer-m10.stp', 'ambiguous'],
      ['panel-clip-set.stp', 'behind'],
    ]);
    const depth = (node: { children: never[] }): number => 1 + Math.max(0, ...node.children.map(depth));
    expect(depth(treeOf(project, 'hx-12-heliostat.stp')[0] as never)).toBe(4);
  });

  it('has colours and names on every body', async () => {
    const project = await scanFileSet(await FolderFileSet.open(FILES));
    for (const { path: file, scan } of project.files.values()) {
      for (const { bodies } of scan.products)
        for (const { name, colour } of bodies) expect(colour && name, file).toBeTruthy();
    }
    expect(
      project.files.get('mirror/mirror-frame.stp')!.scan.products[0]!.bodies.length,
    ).toBeGreaterThanOrEqual(45);
  });

  it('hangs together: the actuator reaches from pin to pin', async () => {
    const project = await scanFileSet(await FolderFileSet.open(FILES));
    const [elevation] = treeOf(project, 'elevation/elevation.stp');
    const at = (name: string) =>
      elevation!.children
        .filter((child) => child.name.startsWith(name))
        .map(({ placement }) => [placement[3]!, placement[7]!, placement[11]!]);
    const [lower, upper] = at('Clevis pin') as [number[], number[]];
    expect(Math.hypot(...lower.map((value, n) => value - upper[n]!))).toBeCloseTo(ACTUATOR_LENGTH, 6);
    expect(at('Linear actuator')[0]).toEqual(lower);
  });

  it('names no program, person or place that exists', async () => {
    for (const { path: file } of await (await FolderFileSet.open(FILES)).list()) {
      if (!file.endsWith('.stp')) continue;
      const head = readFileSync(path.join(FILES, file), 'latin1').slice(0, 2000);
      expect(head, file).toMatch(/'Stone Tray','Stone Tray demo'/);
      expect(head, file).not.toMatch(/Open CASCADE/i);
    }
  });
});

describe('what arrived', () => {
  it('is a box in many files, a switch in one, and a longer lever', async () => {
    const project = await scanFileSet(await FolderFileSet.open(ARRIVED));
    const box = project.files.get('terminal-box/terminal-box-tb-6.stp')!.scan;
    const lies = project.files.get('limit-switch/limit-switch-ls-2.stp')!.scan;
    expect(box.links).toHaveLength(8);
    expect(project.links.every(({ state }) => state === 'sound')).toBe(true);
    expect(lies.links).toEqual([]);
    expect(inFileComponents(lies).map(({ name, level }) => [name, level])).toEqual(
      expect.arrayContaining([
        ['Roller lever', 1],
        ['Lever arm 30', 2],
      ]),
    );
    expect(project.files.has('limit-switch/lever-arm-50.stp')).toBe(true);
    for (const { scan } of project.files.values())
      for (const { bodies } of scan.products)
        for (const { name, colour } of bodies) expect(name && colour).toBeTruthy();
  });
});
