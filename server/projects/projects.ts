import type { Role } from '#server/auth/guard';
import type { Database } from '#server/db/connection';

/** A project as the list of projects shows it. */
export interface ProjectCard {
  id: string;
  name: string;
  description: string;
  role: Role;
  changed: string;
  /** Counts its changes. */
  revision: number;
  isArchived: boolean;
  /** The person has starred it. */
  isStarred: boolean;
}

/** The projects of a person: those with a star first, then those that were opened last. */
export async function listProjects(db: Database, userId: string): Promise<ProjectCard[]> {
  const rows = await db('projects')
    .join('members', 'members.project_id', 'projects.id')
    .where({ user_id: userId, deleted: null })
    .select('projects.id', 'projects.name', 'projects.description', 'members.role', 'projects.created_at')
    .select('projects.revision', 'projects.archived', 'members.starred')
    .select(db('log').max('time').whereRaw('log.project_id = projects.id').as('last'))
    .orderBy([
      { column: 'members.starred', order: 'desc' },
      { column: 'members.opened', order: 'desc', nulls: 'last' },
      { column: 'projects.name' },
    ]);
  return rows.map(({ id, name, description, role, created_at, revision, archived, starred, last }) => ({
    id,
    name,
    description,
    role,
    changed: (last ?? created_at).toISOString(),
    revision: Number(revision),
    isArchived: archived !== null,
    isStarred: starred,
  }));
}

export async function createProject(
  db: Database,
  ownerId: string,
  name: string,
  description = '',
): Promise<string> {
  return db.transaction(async (trx) => {
    const [{ id }] = await trx('projects').insert({ name, description }).returning('id');
    await trx('members').insert({ project_id: id, user_id: ownerId, role: 'owner' });
    await trx('log').insert({
      project_id: id,
      user_id: ownerId,
      kind: 'project',
      summary: 'Created the project',
    });
    return id as string;
  });
}

/** Whoever did something and is no user any more. */
export const GONE = 'Somebody who is gone';

/** The name of whoever did something: the person's, or as it came with a history from elsewhere. */
function nameOf(db: Database, table: 'change_sets' | 'log' | 'versions') {
  return db.raw('coalesce(users.name, ??) as name', [`${table}.author_name`]);
}

/** Gives a user a role in a project, or changes it. */
export async function putMember(db: Database, projectId: string, userId: string, role: Role): Promise<void> {
  await db('members')
    .insert({ project_id: projectId, user_id: userId, role })
    .onConflict(['project_id', 'user_id'])
    .merge(['role']);
}

/** One line of a project's log. */
export interface LogEntry {
  id: number;
  time: string;
  who: string;
  kind: string;
  summary: string;
  changeSet: {
    id: string;
    files: number;
    rewires: { holder: string; written: string; rewritten: string }[];
    undone: boolean;
    isUndo: boolean;
    /** The operation that made it, where it can be planned again with the same choices. */
    made: string | null;
  } | null;
}

interface LogRow {
  id: string;
  time: Date;
  kind: string;
  summary: string;
  name: string | null;
  change_set_id: string | null;
  rewires: { holder: string; written: string; rewritten: string }[];
  undoes: string | null;
  made: string | null;
  files: number;
  undone: boolean;
}

/** The newest entries of the log, newest first. @param before only those with a smaller id */
export async function readLog(db: Database, projectId: string, before?: number): Promise<LogEntry[]> {
  const rows = await db('log')
    .leftJoin('users', 'users.id', 'log.user_id')
    .leftJoin('change_sets', 'change_sets.id', 'log.change_set_id')
    .where('log.project_id', projectId)
    .modify((query) => before !== undefined && query.where('log.id', '<', before))
    .orderBy('log.id', 'desc')
    .limit(200)
    .select(
      'log.id',
      'log.time',
      'log.kind',
      'log.summary',
      nameOf(db, 'log'),
      'change_sets.id as change_set_id',
      'change_sets.rewires',
      'change_sets.undoes',
    )
    .select(db.raw("change_sets.made ->> 'operation' as made"))
    .select(db.raw('jsonb_array_length(change_sets.changes) as files'))
    .select(db.raw('exists (select 1 from change_sets later where later.undoes = change_sets.id) as undone'));
  return (rows as LogRow[]).map((row) => ({
    id: Number(row.id),
    time: row.time.toISOString(),
    who: row.name ?? GONE,
    kind: row.kind,
    summary: row.summary,
    changeSet:
      row.change_set_id === null
        ? null
        : {
            id: row.change_set_id,
            files: row.files,
            rewires: row.rewires,
            undone: row.undone,
            isUndo: row.undoes !== null,
            made: row.undoes === null ? row.made : null,
          },
  }));
}

