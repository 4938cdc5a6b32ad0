import { Button } from '@mantine/core';
import type { LogEntry } from '#server/projects/projects';
import { plural } from '../../ui/format';
import { changeLines } from '../../ui/operation/change-lines';
import { useOperation } from '../../ui/operation/useOperation';
import { TaskBar } from '../../ui/task/TaskBar';
import classes from './Activity.module.css';

/** One step back or forward, or one change. */
export type Step = { step: 'undo' | 'redo' } | { change: NonNullable<LogEntry['changeSet']> };

/** What taking a change back would do, and the button that does it. */
export function TakeBack({ of, onClose }: { of: Step; onClose: () => void }) {
  const [operation, choices] = 'step' in of ? [of.step, {}] : ['undo', { change: of.change.id }];
  const isForward = 'step' in of ? of.step === 'redo' : of.change.isUndo;
  const undoing = useOperation<null>(operation, choices);
  const { planned, refusal, isStale, work } = undoing;
  const files = planned?.files.length ?? 0;
  return (
    <section className={classes.confirm} aria-label="What will change">
      {planned && refusal === null && (
        <p>
          {'step' in of && (
            <>
              {isForward ? 'Does again: ' : 'Takes back: '}
              <b>{planned.summary.replace(/^\w+: /, '')}</b>.{' '}
            </>
          )}
          Puts {plural(files, 'file')} back as {files === 1 ? 'it was' : 'they were'}{' '}
          {isForward ? 'after it' : 'before'}, as one change. Every version is kept.
        </p>
      )}
      {planned && refusal === null && (
        <ul className={classes.lines}>
          {changeLines(planned).map((line, n) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: lines have no other name
            <li key={n}>{line}</li>
          ))}
        </ul>
      )}
      {(refusal ?? work.error) && (
        <p className={classes.error} role="alert">
          {refusal ?? work.error}
        </p>
      )}
      {work.running ? (
        <TaskBar progress={work.running} label="Taking it back" onCancel={work.cancel} />
      ) : (
        <>
          <Button
            data-next
            disabled={!planned || isStale || refusal !== null}
            onClick={() => void undoing.apply().then((done) => done && onClose())}
          >
            {isForward ? 'Do it again' : 'Undo it'}
          </Button>
          <Button variant="subtle" color="gray" onClick={onClose}>
            Cancel
          </Button>
        </>
      )}
    </section>
  );
}
