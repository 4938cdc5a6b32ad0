import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { type ChangeSet, write } from '#core/change/change-set';
import { MemoryFileSet } from '#core/change/memory';
import { putUser } from '#server/auth/sessions';
import type { Database } from '#server/db/connection';
import { requestShapes } from '#server/jobs/shapes';
import { ProjectFileSet } from '#server/projects/project-files';
import { loadProject } from '#server/projects/project-scan';
import { createProject, putMember } from '#server/projects/projects';
import { DEMO_USERS } from './account';

const FILES = path.join(import.meta.dirname, 'files', 'hx-12');

/** Puts the demo users and the HX-12 project into an empty database. @returns the project's id */
export async function seedDemo(db: Database): Promise<string> {
  const engineer = await putUser(db, DEMO_USERS.engineer);
  const viewer = await putUser(db, DEMO_USERS.viewer);
  const project = await createProject(
    db,
    engineer.id,
    'HX-12 heliostat',
    'Field unit that steers a mirror: pedestal, azimuth drive, elevation and mirror.',
  );
  await putMember(db, project, viewer.id, 'viewer');
  const files = new ProjectFileSet(db, project, engineer.id);
  const contents = new MemoryFileSet(await readAll(FILES));
  const plan: ChangeSet = { summary: 'Imported hx-12', changes: [], rewires: [], warnings: [] };
  for (const { path: file } of await contents.list())
    plan.changes.push(write(file, null, await contents.read(file)));
  await files.applyAs(plan);
  await requestShapes(db, await loadProject(db, project));
  return project;
}

async function readAll(folder: string): Promise<[string, Uint8Array][]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  return Promise.all(
    entries
      .filter((entry) => entry.isFile())
      .map(async (entry): Promise<[string, Uint8Array]> => {
        const full = path.join(entry.parentPath, entry.name);
        return [path.relative(folder, full).split(path.sep).join('/'), await readFile(full)];
      }),
  );
}
