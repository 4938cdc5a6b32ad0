import { Button, Checkbox, Menu, Select } from '@mantine/core';
import { useMemo, useRef, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { FollowLine } from '#core/follow/outline';
import type { TaskState } from '#server/jobs/tasks';
import type { FollowRequest, SourceFile } from '#server/projects/follow';
import type { AppliedChange } from '#server/views/planned-view';
import type { Comparison } from '#server/worker/comparison';
import { Stage } from '../../stage/Stage';
import { Applied } from '../../ui/Applied';
import { plural } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/Ledger';
import layout from '../../ui/OperationPage.module.css';
import { TaskBar } from '../../ui/TaskBar';
import { cancelTask, useLoadedTask, useTask } from '../../ui/useTask';
import { useUndo } from '../../ui/useUndo';
import { useView } from '../../ui/useView';
import { WhatWillChange } from '../../ui/WhatWillChange';
import type { ProjectContext } from '../project/ProjectFrame';
import { differenceInWords } from './difference';
import { readPaths, writePaths } from './paths-in-address';
import classes from './Sources.module.css';

interface SourcesScreenProps {
  sources: SourceFile[];
  source: string | null;
  /** The source compared with its files, as far as that is; null when it cannot be compared yet. */
  comparison: { task: TaskState<Comparison>; request: FollowRequest & { revision: number } } | null;
  /** The shapes that have to be compared are still being made. */
  isPreparing: boolean;
}

/** A line, and whether its component is taken from the source although it has changes of its own. */
type ShownLine = FollowLine & { isTaken: boolean };

const COLUMNS: LedgerColumn<ShownLine>[] = [
  {
    key: 'change',
    title: 'Change',
    width: '84px',
    cell: ({ change, kept, isTaken }) => (
      <span className={classes.change} data-change={change} title={kept ?? undefined}>
        {kept === null ? change : isTaken ? 'taken anew' : 'left as it is'}
      </span>
    ),
  },
  {
    key: 'body',
    title: 'Body',
    width: 'minmax(96px, 1fr)',
    cell: ({ older, newer }) => <span className={classes.text}>{bodyInWords(older, newer)}</span>,
  },
  {
    key: 'difference',
    title: 'Difference',
    width: 'minmax(130px, 1.3fr)',
    cell: (line) => {
      const words = differenceInWords(line);
      return (
        <span className={classes.text} title={words}>
          {words}
        </span>
      );
    },
  },
  {
    key: 'file',
    title: 'File',
    width: 'minmax(138px, 1.4fr)',
    cell: ({ component }) =>
      component === null ? (
        <span className="muted">a new file</span>
      ) : (
        <span className={classes.file} title={component}>
          {component.split('/').at(-1)}
        </span>
      ),
  },
  {
    key: 'how',
    title: 'Matched by',
    width: '88px',
    cell: ({ how }) => how ?? '',
  },
  {
    key: 'confidence',
    title: 'Sure',
    width: '44px',
    numeric: true,
    cell: ({ confidence }) => (confidence === null ? '' : `${Math.round(confidence * 100)} %`),
  },
];

/** The name of a body, with the one that it has now when that is another. */
function bodyInWords(older: FollowLine['older'], newer: FollowLine['newer']): string {
  const [before, now] = [older, newer].map((body) => body && (body.name || `#${body.id}`));
  return before && now && older?.name !== newer?.name ? `${before} → ${now}` : (now ?? before ?? '');
}

const keyOf = ({ older, newer, component }: FollowLine) =>
  `${component ?? ''}:${older?.id ?? ''}:${newer?.id ?? ''}`;

/** `1 changed, 2 moved`: the changes that there are. */
function countsInWords(count: (kind: FollowLine['change']) => number): string {
  const kinds = ['changed', 'moved', 'new', 'gone', 'unchanged'] as const;
  return kinds.flatMap((kind) => (count(kind) > 0 ? [`${count(kind)} ${kind}`] : [])).join(', ');
}

const NOTHING: Pick<Comparison, 'lines' | 'scene'> = { lines: [], scene: { bodies: [], instances: [] } };

/** The newest comparison of a source: it stays until the next one is there. */
function useLast(source: string | null, result: Comparison | null): Comparison | null {
  const last = useRef<{ source: string | null; result: Comparison } | null>(null);
  if (result) last.current = { source, result };
  return last.current?.source === source ? last.current.result : null;
}

/** Files that others came out of: what a newer version changed, body by body, and bringing all of them up to it. */
export function SourcesScreen({ sources, source, comparison, isPreparing }: SourcesScreenProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const take = view.get('take');
  const taken = useMemo(() => readPaths(take), [take]);
  const { running, done, error: refused, start, cancel } = useTask<AppliedChange>();
  const comparing = useLoadedTask(comparison?.task ?? null);
  const again = useTask<Comparison>();
  const shownResult = useLast(source, comparison?.task.result ?? null);
  const { lines, scene } = shownResult ?? NOTHING;
  /** The state of the project that the last change was made on: what was planned for it is done. */
  const [doneAt, setDoneAt] = useState<number | null>(null);
  const isDone = done !== null && comparison?.request.revision === doneAt;
  // What is shown of an older choice is looked at and not carried out.
  const plan = (!isDone && comparison?.task.result?.plan) || null;
  const error = isPreparing
    ? 'The shapes of this source are still being prepared.'
    : comparison?.task.state === 'cancelled'
      ? 'The comparison was stopped.'
      : (comparison?.task.error ?? again.error);
  // Whoever comes from a file sees its body lit.
  const cameFrom = view.get('file');
  const first = cameFrom === null ? undefined : lines.find(({ component }) => component === cameFrom);
  const selected = view.get('sel') ?? (first ? keyOf(first) : null);
  const [fitRequest, setFitRequest] = useState(0);
  const lit = useMemo(() => {
    const file = lines.find((line) => keyOf(line) === selected)?.component ?? null;
    // A component that is placed several times is lit in all its places.
    return new Set(
      lines.flatMap((line, n) =>
        keyOf(line) === selected || (file !== null && line.component === file) ? [n] : [],
      ),
    );
  }, [lines, selected]);

  const applied = done?.result ?? null;
  const { undone, button: undoButton } = useUndo(applied?.applied);
  if (source === null) {
    return (
      <div className={layout.blank}>
        <h1>No file came out of another</h1>
        <p className="muted">
          Split a part, and its files remember which body of which version they are. When the part changes,
          this page brings them up to it.
        </p>
        <Button component={Link} to={`/projects/${projectId}/split`}>
          Go to Split
        </Button>
        {applied && !undone && <Applied summary={applied.summary}>{undoButton}</Applied>}
      </div>
    );
  }
  const keepGone = view.get('gone') === 'keep';
  const count = (kind: FollowLine['change']) => lines.filter((line) => line.change === kind).length;
  const selectedLine = lines.find((line) => keyOf(line) === selected);
  const selectedFile = selectedLine?.component ?? null;
  const shown = lines.map((line) => ({ ...line, isTaken: taken.has(line.component ?? '') }));
  const setTaken = (path: string, isTaken: boolean) => {
    const after = isTaken ? [...taken, path] : [...taken].filter((other) => other !== path);
    change({ take: after.length > 0 ? writePaths(after) : null });
  };
  const cut = (file: string | null) => void start('cut-tie', { source, file });
  const compareAgain = () => comparison && void again.start('comparison', comparison.request);
  return (
    <div className={layout.page}>
      <div className={layout.work}>
        <div className={layout.choices}>
          <div className={classes.bar}>
            <Select
              aria-label="Source"
              className={classes.source}
              data={sources.map(({ path, files, behind }) => ({
                value: path,
                label: `${path} (${plural(files, 'file')}${behind > 0 ? `, ${behind} behind` : ''})`,
              }))}
              value={source}
              onChange={(value) => change({ source: value, sel: null, take: null })}
              allowDeselect={false}
            />
            {count('gone') > 0 && shownResult?.plan && (
              <Checkbox
                label="Keep what is gone"
                checked={keepGone}
                onChange={(event) => change({ gone: event.currentTarget.checked ? 'keep' : null })}
              />
            )}
          </div>
          <div className={layout.table}>
            <Ledger
              label="Bodies of the source"
              columns={COLUMNS}
              rows={shown}
              keyOf={keyOf}
              selected={selected}
              onSelect={(line) => change({ sel: keyOf(line) })}
              empty={
                error ??
                (comparing ? 'Comparing the files with their source…' : 'Nothing is known of the bodies.')
              }
            />
          </div>
        </div>
        <div className={layout.stage}>
          {scene.bodies.length > 0 && (
            <Stage
              scene={scene}
              sceneKey={source}
              selected={lit}
              fitRequest={fitRequest}
              onPick={(pick) => change({ sel: pick ? keyOf(lines[pick.row]!) : null })}
            >
              <div className={classes.open} role="toolbar" aria-label="Selection">
                <Button
                  variant="default"
                  disabled={lit.size === 0}
                  onClick={() => setFitRequest(fitRequest + 1)}
                >
                  Go to it
                </Button>
                {selectedFile && selectedLine?.kept && selectedLine.mayBeTaken && mayEdit && (
                  <Button variant="default" onClick={() => setTaken(selectedFile, !taken.has(selectedFile))}>
                    {taken.has(selectedFile) ? 'Leave it as it is' : 'Take it from the source'}
                  </Button>
                )}
                {selectedFile && (
                  <Button
                    variant="default"
                    component={Link}
                    to={`/projects/${projectId}/files?sel=${encodeURIComponent(selectedFile)}`}
                  >
                    Open {selectedFile.split('/').at(-1)}
                  </Button>
                )}
              </div>
            </Stage>
          )}
        </div>
      </div>
      <WhatWillChange
        lines={
          plan
            ? [
                `${countsInWords(count)}: ${plan.renewed === 0 ? 'no file gets' : plural(plan.renewed, 'file gets', 'files get')} a new version${plan.created > 0 ? ` and ${plural(plan.created, 'file is', 'files are')} new` : ''}.`,
                count('gone') === 0
                  ? 'Every version of now is kept.'
                  : keepGone
                    ? 'What is gone from the source stays in the assembly. Every version of now is kept.'
                    : 'What is gone from the source leaves the assembly; its files stay. Every version of now is kept.',
              ]
            : applied && !undone
              ? [`Done: ${applied.summary}.`]
              : []
        }
        warnings={plan?.warnings}
        empty={
          error ??
          (comparing ? 'Looking at what changes…' : 'Every file is at the newest version of its source.')
        }
      >
        {refused && (
          <span className={layout.error} role="alert">
            {refused}
          </span>
        )}
        {undoButton && (
          <div className={layout.undo}>
            {plan && <span role="status">Done: {applied?.summary}.</span>}
            {undoButton}
          </div>
        )}
        {comparing && (
          <TaskBar
            progress={comparing}
            label="Comparing"
            onCancel={() => void cancelTask(projectId, comparison!.task.id)}
          />
        )}
        {(comparison?.task.state === 'cancelled' || comparison?.task.state === 'failed') && (
          <Button variant="default" loading={again.running !== null} onClick={compareAgain}>
            Compare again
          </Button>
        )}
        {running && <TaskBar progress={running} label="Bringing up to date" onCancel={cancel} />}
        {mayEdit && !running && !comparing && (
          <Menu position="top-end">
            <Menu.Target>
              <Button variant="default">Cut the tie</Button>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Label>
                These files stay as they are and no longer follow {source.split('/').at(-1)}.
              </Menu.Label>
              <Menu.Item disabled={!selectedFile} onClick={() => cut(selectedFile)}>
                {selectedFile ? `Only ${selectedFile}` : 'Only the selected file'}
              </Menu.Item>
              <Menu.Item onClick={() => cut(null)}>
                All {plural(sources.find(({ path }) => path === source)?.files ?? 0, 'file')}
              </Menu.Item>
            </Menu.Dropdown>
          </Menu>
        )}
        {plan && comparison && !running && (
          <Button
            size="sm"
            disabled={!mayEdit || plan.renewed + plan.created === 0}
            onClick={() => {
              const { removeGone, take: chosen, revision } = comparison.request;
              setDoneAt(revision);
              // What was brought up to date stays in view, also when another source is behind.
              change({ source });
              void start('follow', { source, removeGone, take: chosen, base: plan.base });
            }}
          >
            Bring up to date
          </Button>
        )}
      </WhatWillChange>
    </div>
  );
}
