import type { ImportOutline } from '#core/jobs/import/plan';

/** A file that arrived, or one that it meets. */
export interface ArrivingRow {
  path: string;
  becomes: string;
  /** What is wrong with it; '' for nothing. */
  problem: string;
}

/** What becomes of everything that arrived, problems first, then by path. */
export function arrivingRows({ added, replaced, conflicts, problems }: ImportOutline): ArrivingRow[] {
  const rows = new Map<string, ArrivingRow>();
  const say = (path: string, becomes: string) => rows.set(path, { path, becomes, problem: '' });
  for (const path of added) say(path, 'a new file');
  for (const path of replaced) say(path, 'a new version');
  // What is taken in may have more to be said: that its name is none on other systems.
  for (const { path, outcome } of conflicts) {
    const known = rows.get(path);
    say(path, known ? `${known.becomes}; ${outcome}` : outcome);
  }
  for (const { path, problem } of problems) {
    const row = rows.get(path) ?? { path, becomes: 'left out', problem: '' };
    rows.set(path, { ...row, problem: [row.problem, problem].filter(Boolean).join(' ') });
  }
  return [...rows.values()].sort(
    (a, b) => Number(b.problem !== '') - Number(a.problem !== '') || (a.path < b.path ? -1 : 1),
  );
}
