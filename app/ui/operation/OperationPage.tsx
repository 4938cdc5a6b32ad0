import { Button } from '@mantine/core';
import { useState } from 'react';
import { useNavigation, useOutletContext } from 'react-router';
import type { MadeBefore } from '#core/project/scan/made-before';
import type { AppliedChange, PlannedView } from '#server/views/operations/planned-view';
import { Panes } from '../Panes';
import type { ProjectContext } from '../project/project-context';
import { TaskBar } from '../task/TaskBar';
import type { DoneTask } from '../task/useTask';
import { changeLines } from './change-lines';
import layout from './OperationPage.module.css';
import type { useOperation } from './useOperation';
import { WasMadeBefore } from './WasMadeBefore';
import { WhatWillChange } from './WhatWillChange';

type OperationOf<Preview> = ReturnType<typeof useOperation<Preview>>;

interface OperationFootProps<Preview> {
  operation: OperationOf<Preview>;
  /** What the plan does, in lines; every file by name unless it says otherwise. */
  lines?: (planned: PlannedView<Preview>) => React.ReactNode[];
  /** Shown while nothing is chosen. */
  empty: string;
  /** The words on the button. */
  label: (planned: PlannedView<Preview> | null) => string;
  /** What goes on while it is applied: "Splitting". */
  doing: string;
  /** What stands in its way, or should be known, besides what the plan says. */
  warnings?: readonly string[];
  /** Asked before just the same is done a second time. */
  again?: string;
  /** What it has made of the same file before: that is shown until somebody wants it once more. */
  before?: MadeBefore | null;
  /** What came of it, in lines, when it is done. */
  outcome?: (result: AppliedChange & { preview: Preview }) => React.ReactNode[];
  /** Where to go when it is done. */
  done?: (result: AppliedChange & { preview: Preview }, task: string) => React.ReactNode;
  /** Told when it has just been done. */
  onApplied?: (done: DoneTask<AppliedChange & { preview: Preview }>) => void;
  /** Choices that stand beside the button. */
  children?: React.ReactNode;
}

/** What will change, along the bottom of every operation's page: the plan, how far it is, what stands in its way, one button. */
export function OperationFoot<Preview>({
  operation,
  lines = changeLines,
  empty,
  label,
  doing,
  warnings = [],
  again,
  before = null,
  outcome,
  done,
  onApplied,
  children,
}: OperationFootProps<Preview>) {
  const { mayEdit } = useOutletContext<ProjectContext>();
  const [wantsAgain, setWantsAgain] = useState(false);
  // What was asked for last is still to come: what is shown is no longer what is wanted.
  const isLeaving = useNavigation().state === 'loading';
  const { planned, refusal, isStale, isStopped, progress, work, result } = operation;
  const { running } = work;
  // What makes a file for the person changes nothing: whoever may look may have it.
  const mayApply = mayEdit || (planned?.makes ?? null) !== null;
  if (operation.isDone && result)
    return (
      <WhatWillChange lines={[`Done: ${result.summary}.`, ...(outcome?.(result) ?? [])]} empty="">
        {done?.(result, operation.work.done!.id)}
        {operation.undoButton}
        {again && mayEdit && (
          <Button variant="default" onClick={operation.goOn}>
            Once more
          </Button>
        )}
      </WhatWillChange>
    );
  if (before && !wantsAgain && !running)
    return (
      <WasMadeBefore before={before} onAgain={() => setWantsAgain(true)}>
        <JustDone operation={operation} done={done} />
      </WasMadeBefore>
    );
  const isNothing = planned !== null && planned.files.length === 0 && planned.makes === null;
  const nothing = isStopped ? 'It was stopped.' : isStale ? 'Looking at what changes…' : empty;
  return (
    <WhatWillChange
      lines={planned && refusal === null ? lines(planned) : []}
      warnings={[
        ...(operation.isAgain && again && !running ? [again] : []),
        ...(refusal === null ? (planned?.warnings ?? []) : []),
        ...warnings,
      ].slice(0, MOST_WARNINGS)}
      empty={refusal ?? nothing}
      isRefused={refusal !== null}
      isStale={isStale && planned !== null}
    >
      {work.error && (
        <span className={layout.error} role="alert">
          {work.error}
        </span>
      )}
      <JustDone operation={operation} done={done} />
      {children}
      {(isStopped || refusal !== null) && (
        <Button variant="default" onClick={operation.again}>
          Look again
        </Button>
      )}
      {progress && !running && (
        <TaskBar progress={progress} label="Looking at what changes" onCancel={operation.stop} />
      )}
      {running && <TaskBar progress={running} label={doing} onCancel={work.cancel} />}
      {!mayApply && <span className="muted">You may look at this project, not change it.</span>}
      {!running && !progress && (
        <Button
          size="sm"
          data-next
          disabled={
            !mayApply ||
            !planned ||
            isStale ||
            isLeaving ||
            refusal !== null ||
            isNothing ||
            planned.hindrance !== null
          }
          title={planned?.hindrance ?? undefined}
          onClick={() => void operation.apply().then((ended) => ended && onApplied?.(ended))}
        >
          {label(planned)}
        </Button>
      )}
    </WhatWillChange>
  );
}

/** More would bury the rest of the page; the record of the change has them all. */
const MOST_WARNINGS = 4;

/** What was done last, where to see it, and taking it back. */
export function JustDone<Preview>({
  operation,
  done,
}: Pick<OperationFootProps<Preview>, 'operation' | 'done'>) {
  const { result, undoButton } = operation;
  if (!result) return null;
  return (
    <div className={layout.undo}>
      <span>{result.summary}.</span>
      {done?.(result, operation.work.done!.id)}
      {undoButton}
    </div>
  );
}

/** Percent of the page that the choices take, beside a stage. */
const SHARES = { least: 35, narrow: 42, middle: 52, wide: 56 };

export interface OperationPageProps<Preview> extends OperationFootProps<Preview> {
  /** How much of the page the choices take. */
  width?: 'least' | 'narrow' | 'wide';
  choices: React.ReactNode;
  /** The stage with the result; pages of files only have none. */
  stage?: React.ReactNode;
}

/** The one form of every page that changes something: choices left, stage right, what will change along the bottom. */
export function OperationPage<Preview>({ width, choices, stage, ...foot }: OperationPageProps<Preview>) {
  return (
    <div className={layout.page}>
      {stage ? (
        <Panes
          name={`operation ${width ?? ''}`}
          share={SHARES[width ?? 'middle']}
          titles={['Choices', 'Result']}
          left={<div className={layout.choices}>{choices}</div>}
          right={<div className={layout.stage}>{stage}</div>}
        />
      ) : (
        <div className={layout.choices}>{choices}</div>
      )}
      <OperationFoot {...foot} />
    </div>
  );
}
