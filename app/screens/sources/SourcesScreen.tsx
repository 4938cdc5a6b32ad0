import { Button, Checkbox, Menu, Select } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { FollowPreview } from '#core/jobs/follow/view';
import type { FollowLine } from '#core/jobs/split/newer/outline';
import type { SourceFile } from '#server/projects/catalogue/sources';
import type { PlannedView } from '#server/views/operations/planned-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { readPaths, writePaths } from '../../ui/address/paths-in-address';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { PageTitle } from '../../ui/frame/PageTitle';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { JustDone, OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { useOperation } from '../../ui/operation/useOperation';
import { PathItems } from '../../ui/project/PathItems';
import type { ProjectContext } from '../../ui/project/project-context';
import { differenceInWords } from './difference';
import classes from './Sources.module.css';

interface SourcesScreenProps {
  sources: SourceFile[];
  source: string | null;
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
    sort: ({ change }) => change,
  },
  {
    key: 'body',
    title: 'Body',
    width: 'minmax(96px, 1fr)',
    cell: ({ older, newer }) => <span className={classes.text}>{bodyInWords(older, newer)}</span>,
    sort: ({ older, newer }) => bodyInWords(older, newer),
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
    sort: ({ how }) => how,
  },
  {
    key: 'confidence',
    title: 'Sure',
    width: '44px',
    numeric: true,
    cell: ({ confidence }) => (confidence === null ? '' : `${Math.round(confidence * 100)} %`),
    sort: ({ confidence }) => confidence,
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
function countsInWords(lines: readonly FollowLine[]): string {
  const kinds = ['changed', 'moved', 'new', 'gone', 'unchanged'] as const;
  return kinds
    .flatMap((kind) => {
      const count = lines.filter(({ change }) => change === kind).length;
      return count > 0 ? [`${count} ${kind}`] : [];
    })
    .join(', ');
}

/** What following a source does, in lines. */
function followLines(
  { files, preview: { lines } }: PlannedView<FollowPreview>,
  keepsGone: boolean,
): React.ReactNode[] {
  if (files.length === 0) return ['Every file is at the newest version of its source.'];
  const [renewed, created] = (['written', 'new'] as const).map(
    (does) => files.filter((file) => file.does === does).length,
  );
  const gone = lines.some(({ change }) => change === 'gone');
  return [
    `${countsInWords(lines)}: ${renewed === 0 ? 'no file gets' : plural(renewed!, 'file gets', 'files get')} a new version${created! > 0 ? ` and ${plural(created!, 'file is', 'files are')} new` : ''}.`,
    !gone
      ? 'Every version of now is kept.'
      : keepsGone
        ? 'What is gone from the source stays in the assembly. Every version of now is kept.'
        : 'What is gone from the source leaves the assembly; its files stay. Every version of now is kept.',
  ];
}

const NOTHING: FollowPreview = { lines: [], scene: { bodies: [], instances: [] } };

/** Files that others came out of: what a newer version changed, body by body, and bringing all of them up to it. */
export function SourcesScreen({ sources, source, isPreparing }: SourcesScreenProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const take = view.get('take');
  const taken = useMemo(() => readPaths(take), [take]);
  const keepsGone = view.get('gone') === 'keep';
  const following = useOperation<FollowPreview>(
    'follow',
    source === null || isPreparing ? null : { source, removeGone: !keepsGone, take: [...taken] },
  );
  // Detaching is looked at in the same place before it is done: which files is said in the address.
  const leaving = view.get('detach');
  const detaching = useOperation<null>(
    'detach',
    source === null || leaving === null ? null : { source, files: leaving === 'all' ? null : [leaving] },
  );
  const { lines, scene } = following.planned?.preview ?? NOTHING;
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

  if (source === null) {
    return (
      <div className={layout.blank}>
        <h1>No file came out of another</h1>
        <p className="muted">
          Split a part, and its files remember which body of which version they are. When the part changes,
          this page brings them up to it.
        </p>
        <Button component={Link} to={addressIn(projectId, 'split')}>
          Go to Split
        </Button>
        <JustDone operation={following} />
        <JustDone operation={detaching} />
      </div>
    );
  }
  const selectedLine = lines.find((line) => keyOf(line) === selected);
  const selectedFile = selectedLine?.component ?? null;
  const shown = lines.map((line) => ({ ...line, isTaken: taken.has(line.component ?? '') }));
  const setTaken = (path: string, isTaken: boolean) => {
    const after = isTaken ? [...taken, path] : [...taken].filter((other) => other !== path);
    change({ take: after.length > 0 ? writePaths(after) : null });
  };
  const preparing = isPreparing ? 'The shapes of this source are still being prepared.' : null;
  const choices = (
    <>
      <PageTitle>Behind</PageTitle>
      <div className={classes.bar}>
        <Select
          aria-label="Source"
          className={classes.source}
          data={sources.map(({ path, files, behind }) => ({
            value: path,
            label: `${path} (${plural(files, 'file')}${behind > 0 ? `, ${behind} behind` : ''})`,
          }))}
          value={source}
          onChange={(value) => change({ source: value, sel: null, take: null, detach: null })}
          allowDeselect={false}
        />
        {lines.some(({ change: kind }) => kind === 'gone') && (
          <Checkbox
            label="Keep what is gone"
            checked={keepsGone}
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
          menu={([line]) => <PathItems path={line?.component} />}
          empty={preparing ?? following.refusal ?? 'Comparing the files with their source…'}
        />
      </div>
    </>
  );
  const stage = scene.bodies.length > 0 && (
    <Stage
      scene={scene}
      sceneKey={source}
      selected={lit}
      fitRequest={fitRequest}
      onPick={(pick) => change({ sel: pick ? keyOf(lines[pick.row]!) : null })}
    >
      <div className={classes.open} role="toolbar" aria-label="Selection">
        <Button variant="default" disabled={lit.size === 0} onClick={() => setFitRequest(fitRequest + 1)}>
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
            to={addressIn(projectId, 'files', { sel: selectedFile })}
          >
            Open {selectedFile.split('/').at(-1)}
          </Button>
        )}
      </div>
    </Stage>
  );
  if (leaving !== null)
    return (
      <OperationPage
        operation={detaching}
        choices={choices}
        stage={stage || <span />}
        lines={({ files }) => [
          <>
            {plural(files.length, 'file stays as it is', 'files stay as they are')} and{' '}
            {files.length === 1 ? 'no longer follows' : 'no longer follow'}{' '}
            <span className="mono">{source.split('/').at(-1)}</span>:{' '}
            <span className="mono">
              {files
                .slice(0, 4)
                .map(({ path }) => path)
                .join(', ')}
            </span>
            {files.length > 4 && ` and ${files.length - 4} more`}.
          </>,
        ]}
        empty="Looking at what changes…"
        label={(plan) => `Detach ${plural(plan?.files.length ?? 0, 'file')}`}
        doing="Detaching"
      >
        <Button variant="default" onClick={() => change({ detach: null })}>
          Back to following
        </Button>
      </OperationPage>
    );
  return (
    <OperationPage
      operation={following}
      choices={choices}
      stage={stage || <span />}
      lines={(plan) => followLines(plan, keepsGone)}
      empty={preparing ?? ''}
      label={() => 'Bring up to date'}
      doing="Bringing up to date"
    >
      <JustDone operation={detaching} />
      {mayEdit && (
        <Menu position="top-end">
          <Menu.Target>
            <Button variant="default">Detach</Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Label>
              These files stay as they are and no longer follow {source.split('/').at(-1)}.
            </Menu.Label>
            <Menu.Item disabled={!selectedFile} onClick={() => change({ detach: selectedFile })}>
              {selectedFile ? `Only ${selectedFile}` : 'Only the selected file'}
            </Menu.Item>
            <Menu.Item onClick={() => change({ detach: 'all' })}>
              All {plural(sources.find(({ path }) => path === source)?.files ?? 0, 'file')}
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      )}
    </OperationPage>
  );
}
