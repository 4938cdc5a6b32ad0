import { Button } from '@mantine/core';
import { Link } from 'react-router';
import type { SplitChoices } from '#core/split/choices';
import type { SplitComponentView, SplitOutlineView } from '#server/views/split-view';
import { plural } from '../../ui/format';
import layout from '../../ui/OperationPage.module.css';
import { TaskBar } from '../../ui/TaskBar';
import type { TaskProgress } from '../../ui/useTask';
import { WhatWillChange } from '../../ui/WhatWillChange';

/** A split that was carried out. */
interface Done {
  /** What was done, and what the kernel says of it. */
  lines: [string, string];
  /** Address of the new assembly. */
  assembly: string;
  undoButton: React.ReactNode;
  /** Whether the plan on the page is the one that was carried out. */
  isThisPlan: boolean;
}

interface SplitPlanProps {
  path: string;
  /** Bodies of the part. */
  total: number;
  outline: SplitOutlineView | null;
  choices: SplitChoices;
  done: Done | null;
  error: string | null;
  mayEdit: boolean;
  /** How far the split is that is being carried out. */
  running: TaskProgress | null;
  onCancel: () => void;
  onTakeProposals: (named: (readonly [SplitComponentView, string])[]) => void;
  onApply: (outline: SplitOutlineView) => void;
}

/** What a split will change, what stands in its way, and the button that carries it out. */
export function SplitPlan(props: SplitPlanProps) {
  const { path, total, outline, choices, done, error, mayEdit, running, onCancel, onTakeProposals, onApply } =
    props;
  const isDone = done?.isThisPlan === true;
  const components = outline?.components ?? [];
  const problems = components.filter(({ problem }) => problem !== null);
  const count = components.reduce((sum, { bodies }) => sum + bodies.length, 0);
  const mayApply = mayEdit && !isDone && outline !== null && problems.length === 0 && error === null;
  return (
    <WhatWillChange
      lines={
        isDone
          ? done.lines
          : outline === null
            ? []
            : [filesLine(outline, choices, count), sourceLine(outline, choices, path, total - count)]
      }
      warnings={[
        ...(outline?.warnings ?? []),
        ...problems.map(
          ({ name, problem, proposal }) => `${name || 'A name'}: ${problem} ${proposal} would do.`,
        ),
      ].slice(0, 4)}
      empty={error ?? 'Looking at the bodies…'}
    >
      {done && (
        <div className={layout.undo}>
          <Link to={done.assembly}>Open the assembly</Link>
          {done.undoButton}
        </div>
      )}
      {error && outline !== null && (
        <span className={layout.error} role="alert">
          {error}
        </span>
      )}
      {problems.length > 0 && mayEdit && (
        <Button
          variant="default"
          onClick={() =>
            onTakeProposals(
              problems.flatMap((component) =>
                component.proposal ? [[component, component.proposal] as const] : [],
              ),
            )
          }
        >
          Take the proposed names
        </Button>
      )}
      {running ? (
        <TaskBar progress={running} label="Splitting" onCancel={onCancel} />
      ) : (
        <Button
          size="sm"
          disabled={!mayApply}
          title={mayEdit ? undefined : 'This needs the role editor.'}
          onClick={() => outline && onApply(outline)}
        >
          Split off {plural(count, 'body', 'bodies')}
        </Button>
      )}
    </WhatWillChange>
  );
}

/** What files there will be. */
function filesLine(
  { components, folder, assembly }: SplitOutlineView,
  choices: SplitChoices,
  count: number,
): React.ReactNode {
  const kinds = components.some(({ isJoined }) => isJoined) ? 'component' : 'shape';
  const pairs = components.filter(({ mirrorOf }, n) => mirrorOf !== null && mirrorOf > n).length;
  const shapes = `${plural(count, 'body', 'bodies')} of ${plural(components.length, kinds)}${pairs > 0 ? `, ${plural(pairs, 'mirrored pair')}` : ''}`;
  return choices.inFile ? (
    <>
      {shapes}: one new file <span className="mono">{assembly}</span> with {plural(components.length, 'part')}{' '}
      inside it.
    </>
  ) : (
    <>
      {shapes}: {plural(components.length, 'new file')} in <span className="mono">{folder || '/'}</span> and
      the assembly <span className="mono">{assembly.split('/').at(-1)}</span>, which puts every body back
      where it is.
    </>
  );
}

/** What becomes of the source and of what uses it. */
function sourceLine({ users }: SplitOutlineView, choices: SplitChoices, path: string, left: number): string {
  const name = path.split('/').at(-1);
  return {
    keep: `${name} stays as it is.`,
    remove: `${name} keeps ${plural(left, 'body', 'bodies')}; the version of now is kept, too.`,
    replace:
      users.length === 0
        ? `${name} stays; no assembly uses it.`
        : `${users.join(', ')} will use the new assembly in its place.`,
  }[choices.rest];
}
