import { Button, Menu } from '@mantine/core';
import { Suspense, useMemo, useState } from 'react';
import { Link, useNavigate, useOutletContext } from 'react-router';
import type { KeptView } from '#core/project/formats/kept-views';
import type { StructureView, StructureViewRow } from '#server/views/structure/structure-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { readPaths, writePaths } from '../../ui/address/paths-in-address';
import { useTyped, useView } from '../../ui/address/useView';
import { count, plural } from '../../ui/format';
import { PageTitle } from '../../ui/frame/PageTitle';
import { later } from '../../ui/later';
import { filterFor } from '../../ui/ledger/filter-rows';
import { Ledger } from '../../ui/ledger/Ledger';
import { useMeasures } from '../../ui/measures/useMeasures';
import { OperationItems } from '../../ui/operation/OperationItems';
import { Panes } from '../../ui/Panes';
import type { ProjectContext } from '../../ui/project/project-context';
import { sendToPlace } from '../../ui/sending/bring';
import { DropZone } from '../../ui/sending/DropZone';
import { ChangeItems } from '../assembling/ChangeItems';
import { colouringsOf } from './colourings';
import { columnsFor, WORDS } from './columns';
import { FactsDrawer } from './FactsDrawer';
import { placedRows } from './placed-rows';
import { rowsAbove, shownRows, topmost } from './rows';
import { SelectionBar } from './SelectionBar';
import classes from './Structure.module.css';
import { StructureBar } from './StructureBar';
import { scalesOf } from './scales';
import { useKeptViews } from './useKeptViews';
import { filesOf, useStructureSelection } from './useStructureSelection';
import { Within } from './Within';

/** Fetched when somebody opens it. */
const KeptViews = later(async () => (await import('./KeptViews')).KeptViews);

/** The structure as an indented table beside the model; what is selected in one is selected in the other. */
export function StructureScreen({
  root,
  roots,
  rows,
  scene,
  undrawn,
  occurrences,
  distinctParts,
  files,
  views,
}: StructureView & { views: readonly KeptView[] }) {
  const { projectId, mayEdit, sending } = useOutletContext<ProjectContext>();
  const navigate = useNavigate();
  const [view, change] = useView();
  const [query, setQuery] = useTyped('q');
  const [pickedName, setPickedName] = useState<string | null>(null);

  const measures = useMeasures();
  const scales = useMemo(() => scalesOf(measures, rows), [measures, rows]);
  const columns = useMemo(() => columnsFor(scales, rows), [scales, rows]);
  const closed = useMemo(() => new Set(view.get('closed')?.split(' ') ?? []), [view]);
  const shown = useMemo(() => {
    const texts = ({ name, file, product }: StructureViewRow) => [name, file, product];
    const size = ({ file }: StructureViewRow) => files[file]?.bytes ?? 0;
    return shownRows(rows, closed, filterFor(query, { texts, words: WORDS, size }));
  }, [rows, files, closed, query]);
  const { selection, selectedKey, chosenKeys, chosen, selected, selectedFiles, lit, hiddenRowKeys } =
    useStructureSelection(rows, files);
  const { hidden, isHidden, toggleHidden, showAlone } = selection;
  const colourings = useMemo(() => colouringsOf(rows, files, scales), [rows, files, scales]);
  const within = useMemo(() => readPaths(view.get('within')), [view]);
  const openAlone = (path: string) =>
    void navigate(
      addressIn(projectId, 'structure', {
        root: path,
        within: writePaths([...within, ...(root ? [root] : [])]),
      }),
    );

  const kept = useKeptViews(views, root, rows);
  const viewNames = useMemo(() => views.map(({ name }) => name), [views]);

  if (root === null) return <NoStructure projectId={projectId} />;
  return (
    <DropZone
      words={`Drop to place it in ${root}`}
      disabled={!mayEdit}
      onFiles={(uploads) => sendToPlace(root, uploads, sending)}
    >
      <Panes
        name="structure"
        share={53}
        left={
          <div className={classes.ledger}>
            <PageTitle>Structure</PageTitle>
            <StructureBar
              root={root}
              roots={roots}
              occurrences={occurrences}
              distinctParts={distinctParts}
              query={query}
              setQuery={setQuery}
            />
            {kept.missing !== null && (
              <p className={classes.leftOut} role="status">
                No view is called “{kept.missing}” any more: it was taken out, or its assembly is gone.
              </p>
            )}
            <LeftOut rows={rows} drawn={scene.instances.length} undrawn={undrawn} />
            {within.size > 0 && <Within projectId={projectId} within={[...within]} root={root} />}
            <div className={classes.table}>
              <Ledger
                label="Structure"
                isMain
                columns={columns}
                rows={shown}
                keyOf={({ key }) => key}
                selected={selectedKey}
                onSelect={({ key }) => {
                  setPickedName(null);
                  selection.select([key]);
                }}
                several={{ keys: chosenKeys, onSelect: selection.select }}
                keys={{ h: toggleHidden, a: showAlone, Enter: selection.goTo }}
                onOpen={selection.goTo}
                tree={{
                  depth: ({ depth }) => depth,
                  open: (row) =>
                    row.children === 0 ? null : !row.isFolded && (query !== '' || !closed.has(row.key)),
                  onToggle: (row, open) => {
                    if (row.isFolded)
                      return change({
                        unfold: [...(view.get('unfold')?.split(' ') ?? []), row.key].join(' '),
                      });
                    const keys = new Set(closed);
                    if (open) keys.delete(row.key);
                    else keys.add(row.key);
                    change({ closed: [...keys].join(' ') });
                  },
                }}
                menu={(some) => (
                  <>
                    <OpenItems rows={some} root={root} onOpen={openAlone} />
                    <ChangeItems rows={placedRows(some, rows)} top={rows[0]?.file} hasFileItems />
                    <OperationItems files={filesOf(files, some)} />
                  </>
                )}
                dimmed={({ key }) => hiddenRowKeys.has(key)}
                empty={query ? `Nothing in the structure fits “${query}”.` : 'The file describes no product.'}
              />
            </div>
            <FactsDrawer
              key={selectedKey}
              row={selected}
              above={selected ? rowsAbove(rows, chosen[0]!) : []}
              several={chosen.length > 1 ? topmost(rows, chosen) : null}
              onSelect={(key) => change({ sel: key, also: null })}
              files={selectedFiles}
              pickedName={pickedName}
              projectId={projectId}
            />
          </div>
        }
        right={
          <div className={classes.stage}>
            <Stage
              scene={scene}
              sceneKey={`${root} ${view.has('single')}`}
              selected={lit}
              hidden={hidden}
              fitRequest={selection.fitRequest}
              colourings={colourings}
              kept={{ names: viewNames, onGoTo: kept.goTo, onOpen: kept.open }}
              menu={() => (
                <>
                  <OpenItems rows={chosen.map((n) => rows[n]!)} root={root} onOpen={openAlone} />
                  <ChangeItems
                    rows={placedRows(
                      chosen.map((n) => rows[n]!),
                      rows,
                    )}
                    top={rows[0]?.file}
                    hasFileItems
                  />
                  <Menu.Item onClick={toggleHidden}>{isHidden ? 'Show' : 'Hide'}</Menu.Item>
                  <Menu.Item onClick={showAlone}>Show alone</Menu.Item>
                  <Menu.Divider />
                  <OperationItems files={selectedFiles} />
                </>
              )}
              onPick={(pick, isAdded) => {
                setPickedName(isAdded ? null : (pick?.name ?? null));
                selection.pick(pick && rows[pick.row]!.key, isAdded);
              }}
            >
              <SelectionBar selection={selection} isEmpty={chosen.length === 0} />
              {kept.isOpen && kept.shown && (
                <Suspense>
                  <KeptViews views={views} shown={kept.shown} onGoTo={kept.goTo} onClose={kept.close} />
                </Suspense>
              )}
            </Stage>
          </div>
        }
      />
    </DropZone>
  );
}

