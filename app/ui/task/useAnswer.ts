import { useEffect, useRef, useState } from 'react';
import { useOutletContext } from 'react-router';
import { v4 as uuid } from 'uuid';
import { addressIn, askingAddress } from '../address/addresses';
import { post } from '../connection/json-request';
import type { ProjectContext } from '../project/project-context';
import { cancelTask, type TaskProgress, untilEnded } from './useTask';

/** An answer as far as it has come. */
export interface Answering<Found> {
  /** The newest answer, also while a newer one is being made or was refused. */
  found: Found | null;
  /** Why there is none, in words for the person. */
  refusal: string | null;
  /** Whether the answer belongs to other choices than the page has now. */
  isStale: boolean;
  /** How far an answer is that takes long. */
  progress: TaskProgress | null;
  /** Whether the person has stopped it. */
  isStopped: boolean;
  stop: () => void;
  /** Asks just the same once more. */
  again: () => void;
}

const NOTHING = { found: null, refusal: null, key: '', progress: null, isStopped: false };

/** Milliseconds: choices that follow each other are asked about once. */
const PAUSE = 120;

/** So often an answer is asked for that is stopped elsewhere. */
const ATTEMPTS = 3;

/** What comes back: the answer under its name, why there is none, or the task that makes it. */
type Reply = { planned: unknown } | { looked: unknown } | { refused: string } | { task: string };

/**
 * What an operation would do, or a report finds, with some choices; asked again whenever they or the project are others.
 * @param asked its name and choices; null while there is nothing to ask
 * @param isHeld what is there stays as it is
 */
export function useAnswer<Found>(
  intent: 'plan' | 'look',
  asked: object | null,
  isHeld = false,
): Answering<Found> {
  const { projectId, revision } = useOutletContext<ProjectContext>();
  const request = asked === null ? '' : JSON.stringify({ intent, ...asked });
  const wanted = request === '' ? '' : `${revision} ${request}`;
  const [state, setState] = useState<
    Pick<Answering<Found>, 'found' | 'refusal' | 'progress' | 'isStopped'> & { key: string }
  >(NOTHING);
  const [attempt, setAttempt] = useState(0);
  const stop = useRef(() => {});
  const hasAsked = useRef(false);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another attempt is another answer
  useEffect(() => {
    if (isHeld) return;
    if (wanted === '') {
      setState(NOTHING);
      return;
    }
    let isWanted = true;
    let task: string | null = null;
    const show = (shown: Partial<typeof state>) => {
      if (isWanted) setState((before) => ({ ...before, ...shown }));
    };
    const letGo = () => {
      isWanted = false;
      if (task !== null) void cancelTask(projectId, task);
    };
    const ask = async (left = ATTEMPTS): Promise<Found | null> => {
      const wish = { task: uuid(), fresh: attempt > 0, ...JSON.parse(request) };
      const reply = await post<Reply>(
        askingAddress(projectId, wish.operation ?? wish.report),
        wish,
        () => isWanted,
      );
      if ('planned' in reply) return reply.planned as Found;
      if ('looked' in reply) return reply.looked as Found;
      if ('refused' in reply) throw new Error(reply.refused);
      task = reply.task;
      if (!isWanted) letGo();
      const ended = await untilEnded<Found>(
        addressIn(projectId, 'tasks'),
        task,
        (progress) => show({ progress }),
        () => isWanted,
      );
      // Not by this page, which still waits: it was heard too seldom in the background, or another page that had joined let go.
      if (ended?.state === 'cancelled' && isWanted) {
        if (left > 1) return ask(left - 1);
        throw new Error('It was stopped elsewhere. Close other pages that ask for the same, and look again.');
      }
      if (ended?.state === 'failed') throw new Error(ended.error ?? 'It failed. Try again.');
      return ended?.result ?? null;
    };
    show({ isStopped: false, progress: null });
    stop.current = () => {
      show({ isStopped: true, progress: null });
      letGo();
    };
    const begin = () =>
      ask().then(
        (found) => show({ found, refusal: null, key: wanted, progress: null }),
        (error: Error) => show({ refusal: error.message, key: wanted, progress: null }),
      );
    const timer = setTimeout(begin, hasAsked.current ? PAUSE : 0);
    hasAsked.current = true;
    return () => {
      clearTimeout(timer);
      letGo();
    };
  }, [wanted, projectId, attempt, isHeld]);

  const { key, refusal, ...shown } = state;
  const isStale = !isHeld && key !== wanted;
  return {
    ...shown,
    refusal: isStale ? null : refusal,
    isStale,
    stop: () => stop.current(),
    again: () => setAttempt(attempt + 1),
  };
}
