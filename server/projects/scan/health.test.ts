import { afterAll, expect, it } from 'vitest';
import { type FileChange, write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { testProject } from '#server/testing';
import { healthOf } from './health';
import { loadProject } from './project-scan';

afterAll(closeDatabase);

it('tells how the links of a project were after each change, the oldest first', async () => {
  const part = writeBoxPart({ id: 'B' });
  const { db, project, fileSet } = await testProject(
    new MemoryFileSet([
      ['a.stp', testAssembly('A', [{ written: 'b.stp', id: 'B' }])],
      ['b.stp', part],
    ]),
  );
  const change = async (one: FileChange) => {
    await fileSet.applyAs({ summary: 'A change', changes: [one], rewires: [], warnings: [] });
    await loadProject(db, project);
  };
  await loadProject(db, project);
  await change({ action: 'delete', path: 'b.stp', base: sha256(part) });
  await change(write('b.stp', null, part));
  // Looked at again, nothing is added.
  await loadProject(db, project);
  const points = (await healthOf(db, [project])).get(project)!;
  expect(points.map(({ links: { sound, missing } }) => [sound, missing])).toEqual([
    [1, 0],
    [0, 1],
    [1, 0],
  ]);
  const times = points.map(({ time }) => Date.parse(time));
  expect(times).toEqual([...times].sort((a, b) => a - b));
  expect(new Set(times).size).toBe(3);
});
