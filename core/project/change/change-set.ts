import { pathProblem } from '#core/files/links/paths';
import { Refusal } from '#core/refusal';
import { type FileEntry, type FileSet, sha256 } from './file-set';
import { summaryBack } from './standing';

/** A content to be stored. Without its bytes it is one that the home already keeps under its hash. */
export interface NewContent {
  sha256: string;
  bytes: number;
  content: Uint8Array | null;
}

/** A content with the path that it shall have. */
export interface NamedContent extends NewContent {
  path: string;
}

/**
 * One file written, moved or deleted. `base` is the hash that the plan saw there; null where it saw no file.
 * A file that moves may get another content on its way: its own links are relative to where it lies.
 */
export type FileChange =
  | ({ action: 'write'; path: string; base: string | null } & NewContent)
  | { action: 'move'; path: string; to: string; base: string; written?: NewContent }
  | { action: 'delete'; path: string; base: string };

/** A link that the change sets anew, in words for the preview. */
export interface Rewire {
  holder: string;
  written: string;
  /** What will be written instead. */
  rewritten: string;
  /** Where the link then leads; null for nowhere. */
  to: string | null;
  /** Where it led before; null for nowhere, or for a link that was not there. */
  was: string | null;
}

/** A planned change to a set of files, with what it was based on. Plans return it, homes apply it. */
export interface ChangeSet {
  /** One sentence in the past tense of the log: "Repaired 2 links in drive.stp". */
  summary: string;
  changes: FileChange[];
  rewires: Rewire[];
  warnings: string[];
  /** The operation that planned it, and its choices: enough to do it again. */
  made?: { operation: string; choices: unknown };
  /** The recorded change that this one takes back, by its id. */
  undoes?: string;
}

/** A FileSet that a ChangeSet can be applied to. */
export interface ChangeableFileSet extends FileSet {
  /**
   * Carries a ChangeSet out, all or nothing.
   * @returns the ChangeSet that takes it back
   * @throws ConflictError when a file is no longer what the plan was made from; nothing is changed then
   */
  apply(changes: ChangeSet): Promise<ChangeSet>;
}

/** A file is no longer what the plan was made from. */
export class ConflictError extends Refusal {
  constructor(readonly conflicts: { path: string; problem: string }[]) {
    super(
      `Nothing was changed: ${conflicts.map(({ path, problem }) => `${path} ${problem}`).join('; ')}. Look at the new state and plan again.`,
    );
    this.name = 'ConflictError';
  }
}

export function newContent(content: Uint8Array): NewContent {
  return { sha256: sha256(content), bytes: content.byteLength, content };
}

export function write(path: string, base: string | null, content: Uint8Array): FileChange {
  return { action: 'write', path, base, ...newContent(content) };
}

/** The contents that a change brings. */
export function contentsOf({ changes }: Pick<ChangeSet, 'changes'>): NewContent[] {
  return changes.flatMap((change) =>
    change.action === 'write' ? [change] : change.action === 'move' && change.written ? [change.written] : [],
  );
}

/** The change as it is recorded: its contents lie elsewhere, by their hash. */
export function withoutContents(changes: readonly FileChange[]): FileChange[] {
  return changes.map((change) =>
    change.action === 'write'
      ? { ...change, content: null }
      : change.action === 'move' && change.written
        ? { ...change, written: { ...change.written, content: null } }
        : change,
  );
}

/**
 * Checks a ChangeSet against what is there now. Pure; every home calls it inside its transaction.
 * @throws ConflictError naming every conflict, not just the first
 */
export function checkConflicts(
  { changes }: ChangeSet,
  current: (path: string) => FileEntry | undefined,
): void {
  const conflicts: { path: string; problem: string }[] = [];
  const leaving = new Set(changes.flatMap((change) => (change.action === 'write' ? [] : [change.path])));
  const arriving = new Set<string>();
  const arrive = (path: string, mayReplace: boolean) => {
    const problem = pathProblem(path);
    if (problem) conflicts.push({ path, problem: `cannot be written: ${problem}` });
    if (arriving.has(path)) conflicts.push({ path, problem: 'would be written twice' });
    if (!mayReplace && current(path) && !leaving.has(path))
      conflicts.push({ path, problem: 'exists already' });
    arriving.add(path);
  };
  for (const change of changes) {
    const there = current(change.path);
    if (change.base !== null && !there) conflicts.push({ path: change.path, problem: 'is no longer there' });
    else if (change.base !== null && there!.sha256 !== change.base)
      conflicts.push({ path: change.path, problem: 'has changed since' });
    if (change.action === 'write') arrive(change.path, change.base !== null);
    else if (change.action === 'move') arrive(change.to, false);
  }
  if (conflicts.length > 0) throw new ConflictError(conflicts);
}

/**
 * The ChangeSet that takes another one back. It carries no contents: every home keeps what was replaced.
 * @param sizeOf bytes of a content by its hash
 */
export function inverse(
  { summary, changes, rewires }: ChangeSet,
  sizeOf: (sha256: string) => number,
): ChangeSet {
  const kept = (sha256: string): NewContent => ({ sha256, bytes: sizeOf(sha256), content: null });
  const restore = (path: string, base: string | null, sha256: string): FileChange => ({
    action: 'write',
    path,
    base,
    ...kept(sha256),
  });
  const back = changes.map((change): FileChange => {
    switch (change.action) {
      case 'write':
        return change.base === null
          ? { action: 'delete', path: change.path, base: change.sha256 }
          : restore(change.path, change.sha256, change.base);
      case 'move':
        return change.written
          ? {
              action: 'move',
              path: change.to,
              to: change.path,
              base: change.written.sha256,
              written: kept(change.base),
            }
          : { action: 'move', path: change.to, to: change.path, base: change.base };
      case 'delete':
        return restore(change.path, null, change.base);
    }
  });
  return {
    summary: summaryBack(summary),
    changes: back.reverse(),
    rewires: rewires.map(({ holder, written, rewritten, to, was = null }) => ({
      holder,
      written: rewritten,
      rewritten: written,
      to: was,
      was: to,
    })),
    warnings: [],
  };
}
