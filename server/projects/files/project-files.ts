import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { z } from 'zod';
import {
  type ChangeableFileSet,
  type ChangeSet,
  checkConflicts,
  contentsOf,
  type FileChange,
  inverse,
  withoutContents,
} from '#core/project/change/change-set';
import { type FileEntry, MissingFileError } from '#core/project/change/file-set';
import { noChange, standingOf, type WhichChange } from '#core/project/change/standing';
import { Refusal } from '#core/refusal';
import { holdAs, holdProject } from '#server/auth/standing';
import { contentsByHash, getBlob, putBlobs } from '#server/db/blobs';
import type { Database } from '#server/db/connection';
import { storedJson } from '#server/db/stored-text';
import { announce } from '#server/events/events';

/** So many rows are written with one statement. */
const ROWS = 500;

/** What goes along with applying a change. */
interface Along {
  /** Told how many of the new contents are stored. */
  onStored?: (done: number, of: number) => Promise<void>;
  /** Happens in the transaction of the change; when it throws, nothing is changed. */
  within?: (trx: Knex.Transaction, changeSet: string) => Promise<void>;
}

/** A file as it lies in the project. */
interface CurrentFile extends FileEntry {
  fileId: string;
}

/** A content on its way to a path; of a file that is not there yet, without one. */
interface ArrivingFile extends FileEntry {
  fileId: string | null;
}

/** A project's files in the database. Every change is one transaction that keeps each version it replaces. */
export class ProjectFileSet implements ChangeableFileSet {
  constructor(
    private readonly db: Database,
    private readonly projectId: string,
    private readonly authorId: string | null = null,
    private readonly session: string | null = null,
  ) {}

  async list(): Promise<FileEntry[]> {
    const rows = await this.db('files')
      .where('project_id', this.projectId)
      .orderBy('path')
      .select('path', 'bytes', 'sha256');
    return rows.map(({ path, bytes, sha256 }) => ({ path, bytes: Number(bytes), sha256 }));
  }

  async read(path: string): Promise<Uint8Array> {
    const row = await this.db('files').where({ project_id: this.projectId, path }).first('sha256');
    if (!row) throw new MissingFileError(path);
    return getBlob(this.db, row.sha256);
  }

  async apply(changes: ChangeSet): Promise<ChangeSet> {
    const id = await this.applyAs(changes);
    return this.planUndo(id);
  }

  /**
   * Applies and records a ChangeSet.
   * @param along what else happens in the same transaction, and what is told while contents are stored
   * @returns the id under which it is recorded
   * @throws ConflictError, and nothing is changed
   */
  async applyAs(changes: ChangeSet, along: Along = {}): Promise<string> {
    // Contents go in first, outside the lock: a content that nothing refers to does no harm.
    const contents = contentsByHash(contentsOf(changes));
    await putBlobs(this.db, contents, async (done) => along.onStored?.(done, contents.size));
    return this.db.transaction(async (trx) => {
      await this.hold(trx);
      const current = await this.currentFiles(trx, changes);
      checkConflicts(changes, (path) => current.get(path));
      const changeSetId = await this.record(trx, changes);
      await this.putFiles(trx, changes, current, changeSetId);
      await trx('log').insert({
        project_id: this.projectId,
        user_id: this.authorId,
        kind: changes.undoes === undefined ? 'change' : 'undo',
        summary: changes.summary,
        change_set_id: changeSetId,
      });
      await trx('projects').where('id', this.projectId).increment('revision', 1);
      await along.within?.(trx, changeSetId);
      await announce(trx, { project: this.projectId, type: 'changed' });
      return changeSetId;
    });
  }

  /** One change at a time for a project. @throws Refusal when it may not be changed any more, or not by this person */
  private async hold(trx: Knex.Transaction): Promise<void> {
    const { projectId: project, authorId: user, session } = this;
    if (user === null) await holdProject(trx, project, { inArchive: false });
    else await holdAs(trx, { project, user, session }, 'editor');
  }

  /** What lies now where a change writes, moves or deletes. */
  private async currentFiles(
    trx: Knex.Transaction,
    { changes }: ChangeSet,
  ): Promise<ReadonlyMap<string, CurrentFile>> {
    const paths = changes.flatMap((change) =>
      change.action === 'move' ? [change.path, change.to] : [change.path],
    );
    const rows: { path: string; bytes: string; sha256: string; file_id: string }[] = await trx('files')
      .where('project_id', this.projectId)
      // An array is one binding: a statement takes no more than 65,535.
      .whereRaw('path = any(?)', [paths])
      .select('path', 'bytes', 'sha256', 'file_id');
    return new Map(
      rows.map(({ path, bytes, sha256, file_id: fileId }) => [
        path,
        { path, bytes: Number(bytes), sha256, fileId },
      ]),
    );
  }

  /** Records a change. @returns its id */
  private async record(trx: Knex.Transaction, changes: ChangeSet): Promise<string> {
    const [{ id }] = await trx('change_sets')
      .insert({
        project_id: this.projectId,
        author_id: this.authorId,
        summary: changes.summary,
        changes: storedJson(withoutContents(changes.changes)),
        rewires: storedJson(changes.rewires),
        warnings: storedJson(changes.warnings),
        undoes: changes.undoes ?? null,
        made: changes.made === undefined ? null : storedJson(changes.made),
      })
      .returning('id');
    return id;
  }

