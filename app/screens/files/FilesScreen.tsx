import { Button, UnstyledButton } from '@mantine/core';
import { useMemo } from 'react';
import { Link, useFetcher, useNavigate, useOutletContext } from 'react-router';
import type { FileRow } from '#server/views/files/files-view';
import { readPaths, writePaths } from '../../ui/address/paths-in-address';
import { useTyped, useView } from '../../ui/address/useView';
import { bytes, count, plural } from '../../ui/format';
import { PageTitle } from '../../ui/frame/PageTitle';
import { LinkCounts } from '../../ui/LinkMark';
import { FilterInput } from '../../ui/ledger/FilterInput';
import { type FilterWords, filterFor } from '../../ui/ledger/filter-rows';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { addressOf, operationsFor } from '../../ui/operation/operations';
import { PathText } from '../../ui/PathText';
import { preparationOf } from '../../ui/project/preparation';
import type { ProjectContext } from '../../ui/project/project-context';
import { useSelection } from '../../ui/project/useSelection';
import { Bring } from './Bring';
import { FileDrawer } from './FileDrawer';
import { FileItems } from './FileItems';
import classes from './Files.module.css';

const COLUMNS: LedgerColumn<FileRow>[] = [
  {
    key: 'path',
    title: 'File',
    width: 'minmax(240px, 2fr)',
    cell: ({ path }) => <PathText path={path} />,
    sort: ({ path }) => path,
  },
  {
    key: 'role',
    title: 'Role',
    width: '84px',
    cell: ({ role }) => role,
    sort: ({ role }) => role,
  },
  {
    key: 'product',
    title: 'Product',
    width: 'minmax(120px, 1fr)',
    cell: ({ product, error, damage }) =>
      error ? (
        <span className={classes.error}>cannot be read</span>
      ) : damage ? (
        <span title={damage}>
          {product} <span className={classes.error}>damaged</span>
        </span>
      ) : (
        product
      ),
    sort: ({ error, damage, product }) => (error ? '' : damage ? ' ' : product),
    text: ({ product }) => product,
  },
  {
    key: 'bodies',
    title: 'Bodies',
    width: '56px',
    numeric: true,
    cell: ({ bodies }) => (bodies > 0 ? count(bodies) : ''),
    sort: ({ bodies }) => bodies || null,
  },
  {
    key: 'links',
    title: 'Links it holds',
    width: 'minmax(236px, 1fr)',
    cell: ({ links, role }) =>
      role === 'assembly' || Object.values(links).some((n) => n > 0) ? <LinkCounts counts={links} /> : '',
    // Broken ones weigh more than any number of sound ones.
    text: ({ links }) =>
      Object.entries(links)
        .flatMap(([state, n]) => (n > 0 ? [`${n} ${state}`] : []))
        .join(', '),
    sort: ({ links }) =>
      1e6 * (links.missing + links.ambiguous + links.loop) + 1e3 * links.behind + links.sound,
  },
  {
    key: 'used',
    title: 'Used in',
    width: '76px',
    cell: ({ usedBy, about, unused }) => {
      if (usedBy > 0) return plural(usedBy, 'file');
      if (unused) return <span className="muted">unused</span>;
      return about === null ? 'root' : <span title={`It shows ${about}.`}>—</span>;
    },
    sort: ({ usedBy }) => usedBy,
  },
  { key: 'unit', title: 'Unit', width: '40px', cell: ({ unit }) => unit ?? '', sort: ({ unit }) => unit },
  {
    key: 'version',
    title: 'Ver.',
    width: '36px',
    numeric: true,
    cell: ({ version }) => version,
    sort: ({ version }) => version,
  },
  {
    key: 'bytes',
    title: 'Size',
    unit: 'bytes',
    width: '72px',
    numeric: true,
    cell: (row) => bytes(row.bytes),
    sort: (row) => row.bytes,
  },
];

/** What a filter knows of files besides their texts. */
const WORDS: FilterWords<FileRow> = {
  missing: ({ links }) => links.missing > 0,
  ambiguous: ({ links }) => links.ambiguous > 0,
  behind: ({ links }) => links.behind > 0,
  loop: ({ links }) => links.loop > 0,
  unused: (file) => file.unused,
  root: ({ role, usedBy, unused, about }) => role === 'assembly' && usedBy === 0 && !unused && about === null,
  unreadable: ({ error }) => error !== null,
  damaged: ({ error, damage }) => error === null && damage !== null,
  assembly: ({ role }) => role === 'assembly',
  drawing: ({ role }) => role === 'drawing',
};

/** Words, and sizes as they are typed. */
const SHOWN_WORDS = [...Object.keys(WORDS), '>1MB'];

