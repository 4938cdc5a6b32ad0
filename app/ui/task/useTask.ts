import { useCallback, useEffect, useRef, useState } from 'react';
import { useLocation, useOutletContext } from 'react-router';
import { v4 as uuid } from 'uuid';
import type { TaskState } from '#server/jobs/tasks';
import { addressIn, askingAddress } from '../address/addresses';
import { fetchPatiently } from '../connection/connection';
import { post, wordsOf } from '../connection/json-request';
import { useReload } from '../connection/useReload';
import type { ProjectContext } from '../project/project-context';
import { announce } from '../voice';
import { beginWork, endWork, leaveWork } from './left-work';

/** How far work is. */
export type TaskProgress = Pick<TaskState, 'state' | 'doing' | 'done' | 'total' | 'before' | 'isServed'>;

/** Work that was done. */
export interface DoneTask<Result> {
  id: string;
  result: Result;
}

/** Milliseconds between two looks: short at first, since most work is. */
const [SHORTEST, LONGEST, SLOWER] = [120, 1000, 1.4];

/**
 * Looks at a task until it has ended, however often an answer is lost on the way.
 * @returns how it ended; undefined when nobody waits for it any more
 */
export async function untilEnded<Result>(
  address: string,
  id: string,
  onProgress: (progress: TaskProgress) => void,
  isWaitedFor: () => boolean,
): Promise<TaskState<Result> | undefined> {
  for (let pause = SHORTEST; ; pause = Math.min(LONGEST, pause * SLOWER)) {
    await new Promise((resolve) => setTimeout(resolve, pause));
    if (!isWaitedFor()) return undefined;
    const answer = await fetchPatiently(`${address}?task=${id}`, {}, isWaitedFor);
    if (!answer) return undefined;
    if (!answer.ok) throw new Error(await wordsOf(answer));
    const state = (await answer.json()) as TaskState<Result>;
    if (!isWaitedFor()) return undefined;
    if (state.state !== 'waiting' && state.state !== 'running') return state;
    onProgress(state);
  }
}

/** Stops work that nobody wants any more. */
export async function cancelTask(projectId: string, id: string): Promise<void> {
  await post(addressIn(projectId, 'tasks'), { cancel: id }).catch(() => {});
}

const NOT_BEGUN: TaskProgress = { state: 'waiting', doing: '', done: 0, total: 0 };

/** Has the job worker do something, one thing at a time: a newer request takes the place of an older one. */
export function useTask<Result>() {
  const { projectId } = useOutletContext<ProjectContext>();
  const reload = useReload();
  const address = addressIn(projectId, 'tasks');
  const [running, setRunning] = useState<TaskProgress | null>(null);
  const [done, setDone] = useState<DoneTask<Result> | null>(null);
  const [error, setError] = useState<string | null>(null);
  /** Counts what was asked for: answers to older requests are passed over. */
  const newest = useRef(0);
  const current = useRef<{ id: string | null; isCancelled: boolean }>({ id: null, isCancelled: false });
  const { pathname, search } = useLocation();
  const here = useRef('');
  here.current = pathname + search;
  useEffect(
    () => () => {
      newest.current++;
      if (current.current.id) leaveWork(current.current.id);
    },
    [],
  );

  /**
   * @param request an operation to be applied, as it was shown
   * @param summary of work that changes something: it is followed to its end on whatever page
   * @returns what came of it; null when it failed or was cancelled
   */
  const start = useCallback(
    async (
      request: { operation: string; [choice: string]: unknown },
      summary?: string,
    ): Promise<DoneTask<Result> | null> => {
      const number = ++newest.current;
      const isWaitedFor = () => newest.current === number;
      const mine: (typeof current)['current'] = { id: null, isCancelled: false };
      current.current = mine;
      setError(null);
      setDone(null);
      setRunning(NOT_BEGUN);
      let ended: DoneTask<Result> | null = null;
      try {
        // Known by a name of its own it is begun once, however often it has to be sent.
        const asked = { task: uuid(), ...request };
        const { task: id } = await post<{ task: string }>(
          askingAddress(projectId, request.operation),
          asked,
          isWaitedFor,
        );
        mine.id = id;
        if (summary !== undefined) beginWork({ projectId, id, summary, address: here.current });
        if (!isWaitedFor()) leaveWork(id);
        if (mine.isCancelled) void cancelTask(projectId, id);
        const state = await untilEnded<Result>(address, id, setRunning, isWaitedFor);
        if (state) endWork(id);
        if (state?.state === 'cancelled') announce('It was stopped. Nothing has changed.');
        if (state?.state === 'failed') throw new Error(state.error ?? 'It failed. Try again.');
        if (state?.state === 'done' && state.result) ended = { id, result: state.result };
      } catch (trouble) {
        if (isWaitedFor()) setError(trouble instanceof Error ? trouble.message : String(trouble));
      }
      if (!isWaitedFor()) return null;
      setRunning(null);
      setDone(ended);
      if (ended) void reload();
      return ended;
    },
    [address, projectId, reload],
  );
  /** Work that is done before it could be stopped is shown as done. */
  const cancel = useCallback(() => {
    current.current.isCancelled = true;
    if (current.current.id) void cancelTask(projectId, current.current.id);
  }, [projectId]);
  return { running, done, error, start, cancel };
}
