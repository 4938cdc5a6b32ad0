import { randomBytes, randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import type { ProjectExport } from '#core/project/change/project-export';
import { Refusal } from '#core/refusal';
import { type Actor, holdAs } from '#server/auth/standing';
import { getBlob } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { storedJson } from '#server/db/stored-text';
import { announce } from '#server/events/events';
import { writeLog } from '#server/projects/projects';

/** So many rows are written with one statement. */
const ROWS = 500;

/** Whether nothing was ever done in a project, and a person owns it. */
export async function isUntouched(db: Database, project: string, user: string): Promise<boolean> {
  const owner = await db('members')
    .where({ project_id: project, user_id: user, role: 'owner' })
    .first('role');
  return owner !== undefined && !(await hasHistory(db, project));
}

async function hasHistory(db: Database, project: string): Promise<boolean> {
  for (const table of ['change_sets', 'files', 'publications'])
    if (await db(table).where('project_id', project).first('project_id')) return true;
  return false;
}

/**
 * Brings an exported project back, with every version, change, entry of the log and publication, in one transaction. Its contents are stored
 * already. Whoever has an account here under the address that did something then, did it; others go by their names. Members are
 * invited: nobody joins without saying so.
 * @param finish happens in the transaction, told of what was done in one sentence
 * @throws Refusal when something was done in the project meanwhile; nothing is changed then
 */
export async function restoreProject(
  db: Database,
  actor: Actor,
  exported: ProjectExport,
  finish: (trx: Knex.Transaction, summary: string) => Promise<void>,
): Promise<void> {
  const { project, user } = actor;
  await db.transaction(async (trx) => {
    await holdAs(trx, actor, 'owner', { inArchive: false });
    if (await hasHistory(trx, project))
      throw new Refusal(
        'Something was done in this project meanwhile. Nothing was changed: make a new project, and import it there.',
      );
    const whoDid = await peopleHere(trx, exported);
    await putHistory(trx, project, exported, whoDid);
    await putPublications(trx, project, exported, whoDid);
    await inviteMembers(trx, project, user, exported);
    const { description, searchFolders } = exported;
    await trx('projects')
      .where('id', project)
      .update({ description, search_folders: searchFolders })
      .increment('revision', 1);
    const summary = inOneSentence(exported);
    await writeLog(trx, project, user, 'project', summary);
    await finish(trx, summary);
    await announce(trx, { project, type: 'changed' });
  });
}

function inOneSentence({ exported, files, versions, changes }: ProjectExport): string {
  const day = exported.slice(0, 10);
  return `Brought back as exported on ${day}: files ${files.length}, versions ${versions.length}, changes ${changes.length}`;
}

/** Who did something: an account here, or a name. */
type WhoDid = (person: { who: string; email?: string | null }) => { id: string | null; name: string | null };

async function peopleHere(trx: Knex.Transaction, exported: ProjectExport): Promise<WhoDid> {
  const { versions, changes, log, publications } = exported;
  const addresses = new Set<string>();
  for (const list of [versions, changes, log, publications])
    for (const { email } of list) if (email) addresses.add(email.toLowerCase());
  const rows: { id: string; email: string }[] = await trx('users')
    .whereRaw('lower(email) = any(?)', [[...addresses]])
    .select('id', 'email');
  const ids = new Map(rows.map(({ id, email }) => [email.toLowerCase(), id]));
  return ({ who, email }) => {
    const id = ids.get(email?.toLowerCase() ?? '') ?? null;
    return { id, name: id === null ? who : null };
  };
}

async function putHistory(
  trx: Knex.Transaction,
  project: string,
  { files, versions, changes, log }: ProjectExport,
  whoDid: WhoDid,
): Promise<void> {
  // Ids are this server's own: the project that was exported may be here, too.
  const changeIds = new Map(changes.map(({ id }) => [id, randomUUID()]));
  const fileIds = new Map([...new Set(versions.map(({ file }) => file))].map((file) => [file, randomUUID()]));
  await insert(
    trx,
    'change_sets',
    changes.map((change) => {
      const { id, name } = whoDid(change);
      const { time, summary, rewires, warnings, made } = change;
      return {
        ...{
          id: changeIds.get(change.id),
          project_id: project,
          author_id: id,
          author_name: name,
          time,
          summary,
        },
        changes: storedJson(change.changes),
        rewires: storedJson(rewires),
        warnings: storedJson(warnings),
        made: made ? storedJson(made) : null,
      };
    }),
  );
  // What is taken back is there by now, in whatever order they are listed.
  for (const { id, undoes } of changes)
    if (undoes !== null)
      await trx('change_sets')
        .where('id', changeIds.get(id)!)
        .update({ undoes: changeIds.get(undoes)! });
  await insert(
    trx,
    'versions',
    versions.map((state) => {
      const { id, name } = whoDid(state);
      const { path, sha256, bytes, version, time, note } = state;
      const [file_id, change_set_id] = [fileIds.get(state.file), changeIds.get(state.change)];
      return {
        ...{ project_id: project, path, sha256, bytes, version, file_id, time, note, change_set_id },
        ...{ author_id: id, author_name: name },
      };
    }),
  );
  const times = new Map(versions.map(({ file, version, time }) => [`${file} ${version}`, time]));
  await insert(
    trx,
    'files',
    files.map(({ path, sha256, bytes, version, file }) => ({
      ...{ project_id: project, path, sha256, bytes, version },
      ...{ file_id: fileIds.get(file), time: times.get(`${file} ${version}`) },
    })),
  );
  await insert(
    trx,
    'log',
    log.map((entry) => {
      const { id, name } = whoDid(entry);
      const { time, kind, summary, change } = entry;
      const change_set_id = change === null ? null : changeIds.get(change);
      return { project_id: project, user_id: id, author_name: name, time, kind, summary, change_set_id };
    }),
  );
}

async function insert(trx: Knex.Transaction, table: string, rows: readonly object[]): Promise<void> {
  for (let at = 0; at < rows.length; at += ROWS) await trx(table).insert(rows.slice(at, at + ROWS));
}

/** What was offered is offered again, at the same address where that is free here. */
async function putPublications(
  trx: Knex.Transaction,
  project: string,
  { publications }: ProjectExport,
  whoDid: WhoDid,
): Promise<void> {
  for (const { files, picture, who, email, token, madeFrom, choices, ...publication } of publications) {
    const isTaken = await trx('publications').where('token', token).first('id');
    const [{ id }] = await trx('publications')
      .insert({
        ...publication,
        token: isTaken ? randomBytes(18).toString('base64url') : token,
        facts: storedJson(publication.facts),
        made_from: madeFrom ? storedJson(madeFrom) : null,
        choices: choices ? storedJson(choices) : null,
        project_id: project,
        image: picture === null ? null : await getBlob(trx, picture),
        user_id: whoDid({ who, email }).id,
      })
      .returning('id');
    for (const { sha256, ...file } of files)
      await trx('publication_files').insert({
        ...file,
        publication_id: id,
        content: await getBlob(trx, sha256),
      });
  }
}

async function inviteMembers(
  trx: Knex.Transaction,
  project: string,
  user: string,
  { members }: ProjectExport,
): Promise<void> {
  const { email: own } = await trx('users').where('id', user).first('email');
  const invited = new Map(members.map((member) => [member.email.toLowerCase(), member]));
  invited.delete(own.toLowerCase());
  await insert(
    trx,
    'invitations',
    [...invited.values()].map(({ email, role }) => ({ project_id: project, email, role, invited_by: user })),
  );
}
