import { Button, Menu, Select, Switch } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useOutletContext } from 'react-router';
import type { FileToWorkOn } from '#core/accepts';
import type { StructureView, StructureViewRow } from '#server/views/structure-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/addresses';
import { FilterInput } from '../../ui/FilterInput';
import { type FilterWords, filterFor } from '../../ui/filter-rows';
import { count, mass, plural, volume } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/Ledger';
import { LinkMark, WORST_FIRST } from '../../ui/LinkMark';
import { OperationItems } from '../../ui/OperationItems';
import { PageTitle } from '../../ui/PageTitle';
import { Panes } from '../../ui/Panes';
import { usePageCommands } from '../../ui/page-commands';
import { readPaths, writePaths } from '../../ui/paths-in-address';
import type { ProjectContext } from '../../ui/project-context';
import { useNewest } from '../../ui/useNewest';
import { useSelection } from '../../ui/useSelection';
import { useTyped, useView } from '../../ui/useView';
import { FactsDrawer } from './FactsDrawer';
import { coloursByLink } from './link-colours';
import { below, rowsAbove, shownRows, topmost } from './rows';
import classes from './Structure.module.css';

const COLUMNS: LedgerColumn<StructureViewRow>[] = [
  {
    key: 'name',
    title: 'Component',
    width: 'minmax(168px, 2fr)',
    cell: (row) => (
      <span className={classes.name}>
        {row.name}
        {row.liteOf && (
          <span className="muted" title={row.liteOf}>
            {' '}
            lite of {row.liteOf.split('/').at(-1)}
          </span>
        )}
      </span>
    ),
    sort: ({ name }) => name,
  },
  {
    key: 'quantity',
    title: 'Qty',
    width: '34px',
    numeric: true,
    cell: (row) => (row.depth > 0 ? count(row.quantity) : ''),
    sort: ({ quantity }) => quantity,
  },
  {
    key: 'file',
    title: 'File',
    width: 'minmax(72px, 1fr)',
    cell: (row) => (
      <span className={classes.file}>
        {row.link || row.depth === 0 ? row.file.split(/[\\/]/).at(-1) : 'in its parent’s file'}
      </span>
    ),
    sort: ({ file }) => file.split(/[\\/]/).at(-1)!,
  },
  {
    key: 'link',
    title: 'Link',
    width: '86px',
    cell: (row) => row.link && <LinkMark state={row.link.state} title={row.link.reason} />,
    sort: ({ link }) => link && WORST_FIRST.indexOf(link.state),
    text: ({ link }) => link?.state ?? null,
  },
  {
    key: 'bodies',
    title: 'Bodies',
    width: '46px',
    numeric: true,
    cell: ({ totals, children }) => (
      <Total isSum={children > 0}>{totals.bodies > 0 && count(totals.bodies)}</Total>
    ),
    sort: ({ totals }) => totals.bodies || null,
  },
  {
    key: 'volume',
    title: 'Volume',
    unit: 'mm³',
    width: '88px',
    numeric: true,
    cell: ({ totals, children }) => (
      <Total isSum={children > 0}>{!!totals.volume && volume(totals.volume)}</Total>
    ),
    sort: ({ totals }) => totals.volume || null,
  },
  {
    key: 'mass',
    title: 'Mass',
    unit: 'g',
    width: '76px',
    numeric: true,
    isExtra: true,
    cell: ({ totals, children }) => <Total isSum={children > 0}>{!!totals.mass && mass(totals.mass)}</Total>,
    sort: ({ totals }) => totals.mass || null,
  },
  {
    key: 'material',
    title: 'Material',
    width: 'minmax(80px, 1fr)',
    isExtra: true,
    cell: ({ material }) => material ?? '',
    sort: ({ material }) => material,
  },
];

/** A number; quiet where it is the sum of what lies below. */
function Total({ isSum, children }: { isSum: boolean; children: React.ReactNode }) {
  return isSum ? (
    <span className="muted" title="With all that lies below">
      {children}
    </span>
  ) : (
    children
  );
}

/** What a filter knows of rows besides their texts. */
const WORDS: FilterWords<StructureViewRow> = {
  missing: ({ link }) => link?.state === 'missing',
  ambiguous: ({ link }) => link?.state === 'ambiguous',
  behind: ({ link }) => link?.state === 'behind',
  loop: ({ link }) => link?.state === 'loop',
  assembly: ({ children }) => children > 0,
  part: ({ children, bodies }) => children === 0 && bodies > 0,
  made: ({ use }) => use === 'made',
  bought: ({ use }) => use === 'bought',
};

