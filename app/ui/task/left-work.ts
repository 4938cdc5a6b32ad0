import { useMemo, useSyncExternalStore } from 'react';

/** Work that changes something, as the person began it. */
export interface LeftWork {
  projectId: string;
  /** Of the task. */
  id: string;
  /** What it does, in words. */
  summary: string;
  /** Where it was begun. */
  address: string;
}

const KEY = 'stonetray work';

/** All that was begun in this tab and has not been looked at to its end; a reload leaves it, too. */
let begun: readonly LeftWork[] = [];
/** What a page in view shows itself. */
let watched: readonly string[] = [];
let isRead = false;
const listeners = new Set<() => void>();

function tell(next: readonly LeftWork[], nextWatched: readonly string[]): void {
  begun = next;
  watched = nextWatched;
  try {
    sessionStorage.setItem(KEY, JSON.stringify(begun));
  } catch {
    // Then a reload forgets it; Activity has it.
  }
  for (const listener of listeners) listener();
}

/** What is kept may be of an older page. No schema is read for it: every page would have to fetch what reads schemas. */
function isWork(kept: unknown): kept is LeftWork {
  const { projectId, id, summary, address } = Object(kept) as Partial<LeftWork>;
  return [projectId, id, summary, address].every((text) => typeof text === 'string');
}

function read(): void {
  if (isRead) return;
  isRead = true;
  try {
    const kept: unknown = JSON.parse(sessionStorage.getItem(KEY) ?? '[]');
    begun = Array.isArray(kept) ? kept.filter(isWork) : [];
  } catch {
    begun = [];
  }
}

/** A page has begun work and shows how far it is. */
export function beginWork(work: LeftWork): void {
  read();
  tell([...begun, work], [...watched, work.id]);
}

/** The page is left; the work goes on. */
export function leaveWork(id: string): void {
  if (watched.includes(id))
    tell(
      begun,
      watched.filter((other) => other !== id),
    );
}

/** Somebody has seen its end. */
export function endWork(id: string): void {
  if (begun.some((work) => work.id === id))
    tell(
      begun.filter((work) => work.id !== id),
      watched.filter((other) => other !== id),
    );
}

/** Work of a project that no page in view shows. */
export function useLeftWork(projectId: string): readonly LeftWork[] {
  const [all, shown] = [
    useSyncExternalStore(listen, allBegun, none),
    useSyncExternalStore(listen, allWatched, none),
  ] as [readonly LeftWork[], readonly string[]];
  return useMemo(
    () => all.filter((work) => work.projectId === projectId && !shown.includes(work.id)),
    [all, shown, projectId],
  );
}

const NONE: readonly never[] = [];
const none = () => NONE;
function listen(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
function allBegun(): readonly LeftWork[] {
  read();
  return begun;
}
function allWatched(): readonly string[] {
  return watched;
}