  /** Puts the files in place: what leaves first, then what arrives, each as the next version of its file. */
  private async putFiles(
    trx: Knex.Transaction,
    { changes, summary }: ChangeSet,
    current: ReadonlyMap<string, CurrentFile>,
    changeSetId: string,
  ): Promise<void> {
    const leaving = changes.filter(({ action }) => action !== 'write').map(({ path }) => path);
    if (leaving.length > 0)
      await trx('files').where('project_id', this.projectId).whereRaw('path = any(?)', [leaving]).delete();
    const files = await this.nextVersions(trx, arrivingFiles(changes, current));
    for (let at = 0; at < files.length; at += ROWS) {
      const rows = files.slice(at, at + ROWS);
      await trx('versions').insert(
        rows.map((file) => ({
          ...file,
          author_id: this.authorId,
          note: summary,
          change_set_id: changeSetId,
        })),
      );
      // A path that arrives twice is there as it arrived last.
      await trx('files')
        .insert([...new Map(rows.map((file) => [file.path, file])).values()])
        .onConflict(['project_id', 'path'])
        .merge(['sha256', 'bytes', 'version', 'time', 'file_id']);
    }
  }

  /** Rows of files that arrive, each with the number of its version. */
  private async nextVersions(trx: Knex.Transaction, arriving: readonly ArrivingFile[]) {
    const known = await this.knownFiles(
      trx,
      arriving.flatMap(({ path, fileId }) => (fileId === null ? [path] : [])),
    );
    const named = arriving.map(({ fileId, ...file }) => ({
      ...file,
      fileId: fileId ?? known.get(file.path) ?? randomUUID(),
    }));
    const newest: { file_id: string; max: number }[] = await trx('versions')
      .whereRaw('file_id = any(?)', [named.map(({ fileId }) => fileId)])
      .groupBy('file_id')
      .select('file_id')
      .max('version as max');
    const versions = new Map(newest.map(({ file_id, max }) => [file_id, max]));
    return named.map(({ path, sha256, bytes, fileId }) => {
      const version = (versions.get(fileId) ?? 0) + 1;
      versions.set(fileId, version);
      return { project_id: this.projectId, path, sha256, bytes, version, file_id: fileId };
    });
  }

  /** The files that lay at some paths last and lie nowhere now: a new file there goes on from them. */
  private async knownFiles(trx: Knex.Transaction, paths: readonly string[]): Promise<Map<string, string>> {
    if (paths.length === 0) return new Map();
    const rows: { path: string; file_id: string }[] = await trx('versions')
      .where('project_id', this.projectId)
      .whereRaw('path = any(?)', [[...paths]])
      .whereNotExists(trx('files').whereRaw('files.file_id = versions.file_id'))
      .distinctOn('path')
      .orderBy([{ column: 'path' }, { column: 'time', order: 'desc' }, { column: 'version', order: 'desc' }])
      .select('path', 'file_id');
    return new Map(rows.map(({ path, file_id }) => [path, file_id]));
  }

  /** What was done in the project, oldest first. */
  async history(): Promise<{ id: string; time: string; summary: string }[]> {
    const rows: { id: string; time: Date; summary: string }[] = await this.db('change_sets')
      .where('project_id', this.projectId)
      .orderBy('time')
      .select('id', 'time', 'summary');
    return rows.map(({ id, time, summary }) => ({ id, time: time.toISOString(), summary }));
  }

  /**
   * The ChangeSet that takes a recorded one back.
   * @param which a change by its id, the latest that still stands, or, to make that again, the latest that took one back
   * @throws Refusal when there is none, or it was taken back before
   */
  async planUndo(which: WhichChange): Promise<ChangeSet> {
    const own = () => this.db('change_sets').where('project_id', this.projectId);
    let id = which;
    let recorded = 0;
    if (which === null || which === 'taken back') {
      const history: { id: string; undoes: string | null }[] = await own()
        .orderBy('time')
        .select('id', 'undoes');
      const { back, forward } = standingOf(history);
      id = which === null ? back : forward;
      recorded = history.length;
    }
    const row = z.uuid().safeParse(id).success && (await own().where('id', id).first());
    if (!row) throw new Refusal(noChange(which, 'in this project', recorded));
    if (await this.db('change_sets').where('undoes', row.id).first('id'))
      throw new Refusal('This change was already undone.');
    const changes = row.changes as ChangeSet['changes'];
    const replaced = [...new Set(changes.flatMap(({ base }) => base ?? []))];
    const rows = await this.db('blobs').whereRaw('sha256 = any(?)', [replaced]).select('sha256', 'bytes');
    const sizes = new Map(rows.map(({ sha256, bytes }) => [sha256 as string, Number(bytes)]));
    const back = inverse(
      { summary: row.summary, changes, rewires: row.rewires, warnings: [] },
      (hash) => sizes.get(hash)!,
    );
    return { ...back, undoes: row.id };
  }
}

/** What a change brings to which path. */
function arrivingFiles(
  changes: readonly FileChange[],
  current: ReadonlyMap<string, CurrentFile>,
): ArrivingFile[] {
  return changes.flatMap((change) => {
    if (change.action === 'delete') return [];
    const before = current.get(change.path);
    if (change.action === 'move') {
      const { sha256, bytes } = change.written ?? before!;
      return [{ path: change.to, sha256, bytes, fileId: before!.fileId }];
    }
    const { path, sha256, bytes } = change;
    return [{ path, sha256, bytes, fileId: change.base === null ? null : before!.fileId }];
  });
}
