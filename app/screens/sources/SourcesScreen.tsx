import { Button, Checkbox, Menu, Select } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useFetcher, useOutletContext } from 'react-router';
import type { FollowLine } from '#core/follow/outline';
import type { SourceFile } from '#server/projects/follow';
import type { SceneData } from '#server/views/structure-view';
import type { action as followAction } from '../../routes/sources';
import { Stage } from '../../stage/Stage';
import { plural } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/Ledger';
import layout from '../../ui/OperationPage.module.css';
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
  lines: FollowLine[];
  scene: SceneData | null;
  plan: {
    summary: string;
    warnings: string[];
    created: number;
    renewed: number;
    base: { path: string; base: string }[];
  } | null;
  error: string | null;
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
    width: 'minmax(110px, 1.2fr)',
    cell: ({ older, newer }) => bodyInWords(older, newer),
  },
  {
    key: 'difference',
    title: 'Difference',
    width: 'minmax(120px, 1.2fr)',
    cell: (line) => {
      const words = differenceInWords(line);
      return <span title={words}>{words}</span>;
    },
  },
  {
    key: 'file',
    title: 'File',
    width: 'minmax(120px, 1.2fr)',
    cell: ({ component }) =>
      component === null ? (
        <span className="muted">a new file</span>
      ) : (
        <span className="mono" title={component}>
          {component.split('/').at(-1)}
        </span>
      ),
  },
  {
    key: 'how',
    title: 'Matched by',
    width: '96px',
    cell: ({ how }) => how ?? '',
  },
  {
    key: 'confidence',
    title: 'Sure',
    width: '52px',
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

/** Files that others came out of: what a newer version changed, body by body, and bringing all of them up to it. */
export function SourcesScreen({ sources, source, lines, scene, plan, error }: SourcesScreenProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const take = view.get('take');
  const taken = useMemo(() => readPaths(take), [take]);
  const follow = useFetcher<typeof followAction>();
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

  const applied = follow.data && 'applied' in follow.data ? follow.data : null;
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
        {applied && !undone && (
          <div className={layout.undo}>
            <span role="status">{applied.summary}.</span>
            {undoButton}
          </div>
        )}
      </div>
    );
  }
  const trouble = follow.data && 'error' in follow.data ? follow.data.error : null;
  const keepGone = view.get('gone') === 'keep';
  const count = (kind: FollowLine['change']) => lines.filter((line) => line.change === kind).length;
  const selectedLine = lines.find((line) => keyOf(line) === selected);
  const selectedFile = selectedLine?.component ?? null;
  const shown = lines.map((line) => ({ ...line, isTaken: taken.has(line.component ?? '') }));
  const setTaken = (path: string, isTaken: boolean) => {
    const after = isTaken ? [...taken, path] : [...taken].filter((other) => other !== path);
    change({ take: after.length > 0 ? writePaths(after) : null });
  };
  const cut = (file: string) => follow.submit({ intent: 'cut', source, file }, { method: 'post' });
  const isUpToDate = plan === null && error === null;
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
            {count('gone') > 0 && plan && (
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
              empty={error ?? 'Nothing is known of the bodies.'}
            />
          </div>
        </div>
        <div className={layout.stage}>
          {scene && (
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
        empty={isUpToDate ? 'Every file is at the newest version of its source.' : (error ?? '')}
      >
        {trouble && (
          <span className={layout.error} role="alert">
            {trouble}
          </span>
        )}
        {undoButton}
        {mayEdit && (
          <Menu position="top-end">
            <Menu.Target>
              <Button variant="default">Cut the tie</Button>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Label>
                These files stay as they are and no longer follow {source.split('/').at(-1)}.
              </Menu.Label>
              <Menu.Item disabled={!selectedFile} onClick={() => cut(selectedFile ?? '')}>
                {selectedFile ? `Only ${selectedFile}` : 'Only the selected file'}
              </Menu.Item>
              <Menu.Item onClick={() => cut('')}>
                All {plural(sources.find(({ path }) => path === source)?.files ?? 0, 'file')}
              </Menu.Item>
            </Menu.Dropdown>
          </Menu>
        )}
        {plan && (
          <follow.Form method="post">
            <input type="hidden" name="intent" value="follow" />
            <input type="hidden" name="source" value={source} />
            <input type="hidden" name="gone" value={keepGone ? 'keep' : 'remove'} />

            <input type="hidden" name="take" value={writePaths(taken)} />
            <input type="hidden" name="base" value={JSON.stringify(plan.base)} />
            <Button
              type="submit"
              size="sm"
              disabled={!mayEdit || plan.renewed + plan.created === 0}
              loading={follow.state !== 'idle'}
            >
              Bring up to date
            </Button>
          </follow.Form>
        )}
      </WhatWillChange>
    </div>
  );
}
