import { useMemo } from 'react';
import type { RepairRow } from '#server/views/operations/repair-table';
import { isRecordOf, readerOf } from '../../ui/reader';
import { useKept } from '../../ui/useKept';

/** What somebody has chosen besides what is proposed, by the keys of links. */
interface Chosen {
  ticks: { [key: string]: boolean };
  picks: { [key: string]: string };
}

const CHOSEN = readerOf((kept): kept is Chosen => {
  const { ticks, picks } = Object(kept) as Partial<Chosen>;
  return isRecordOf('boolean', ticks) && isRecordOf('string', picks);
});

const NOTHING: Chosen = { ticks: {}, picks: {} };

/** Which of all broken links are repaired in one go, and by which files: those that are clear, until somebody chooses. */
export function useTicks(projectId: string, rows: readonly RepairRow[]) {
  const { state, setState } = useKept(`repair together ${projectId}`, '', CHOSEN, () => NOTHING);
  return useMemo(() => {
    const targetOf = ({ key, target }: RepairRow) => state.picks[key] ?? target;
    const isTicked = (row: RepairRow) =>
      targetOf(row) !== null && (state.ticks[row.key] ?? (row.isClear || row.key in state.picks));
    return {
      targetOf,
      isTicked,
      ticked: rows.filter(isTicked),
      /** Ticks rows, or takes the ticks away. */
      tick: (some: readonly RepairRow[], on: boolean) =>
        setState((before) => ({
          ...before,
          ticks: { ...before.ticks, ...Object.fromEntries(some.map(({ key }) => [key, on])) },
        })),
      /** Another file than the one that is proposed. */
      pick: ({ key }: RepairRow, target: string) =>
        setState((before) => ({
          ticks: { ...before.ticks, [key]: true },
          picks: { ...before.picks, [key]: target },
        })),
      forget: () => setState(NOTHING),
    };
  }, [rows, state, setState]);
}
