import { Button, Checkbox, CloseButton, Switch, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { SceneData } from '#core/geometry/scene';
import type { PackagePreview } from '#core/jobs/handoff/view';
import type { DoneWithFile } from '#server/projects/projects';
import type { PlannedView } from '#server/views/operations/planned-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { readPaths, writePaths } from '../../ui/address/paths-in-address';
import { useTyped, useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { PageTitle } from '../../ui/frame/PageTitle';
import { LinkMark } from '../../ui/LinkMark';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { Bytes } from '../../ui/measures/Figures';
import type { Measures } from '../../ui/measures/measures';
import { useMeasures } from '../../ui/measures/useMeasures';
import { OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { PathItems } from '../../ui/operation/PathItems';
import { useOperation } from '../../ui/operation/useOperation';
import { Select } from '../../ui/options';
import { PathText } from '../../ui/PathText';
import { DoneBefore } from '../../ui/project/DoneWith';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './HandOff.module.css';

type PackagedRow = PackagePreview['files'][number];

interface HandOffScreenProps {
  root: string | null;
  roots: string[];
  scene: SceneData | null;
  /** Lite models of the assembly. */
  lighter: string[];
  /** Packages of it that were written before. */
  done: readonly DoneWithFile[];
}

const COLUMNS: LedgerColumn<PackagedRow>[] = [
  { key: 'from', title: 'File', width: 'minmax(150px, 1.2fr)', cell: ({ from }) => <PathText path={from} /> },
  {
    key: 'to',
    title: 'Name in the package',
    width: 'minmax(150px, 1.1fr)',
    cell: ({ from, to }) => <PathText path={to} quiet={from === to} />,
    sort: ({ to }) => to,
  },
  {
    key: 'why',
    title: 'Why it goes in',
    width: 'minmax(120px, 1fr)',
    cell: ({ why }) => <span title={why}>{why}</span>,
    sort: ({ why }) => why,
  },
  {
    key: 'bytes',
    title: 'Size',
    width: '72px',
    numeric: true,
    cell: (row) => <Bytes of={row.bytes} />,
    sort: (row) => row.bytes,
  },
];

/** One assembly with exactly what it needs: which files, under which names, and what is broken. */
export function HandOffScreen({ root, roots, scene, lighter, done }: HandOffScreenProps) {
  const { projectId } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const [prefix, setPrefix] = useTyped('prefix');
  const [suffix, setSuffix] = useTyped('suffix');
  const measures = useMeasures();
  const [goOn, setGoOn] = useState(false);
  const also = useMemo(() => [...readPaths(view.get('also'))], [view]);
  const [selected, setSelected] = useState<string | null>(null);
  const packing = useOperation<PackagePreview>(
    'package',
    root === null
      ? null
      : {
          file: root,
          also,
          flatten: view.has('flatten'),
          drawings: view.has('drawings'),
          sources: !view.has('no-sources'),
          prefix: view.get('prefix') ?? '',
          suffix: view.get('suffix') ?? '',
          allowBroken: goOn,
        },
  );
  if (root === null || scene === null) {
    return (
      <div className={layout.blank}>
        <h1>Nothing to hand off yet</h1>
        <p className="muted">Import an assembly first. Then this page packs it with everything it needs.</p>
        <Button component={Link} to={addressIn(projectId, 'files')}>
          Go to Files
        </Button>
      </div>
    );
  }
  const broken = packing.planned?.preview.broken ?? [];
  const addressOf = (task: string) => addressIn(projectId, 'package.zip', { package: task });
  return (
    <OperationPage
      operation={packing}
      width="wide"
      choices={
        <>
          <PageTitle>Hand-off</PageTitle>
          <div className={classes.options}>
            <Select
              label={also.length > 0 ? 'File' : 'Assembly or file'}
              data={roots}
              value={root}
              onChange={(value) => change({ root: value, also: null })}
              allowDeselect={false}
              searchable
              className={classes.root}
            />
            <TextInput
              label="Prefix"
              value={prefix}
              maxLength={60}
              onChange={(event) => setPrefix(event.currentTarget.value)}
              className={classes.affix}
            />
            <TextInput
              label="Suffix"
              value={suffix}
              maxLength={60}
              onChange={(event) => setSuffix(event.currentTarget.value)}
              className={classes.affix}
            />
            <Switch
              label="All in one folder"
              checked={view.has('flatten')}
              onChange={(event) => change({ flatten: event.currentTarget.checked ? '1' : null })}
            />
            <Switch
              label="With drawings"
              checked={view.has('drawings')}
              onChange={(event) => change({ drawings: event.currentTarget.checked ? '1' : null })}
            />
            <Switch
              label="With the sources of split parts"
              checked={!view.has('no-sources')}
              onChange={(event) => change({ 'no-sources': event.currentTarget.checked ? null : '1' })}
            />
          </div>
          {also.length > 0 && (
            <section className={classes.also} aria-label="Others that go along">
              <span>And with it:</span>
              {also.map((path) => (
                <span key={path} className={classes.other}>
                  <span className="mono">{path}</span>
                  <CloseButton
                    size={24}
                    aria-label={`Leave out ${path}`}
                    onClick={() => change({ also: writePaths(also.filter((other) => other !== path)) })}
                  />
                </span>
              ))}
            </section>
          )}
          <DoneBefore done={done} word="Packed" />
          {lighter.length > 0 && (
            <p className={classes.lighter}>
              Give away less:{' '}
              {lighter.map((path) => (
                <Link key={path} to={addressIn(projectId, 'hand-off', { root: path })}>
                  {path.split('/').at(-1)}
                </Link>
              ))}
            </p>
          )}
          {broken.length > 0 && (
            <section className={classes.broken} aria-label="Broken links">
              <p>
                <b>{plural(broken.length, 'broken link')}</b>: the receiver would miss what they lead to.{' '}
                <Link to={addressIn(projectId, 'repair')}>Repair them first</Link>
              </p>
              <ul>
                {broken.slice(0, 6).map(({ holder, written, state, reason }) => (
                  <li key={holder + written} title={reason}>
                    <LinkMark state={state} />{' '}
                    <span className="mono">
                      {holder.split('/').at(-1)} → {written}
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          )}
          <div className={layout.table}>
            <Ledger
              label="Files of the package"
              columns={COLUMNS}
              rows={packing.planned?.preview.files ?? []}
              keyOf={({ from }) => from}
              selected={selected}
              onSelect={({ from }) => setSelected(from)}
              menu={([file]) => <PathItems path={file?.from} />}
              empty={packing.planned ? 'Nothing goes in.' : 'Looking at what goes in…'}
            />
          </div>
        </>
      }
      stage={<Stage scene={scene} sceneKey={root} />}
      lines={(plan) => packageLines(plan, measures)}
      warnings={packing.planned?.preview.notes}
      empty="Set the choices above."
      label={() => 'Write the package'}
      doing="Packing"
      onApplied={({ id }) => window.location.assign(addressOf(id))}
      done={(_, id) => <a href={addressOf(id)}>Download again</a>}
    >
      {broken.length > 0 && (
        <Checkbox
          label={`Go on with ${plural(broken.length, 'broken link')}`}
          checked={goOn}
          onChange={(event) => setGoOn(event.currentTarget.checked)}
        />
      )}
    </OperationPage>
  );
}

/** What will be written, in lines. */
function packageLines(
  { preview: { files, rootInside } }: PlannedView<PackagePreview>,
  { bytes }: Measures,
): React.ReactNode[] {
  const total = files.reduce((sum, file) => sum + file.bytes, 0);
  const renamed = files.filter(({ from, to }) => from !== to).length;
  return [
    `A zip of ${plural(files.length, 'file')}, ${bytes(total)} before packing, with checksums and a contents page. Start with ${rootInside}.`,
    `${renamed === 0 ? 'All names and folders stay as they are' : `${plural(renamed, 'file is', 'files are')} named or placed differently inside, and the links between them are rewritten to fit`}. The files of this project are not touched.`,
  ];
}