/** All files of the project: what each is, what it holds, and whether its links hold. */
export function FilesScreen({ files }: { files: FileRow[] }) {
  const { projectId, mayEdit, shapes, operations } = useOutletContext<ProjectContext>();
  const jobs = useFetcher();
  const preparation = preparationOf(projectId);
  const navigate = useNavigate();
  const [view, change] = useView();
  const [query, setQuery] = useTyped('q');
  const shown = useMemo(() => {
    const fits = filterFor(query, {
      texts: ({ path, product, role }: FileRow) => [path, product, role],
      words: WORDS,
      size: (row) => row.bytes,
    });
    return fits ? files.filter(fits) : files;
  }, [files, query]);
  const selected = files.find(({ path }) => path === view.get('sel'));
  const also = view.get('also');
  const chosen = useMemo(() => {
    const present = new Set(files.map(({ path }) => path));
    const last = selected?.path;
    const others = [...readPaths(also)].filter((path) => present.has(path) && path !== last);
    return last === undefined ? [] : [...others, last];
  }, [files, also, selected]);
  const selection = useMemo(() => {
    const byPath = new Map(files.map((file) => [file.path, file]));
    return chosen.map((path) => byPath.get(path)!);
  }, [files, chosen]);
  useSelection(selection);
  const rowKeys = Object.fromEntries(
    operationsFor(operations, selection, mayEdit).flatMap((entry) =>
      entry.key === undefined
        ? []
        : [[entry.key, () => void navigate(addressOf(projectId, entry, chosen))] as const],
    ),
  );
  const broken = files.reduce((sum, { links }) => sum + links.missing + links.ambiguous + links.loop, 0);
  const unreadable = files.filter(({ error }) => error).length;
  const damaged = files.filter(({ error, damage }) => !error && damage).length;
  const unused = files.filter((file) => file.unused).length;

  return (
    <Bring startOpen={files.length === 0}>
      {(importButton, bring) => (
        <div className={classes.page}>
          <PageTitle>Files</PageTitle>
          <div className={classes.bar}>
            <span className={classes.summary}>
              <b>{plural(files.length, 'file')}</b>
              {broken > 0 && `, ${plural(broken, 'broken link')}`}
              <Listing count={unreadable} word="unreadable" words="unreadable" onList={setQuery} />
              <Listing count={damaged} word="damaged" words="damaged" onList={setQuery} />
              <Listing count={unused} word="unused" words="that no root assembly reaches" onList={setQuery} />
            </span>
            <span className={classes.space} />
            {mayEdit && shapes.open > 0 && (
              <Button variant="default" onClick={() => void jobs.submit({ intent: 'stop' }, preparation)}>
                Stop the preparation
              </Button>
            )}
            {mayEdit && shapes.open === 0 && shapes.failed > 0 && (
              <Button variant="default" onClick={() => void jobs.submit({ intent: 'again' }, preparation)}>
                {`Prepare ${plural(shapes.failed, 'file')} again`}
              </Button>
            )}
            {chosen.length > 1 &&
              operationsFor(operations, selection, mayEdit).map((entry) => (
                <Button
                  key={entry.name}
                  variant="default"
                  component={Link}
                  to={addressOf(projectId, entry, chosen)}
                >
                  {entry.title} {chosen.length}
                </Button>
              ))}
            <FilterInput value={query} onChange={setQuery} words={SHOWN_WORDS} />
            {importButton}
          </div>
          <div className={classes.table}>
            <Ledger
              label="Files"
              isMain
              columns={COLUMNS}
              rows={shown}
              keyOf={({ path }) => path}
              selected={selected?.path ?? null}
              onSelect={({ path }) => change({ sel: path, also: null })}
              several={{
                keys: chosen,
                onSelect: (keys) =>
                  change({
                    sel: keys.at(-1) ?? null,
                    also: keys.length > 1 ? writePaths(keys.slice(0, -1)) : null,
                  }),
              }}
              keys={rowKeys}
              menu={(some) => <FileItems files={some} bring={bring} />}
              empty={
                files.length === 0
                  ? 'No file yet. Drop a folder or a zip of linked STEP files here.'
                  : `No file fits “${query}”.`
              }
            />
          </div>
          {!selected && view.get('sel') !== null && (
            <p className={classes.gone} role="status">
              There is no file <span className="mono">{view.get('sel')}</span> any more. It may have been
              renamed, moved or deleted: Activity says so.
            </p>
          )}
          {selected && chosen.length === 1 && (
            <FileDrawer
              key={selected.path}
              file={selected}
              projectId={projectId}
              mayEdit={mayEdit}
              bring={bring}
              onClose={() => change({ sel: null, also: null })}
            />
          )}
        </div>
      )}
    </Bring>
  );
}

/** How many files are in a state; a click lists them. */
function Listing({
  count: some,
  word,
  words,
  onList,
}: {
  count: number;
  word: string;
  words: string;
  onList: (word: string) => void;
}) {
  if (some === 0) return null;
  return (
    <>
      {', '}
      <UnstyledButton className={classes.listing} onClick={() => onList(word)}>
        {`${count(some)} ${words}`}
      </UnstyledButton>
    </>
  );
}
