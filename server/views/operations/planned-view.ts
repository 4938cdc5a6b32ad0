import type { Planned } from '#core/planned';
import type { ChangeSet, Rewire } from '#core/project/change/change-set';
import type { SeenVersion } from '#core/project/change/seen';

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
  /** Why it cannot be carried out as it is chosen; null when it can. */
  hindrance: string | null;
  /** Name of the file that it makes for the person; null for none. */
  makes: string | null;
  /** Whether it changes what is offered in the catalogue. */
  offers: boolean;
  /** What it rests on; sent back when it is applied. */
  seen: SeenVersion[];
  preview: Preview;
}

/** An operation that was carried out. */
export interface AppliedChange {
  /** The recorded ChangeSet; null where no file of the project changed. */
  applied: string | null;
  summary: string;
  /** The file that was made for the person. */
  product?: { name: string; sha256: string };
  /** The end of the address at which it is offered. */
  offered?: string;
}

export function plannedView<Preview>({
  change,
  preview,
  seen,
  product,
  hindrance,
  offers,
}: Planned<Preview> & { seen: SeenVersion[] }): PlannedView<Preview> {
  const { summary, rewires, warnings } = change;
  const makes = product?.name ?? null;
  return {
    summary,
    files: changedFiles(change),
    rewires,
    warnings,
    hindrance: hindrance ?? null,
    makes,
    offers: offers !== undefined,
    seen,
    preview,
  };
}

function changedFiles({ changes }: Pick<ChangeSet, 'changes'>): ChangedFile[] {
  return changes.map((change): ChangedFile => {
    const { path } = change;
    if (change.action === 'move') return { does: 'moved', path, to: change.to };
    if (change.action === 'delete') return { does: 'removed', path };
    return { does: change.base === null ? 'new' : 'written', path };
  });
}