function NoStructure({ projectId }: { projectId: string }) {
  return (
    <div className={classes.blank}>
      <h1>No structure yet</h1>
      <p className="muted">
        This project has no STEP file that can be read. Import a folder of linked files to see how they fit
        together.
      </p>
      <Button component={Link} to={addressIn(projectId, 'files')}>
        Go to Files
      </Button>
    </div>
  );
}

interface LeftOutProps {
  rows: readonly StructureViewRow[];
  drawn: number;
  undrawn: number;
}

/** Of a structure that multiplies beyond what anybody looks through: what is neither listed nor drawn. */
function LeftOut({ rows, drawn, undrawn }: LeftOutProps) {
  const folded = useMemo(() => rows.filter(({ isFolded }) => isFolded).length, [rows]);
  if (folded === 0 && undrawn === 0) return null;
  return (
    <p className={classes.leftOut} role="note">
      {folded > 0 && (
        <>
          {plural(folded, 'row is', 'rows are')} not listed to the bottom: open one, and what is below it is
          fetched.{' '}
        </>
      )}
      {undrawn > 0 && (
        <>
          The model shows {count(drawn)} of {count(drawn + undrawn)} placed bodies; “Open by itself” shows all
          of a smaller assembly.
        </>
      )}
    </p>
  );
}

interface OpenItemsProps {
  rows: readonly StructureViewRow[];
  root: string;
  onOpen: (path: string) => void;
}

/** The entry of a menu that makes an assembly inside of this one the root of the view. */
function OpenItems({ rows: [row, ...more], root, onOpen }: OpenItemsProps) {
  if (!row || more.length > 0 || row.children === 0 || !row.link || row.file === root) return null;
  return <Menu.Item onClick={() => onOpen(row.file)}>Open by itself</Menu.Item>;
}
