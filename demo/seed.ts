import path from 'node:path';
import { type ChangeSet, write } from '#core/project/change/change-set';
import { putUser } from '#server/auth/sessions';
import type { Database } from '#server/db/connection';
import { requestShapes } from '#server/jobs/shapes';
import { ProjectFileSet } from '#server/projects/files/project-files';
import { createProject, putMember } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { DEMO_USERS } from './account';
import { readFolder } from './read-folder';

const FILES = path.join(import.meta.dirname, 'files');

/** Puts the demo users and the HX-12 project into an empty database. @returns the project's id */
export async function seedDemo(db: Database): Promise<string> {
  return seedProject(
    db,
    'HX-12 heliostat',
    'Field unit that steers a mirror: pedestal, azimuth drive, elevation and mirror.',
    ['hx-12'],
  );
}

/** Puts a second project beside it: what is given out of the HX-12. */
export async function seedGivenOut(db: Database): Promise<void> {
  await seedProject(
    db,
    'HX-12, given out',
    'The drive as a lite model, the field unit in moving groups, the actuator as one sealed solid.',
    ['hx-12', 'given-out'],
  );
}

/** @param folders of the demo's files; those of a later one take the place of earlier ones */
async function seedProject(
  db: Database,
  name: string,
  purpose: string,
  folders: readonly string[],
): Promise<string> {
  const [engineer, viewer] = await Promise.all(
    [DEMO_USERS.engineer, DEMO_USERS.viewer].map((user) => putUser(db, user)),
  );
  const id = await createProject(db, engineer!.id, name, purpose);
  await putMember(db, id, viewer!.id, 'viewer');
  const contents = new Map<string, Uint8Array>();
  for (const folder of folders)
    for (const [file, content] of await readFolder(path.join(FILES, folder))) contents.set(file, content);
  const plan: ChangeSet = { summary: `Imported ${folders.at(-1)}`, changes: [], rewires: [], warnings: [] };
  for (const [file, content] of contents) plan.changes.push(write(file, null, content));
  await new ProjectFileSet(db, id, engineer!.id).applyAs(plan);
  await requestShapes(db, await loadProject(db, id));
  return id;
}
