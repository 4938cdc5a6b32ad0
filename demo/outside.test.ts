import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { scanFileSet } from '#core/project/scan/scan';
import { structureTable } from '#core/project/scan/structure-table';
import { hasOutsideReader, type OutsideView, readOutside } from '#core/testing/outside-reader';
import { repairAll } from './repair-all';

const ROOT = 'hx-12-heliostat.stp';

describe.skipIf(!hasOutsideReader)('the HX-12, read by somebody else', () => {
  let folder: string;
  let views: Map<string, OutsideView>;
  let bodies: number;

  beforeAll(async () => {
    folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-outside-demo-'));
    cpSync(path.join(import.meta.dirname, 'files'), folder, { recursive: true });
    const files = await FolderFileSet.open(path.join(folder, 'hx-12'));
    await repairAll(files);
    const repaired = await scanFileSet(files);
    bodies = structureTable(repaired, ROOT, false).instances.length;
    const paths = [...repaired.files.values()]
      .filter(({ scan }) => scan.format === 'step')
      .map((file) => file.path);
    const names = [...paths, '../later/mirror-frame.stp'];
    const read = readOutside(names.map((name) => path.join(folder, 'hx-12', name)));
    views = new Map(names.map((name, n) => [name, read[n]!]));
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it('is one shape a file, without a complaint', () => {
    expect(views.size).toBeGreaterThan(36);
    for (const [name, { free, messages }] of views)
      expect({ free, messages }, name).toEqual({ free: 1, messages: [] });
  });

  it('holds every body, once its broken links are repaired', () => {
    expect(views.get(ROOT)!.solids).toHaveLength(bodies);
    expect(bodies).toBeGreaterThan(250);
  });
});
