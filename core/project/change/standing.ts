/** A recorded change, as far as it matters for what can be taken back. */
interface Recorded {
  id: string;
  /** The change that it takes back. */
  undoes?: string | null;
}

/**
 * Which recorded changes can be taken back, and which made again. Each step takes back the latest change that still stands; what was taken
 * back can be made again, the latest first, until something else is done.
 * @param history oldest first
 * @returns ids of the changes to take back for one step in each direction; null where there is none
 * @example standingOf([{ id: 'a' }, { id: 'b' }, { id: 'c', undoes: 'b' }]) // { back: 'a', forward: 'c' }
 */
export function standingOf(history: readonly Recorded[]): { back: string | null; forward: string | null } {
  const standing = new Set<string>();
  const takenBack = new Set<string>();
  for (const { id, undoes } of history) {
    if (undoes && takenBack.delete(undoes)) standing.add(id);
    else if (undoes) {
      standing.delete(undoes);
      takenBack.add(id);
    } else {
      standing.add(id);
      takenBack.clear();
    }
  }
  return { back: [...standing].at(-1) ?? null, forward: [...takenBack].at(-1) ?? null };
}

const [BACK, AGAIN] = ['Undid: ', 'Redid: '];

/**
 * What taking a change back is called. Taking back what took a change back is making that again.
 * @example summaryBack('Undid: Moved a.stp') // 'Redid: Moved a.stp'
 */
export function summaryBack(summary: string): string {
  if (summary.startsWith(BACK)) return AGAIN + summary.slice(BACK.length);
  return BACK + (summary.startsWith(AGAIN) ? summary.slice(AGAIN.length) : summary);
}

/** A change by its id; the latest that still stands; or the latest that took one back. */
export type WhichChange = string | null | 'taken back';

/**
 * Why there is none.
 * @param where in words: "in this folder"
 * @param recorded how many changes there were ever
 */
export function noChange(which: WhichChange, where: string, recorded: number): string {
  if (which === 'taken back')
    return 'Nothing was taken back that could be made again: something else was done since.';
  if (which !== null) return `No change ${where} has the id ${which}.`;
  return recorded === 0
    ? `Nothing has been changed ${where}.`
    : `No change is left ${where} that still stands.`;
}