/** A change that an operation made, with all that is needed to make it again. */
export interface RecordedChange {
  summary: string;
  who: string;
  /** ISO 8601. */
  when: string;
  made: { operation: string; choices: object };
}

/** @returns undefined for a change that is not of the project, or that no operation made */
export async function recordedChange(
  db: Database,
  projectId: string,
  id: string,
): Promise<RecordedChange | undefined> {
  const row = await db('change_sets')
    .leftJoin('users', 'users.id', 'change_sets.author_id')
    .where({ project_id: projectId, 'change_sets.id': id })
    .first('summary', 'made', nameOf(db, 'change_sets'), 'change_sets.time');
  if (!row?.made) return undefined;
  return {
    summary: row.summary,
    who: row.name ?? GONE,
    when: row.time.toISOString(),
    made: row.made,
  };
}

/** @param of path of the file that the entry is about, where there is one and no change says so */
export async function writeLog(
  db: Database,
  projectId: string,
  userId: string,
  kind: string,
  summary: string,
  of?: string,
): Promise<void> {
  const file = of && (await db('files').where({ project_id: projectId, path: of }).first('file_id'));
  await db('log').insert({ project_id: projectId, user_id: userId, kind, summary, file_id: file?.file_id });
}

/** What was done with a file that left no file tied to it. */
export interface DoneWithFile {
  /** The operation. */
  operation: string;
  summary: string;
  who: string;
  time: string;
}

/** So many are told of; all of them stand on Activity. */
const MOST_DONE = 8;

/**
 * What some operations did with a file, wherever it lay then, the newest first: those that leave no file that is tied to it. A change
 * that was taken back is none.
 */
export async function doneWithFile(
  db: Database,
  projectId: string,
  path: string,
  operations: readonly string[],
): Promise<DoneWithFile[]> {
  const file = await db('files').where({ project_id: projectId, path }).first('file_id');
  if (!file) return [];
  const rows: { operation: string; summary: string; name: string | null; time: Date }[] = await db('log')
    .leftJoin('users', 'users.id', 'log.user_id')
    .leftJoin('change_sets', 'change_sets.id', 'log.change_set_id')
    .where('log.project_id', projectId)
    .where((query) =>
      query.where('log.file_id', file.file_id).orWhereExists(
        db('versions')
          .whereRaw('versions.change_set_id = change_sets.id')
          .where('versions.file_id', file.file_id)
          .whereNull('change_sets.undoes')
          .whereRaw(`change_sets.made ->> 'operation' = any(?)`, [[...operations]])
          .whereNotExists(db('change_sets as later').whereRaw('later.undoes = change_sets.id')),
      ),
    )
    .whereRaw(`coalesce(change_sets.made ->> 'operation', log.kind) = any(?)`, [[...operations]])
    .orderBy('log.id', 'desc')
    .limit(MOST_DONE)
    .select('log.summary', 'log.time', nameOf(db, 'log'))
    .select(db.raw(`coalesce(change_sets.made ->> 'operation', log.kind) as operation`));
  return rows.map(({ operation, summary, name, time }) => ({
    operation,
    summary,
    who: name ?? GONE,
    time: time.toISOString(),
  }));
}

/** One kept state of a file. */
export interface FileVersion {
  version: number;
  /** Where the file lay then. */
  path: string;
  sha256: string;
  bytes: number;
  who: string;
  time: string;
  note: string;
}

/** The versions of a file, the newest first, under whatever path it lay. */
export async function versionsOf(db: Database, projectId: string, path: string): Promise<FileVersion[]> {
  const rows = await db('versions')
    .leftJoin('users', 'users.id', 'versions.author_id')
    .whereIn('file_id', db('files').where({ project_id: projectId, path }).select('file_id'))
    .orderBy('version', 'desc')
    .select('versions.*', nameOf(db, 'versions'));
  return rows.map((row) => ({
    version: row.version,
    path: row.path,
    sha256: row.sha256,
    bytes: Number(row.bytes),
    who: row.name ?? GONE,
    time: row.time.toISOString(),
    note: row.note,
  }));
}

/** Grows with every change of a project. */
export async function projectRevision(db: Database, projectId: string): Promise<number> {
  const row = await db('projects').where('id', projectId).first('revision');
  return Number(row?.revision ?? 0);
}