/** Words, and sizes of files as they are typed. */
const SHOWN_WORDS = [...Object.keys(WORDS), '>1MB'];

/** The structure as an indented table beside the model; what is selected in one is selected in the other. */
export function StructureScreen({
  root,
  roots,
  rows,
  scene,
  occurrences,
  distinctParts,
  files,
}: StructureView) {
  const { projectId } = useOutletContext<ProjectContext>();
  const navigate = useNavigate();
  const [view, change] = useView();
  const [query, setQuery] = useTyped('q');
  const [fitRequest, setFitRequest] = useState(0);
  const [pickedName, setPickedName] = useState<string | null>(null);

  const closed = useMemo(() => new Set(view.get('closed')?.split(' ') ?? []), [view]);
  const hiddenKeys = useMemo(() => new Set(view.get('hidden')?.split(' ') ?? []), [view]);
  const shown = useMemo(() => {
    const texts = ({ name, file, product }: StructureViewRow) => [name, file, product];
    const size = ({ file }: StructureViewRow) => files[file]?.bytes ?? 0;
    return shownRows(rows, closed, filterFor(query, { texts, words: WORDS, size }));
  }, [rows, files, closed, query]);
  const selectedKey = view.get('sel');
  const also = view.get('also');
  /** Keys of all rows that are selected, the last one at the end. */
  const chosenKeys = useMemo(() => {
    if (selectedKey === null) return [];
    const others = also?.split(' ').filter((key) => key !== selectedKey) ?? [];
    return [...others, selectedKey];
  }, [selectedKey, also]);
  const chosen = useMemo(() => {
    const places = new Map(rows.map(({ key }, n) => [key, n]));
    return chosenKeys.flatMap((key) => places.get(key) ?? []);
  }, [rows, chosenKeys]);
  const selected = chosen.length === 1 ? rows[chosen[0]!] : undefined;
  const selectedFiles = useMemo(
    () =>
      filesOf(
        files,
        chosen.map((n) => rows[n]!),
      ),
    [files, rows, chosen],
  );
  useSelection(selectedFiles);
  const lit = useMemo(() => new Set(chosen.flatMap((n) => [...below(rows, n)])), [rows, chosen]);
  const hidden = useMemo(
    () => new Set(rows.flatMap(({ key }, n) => (hiddenKeys.has(key) ? [...below(rows, n)] : []))),
    [rows, hiddenKeys],
  );

  const hiddenRowKeys = useMemo(() => new Set([...hidden].map((n) => rows[n]!.key)), [rows, hidden]);

  const newestKeys = useNewest<readonly string[]>(chosenKeys);
  const selectAll = (keys: readonly string[]) => {
    newestKeys.current = keys;
    change({ sel: keys.at(-1) ?? null, also: keys.slice(0, -1).join(' ') });
  };
  const select = (row: StructureViewRow) => {
    setPickedName(null);
    selectAll([row.key]);
  };
  const setHidden = (keys: Iterable<string>) => change({ hidden: [...keys].join(' ') });
  const toggleHidden = () => {
    const isHidden = isChosenHidden;
    const keys = new Set(hiddenKeys);
    for (const key of chosenKeys) {
      if (isHidden) keys.delete(key);
      else keys.add(key);
    }
    setHidden(keys);
  };
  const showAlone = () => {
    if (chosen.length === 0) return;
    const keep = new Set(lit);
    for (const n of chosen) for (let row = n; row >= 0; row = rows[row]!.parent) keep.add(row);
    setHidden(
      rows.flatMap(({ key, parent }, n) => (!keep.has(n) && (parent < 0 || keep.has(parent)) ? [key] : [])),
    );
    // What is shown alone fills the picture.
    setFitRequest(fitRequest + 1);
  };

  const isChosenHidden = chosenKeys.length > 0 && chosenKeys.every((key) => hiddenKeys.has(key));
  const has = chosen.length > 0;
  usePageCommands([
    has && {
      label: isChosenHidden ? 'Show' : 'Hide',
      description: 'What is selected, on the model',
      run: toggleHidden,
    },
    has && { label: 'Show alone', description: 'What is selected, on the model', run: showAlone },
    hiddenKeys.size > 0 && { label: 'Show all', description: 'On the model', run: () => setHidden([]) },
  ]);
  const linkStates = useMemo(() => coloursByLink(rows), [rows]);
  const within = useMemo(() => readPaths(view.get('within')), [view]);
  const openAlone = (path: string) =>
    void navigate(
      addressIn(projectId, 'structure', {
        root: path,
        within: writePaths([...within, ...(root ? [root] : [])]),
      }),
    );

  if (root === null) {
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
  return (
    <Panes
      name="structure"
      share={47}
      left={
        <div className={classes.ledger}>
          <PageTitle>Structure</PageTitle>
          <div className={classes.bar}>
            {roots.length > 1 ? (
              <Select
                aria-label="Assembly"
                data={roots}
                value={root}
                onChange={(value) =>
                  change({ root: value, within: null, sel: null, also: null, closed: null, hidden: null })
                }
                allowDeselect={false}
                className={classes.root}
              />
            ) : (
              <span className={classes.summary}>
                <b>{count(occurrences)}</b> occurrences of <b>{count(distinctParts)}</b> distinct parts
              </span>
            )}
            <span className={classes.space} />
            <Switch
              label="One by one"
              checked={view.has('single')}
              onChange={(event) =>
                change({
                  single: event.currentTarget.checked ? '1' : null,
                  sel: null,
                  closed: null,
                  hidden: null,
                })
              }
            />
            <FilterInput value={query} onChange={setQuery} words={SHOWN_WORDS} />
          </div>
          {within.size > 0 && <Within projectId={projectId} within={[...within]} root={root} />}
          <div className={classes.table}>
            <Ledger
              label="Structure"
              isMain
              columns={COLUMNS}
              rows={shown}
              keyOf={({ key }) => key}
              selected={selectedKey}
              onSelect={select}
              several={{ keys: chosenKeys, onSelect: selectAll }}
              keys={{ h: toggleHidden, a: showAlone }}
              tree={{
                depth: ({ depth }) => depth,
                open: (row) => (row.children === 0 ? null : query !== '' || !closed.has(row.key)),
                onToggle: (row, open) => {
                  const keys = new Set(closed);
                  if (open) keys.delete(row.key);
                  else keys.add(row.key);
                  change({ closed: [...keys].join(' ') });
                },
              }}
              menu={(some) => (
                <>
                  <OpenItems rows={some} root={root} onOpen={openAlone} />
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
            fitRequest={fitRequest}
            linkStates={linkStates}
            menu={() => (
              <>
                <OpenItems rows={chosen.map((n) => rows[n]!)} root={root} onOpen={openAlone} />
                <Menu.Item onClick={toggleHidden}>{isChosenHidden ? 'Show' : 'Hide'}</Menu.Item>
                <Menu.Item onClick={showAlone}>Show alone</Menu.Item>
                <Menu.Divider />
                <OperationItems files={selectedFiles} />
              </>
            )}
            onPick={(pick, isAdded) => {
              setPickedName(isAdded ? null : (pick?.name ?? null));
              const key = pick && rows[pick.row]!.key;
              const before = newestKeys.current;
              if (!isAdded) selectAll(key ? [key] : []);
              else if (key)
                selectAll(before.includes(key) ? before.filter((other) => other !== key) : [...before, key]);
            }}
          >
            <div className={classes.actions} role="toolbar" aria-label="Selection">
              <Button.Group>
                <Button variant="default" disabled={!has} onClick={() => setFitRequest(fitRequest + 1)}>
                  Go to it
                </Button>
                <Button variant="default" disabled={!has} onClick={toggleHidden}>
                  {isChosenHidden ? 'Show' : 'Hide'}
                </Button>
                <Button variant="default" disabled={!has} onClick={showAlone}>
                  Show alone
                </Button>
                <Button variant="default" disabled={hiddenKeys.size === 0} onClick={() => setHidden([])}>
                  Show all
                </Button>
              </Button.Group>
              {hidden.size > 0 && <span className={classes.note}>{plural(hidden.size, 'row')} hidden</span>}
            </div>
          </Stage>
        </div>
      }
    />
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

/** The assemblies that one came through, with the way back to each. */
function Within({ projectId, within, root }: { projectId: string; within: readonly string[]; root: string }) {
  return (
    <nav className={classes.within} aria-label="Opened out of">
      {within.map((path, n) => (
        <span key={path}>
          <Link
            className="mono"
            to={addressIn(projectId, 'structure', {
              root: path,
              within: n > 0 ? writePaths(within.slice(0, n)) : null,
            })}
          >
            {path.split('/').at(-1)}
          </Link>{' '}
          ›{' '}
        </span>
      ))}
      <span className="mono" aria-current="page">
        {root.split('/').at(-1)}
      </span>
    </nav>
  );
}

/** The files that components are in, as they can be worked on; none for one whose file is missing. */
function filesOf(files: StructureView['files'], rows: readonly StructureViewRow[]): FileToWorkOn[] {
  return [...new Set(rows.map(({ file }) => file))].flatMap((path) => files[path] ?? []);
}
