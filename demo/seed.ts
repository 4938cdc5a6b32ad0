import path from 'node:path';
import { baseName } from '#core/files/links/paths';
import { type ChangeSet, write } from '#core/project/change/change-set';
import { putUser } from '#server/auth/sessions';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { requestShapes } from '#server/jobs/shapes';
import { storeOffer } from '#server/projects/catalogue/publish';
import { ProjectFileSet } from '#server/projects/files/project-files';
import { createProject, putMember } from '#server/projects/projects';
import { loadProject } from '#server/projects/scan/project-scan';
import { DEMO_USERS } from './account';
import { OFFERED, readOffer } from './offered';
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

/** Puts a second project beside it: what is given out of the HX-12, with what the catalogue offers of it. */
export async function seedGivenOut(db: Database): Promise<void> {
  const project = await seedProject(
    db,
    'HX-12, given out',
    'The drive as a lite model, the field unit in moving groups, the actuator as one sealed solid.',
    ['hx-12', 'given-out'],
  );
  const { user_id: user } = await db('members')
    .where({ project_id: project, role: 'owner' })
    .first('user_id');
  for (const { folder, file, title } of OFFERED) {
    const { sha256 } = await db('files').where({ project_id: project, path: file }).first('sha256');
    const offer = await readOffer(folder, { name: baseName(file), content: await getBlob(db, sha256) });
    await db.transaction((trx) =>
      storeOffer(trx, { project, user }, { path: file, title, sha256, ...offer }),
    );
  }
}

/** Puts a third project beside them: what arrived from outside, to be changed. */
export async function seedArrived(db: Database): Promise<void> {
  await seedProject(
    db,
    'HX-12, arrived',
    'A terminal box in eight small files, a limit switch with all of its parts in one, a longer lever for it.',
    ['arrived'],
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
