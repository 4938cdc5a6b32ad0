import type { ChangeSet, Rewire } from '#core/change/change-set';
import type { SeenVersion } from '#core/change/seen';
import type { Planned } from '#core/operation';

/** One file of a change, as a page names it. */
export interface ChangedFile {
  does: 'new' | 'written' | 'moved' | 'removed';
  path: string;
  /** Where it goes, when it moves. */
  to?: string;
}

/** What an operation would do, for its page. */
export interface PlannedView<Preview = unknown> {
  summary: string;
  files: ChangedFile[];
  rewires: Rewire[];
  warnings: string[];
  /** What it rests on; sent back when it is applied. */
  seen: SeenVersion[];
  preview: Preview;
}

/** A change whose operation is over. */
export interface AppliedChange {
  /** The recorded ChangeSet. */
  applied: string;
  summary: string;
}

export function plannedView<Preview>({
  change,
  preview,
  seen,
}: Planned<Preview> & { seen: SeenVersion[] }): PlannedView<Preview> {
  const { summary, rewires, warnings } = change;
  return { summary, files: changedFiles(change), rewires, warnings, seen, preview };
}

export function changedFiles({ changes }: Pick<ChangeSet, 'changes'>): ChangedFile[] {
  return changes.map((change): ChangedFile => {
    const { path } = change;
    if (change.action === 'move') return { does: 'moved', path, to: change.to };
    if (change.action === 'delete') return { does: 'removed', path };
    return { does: change.base === null ? 'new' : 'written', path };
  });
}
