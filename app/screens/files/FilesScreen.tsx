import { useLocalStorage } from '@mantine/hooks';
import { useEffect, useMemo } from 'react';
import { useNavigate, useOutletContext } from 'react-router';
import type { FileRow } from '#server/views/packed/packed-rows';
import { operationAddress } from '../../ui/address/addresses';
import { inAddress } from '../../ui/address/long-values';
import { readPaths, writePaths } from '../../ui/address/paths-in-address';
import { useTyped, useView } from '../../ui/address/useView';
import { PageTitle } from '../../ui/frame/PageTitle';
import { filterFor } from '../../ui/ledger/filter-rows';
import { Ledger } from '../../ui/ledger/Ledger';
import type { LedgerDrag } from '../../ui/ledger/LedgerRow';
import { addressOf, operationsFor } from '../../ui/operation/operations';
import type { ProjectContext } from '../../ui/project/project-context';
import { useRecentFiles } from '../../ui/project/recent-files';
import { useSelection } from '../../ui/project/useSelection';
import { Bring } from './Bring';
import { columnsFor } from './columns';
import { FileDrawer } from './FileDrawer';
import { FileItems } from './FileItems';
import classes from './Files.module.css';
import { FilesBar } from './FilesBar';
import { FolderPane, ONLY, type Only } from './FolderPane';
import { WORDS } from './filter-words';
import { isIn } from './folders';
import type { AllFiles } from './useAllFiles';

/** What is carried when rows are dragged: paths as a list. */
const DRAGGED_FILES = 'application/x-project-files';

/** Roles of what papers can belong to. */
const MODELS: readonly string[] = ['part', 'assembly', 'mesh'];

/** All files of the project: what each is, what it holds, and whether its links hold. */
export function FilesScreen({ files, total, starred }: AllFiles & { starred: readonly string[] }) {
  const { projectId, mayEdit, operations } = useOutletContext<ProjectContext>();
  const navigate = useNavigate();
  const [foldersShown, setFoldersShown] = useLocalStorage({ key: 'stonetray folders', defaultValue: true });
  const [view, change] = useView();
  const [query, setQuery] = useTyped('q');
  const [recent, noteRecent] = useRecentFiles(projectId);
  const folder = view.get('folder') ?? '';
  const only = ONLY.find((word) => word === view.get('only')) ?? null;
  const byPath = useMemo(() => new Map(files.map((file) => [file.path, file])), [files]);
  const gathered = useMemo(() => {
    const those = (paths: readonly string[]) => new Set(paths.filter((path) => byPath.has(path)));
    return { starred: those(starred), recent: those(recent) };
  }, [byPath, starred, recent]);
  const shown = useMemo(() => {
    const fits = filterFor(query, {
      texts: ({ path, product, role }: FileRow) => [path, product, role],
      words: WORDS,
      size: (row) => row.bytes,
    });
    return files.filter(
      (row) =>
        isIn(folder, row.path) && (only === null || gathered[only].has(row.path)) && (fits?.(row) ?? true),
    );
  }, [files, query, folder, only, gathered]);
  const selected = byPath.get(view.get('sel') ?? '');
  const lookedAt = selected?.path;
  useEffect(() => {
    if (lookedAt !== undefined) noteRecent(lookedAt);
  }, [lookedAt, noteRecent]);
  const also = view.get('also');
  const chosen = useMemo(() => {
    const last = selected?.path;
    const others = [...readPaths(also)].filter((path) => byPath.has(path) && path !== last);
    return last === undefined ? [] : [...others, last];
  }, [byPath, also, selected]);
  const selection = useMemo(() => chosen.map((path) => byPath.get(path)!), [byPath, chosen]);
  useSelection(selection);
  const columns = useMemo(() => columnsFor(projectId, gathered.starred), [projectId, gathered]);
  const rowKeys = Object.fromEntries(
    operationsFor(operations, selection, mayEdit).flatMap((entry) =>
      entry.key === undefined
        ? []
        : [[entry.key, () => void navigate(addressOf(projectId, entry, chosen))] as const],
    ),
  );

  // Papers that are dropped on a model come to belong to it, after a look.
  const attaching: LedgerDrag<FileRow> = {
    kind: DRAGGED_FILES,
    data: ({ path }) => writePaths(chosen.includes(path) ? chosen : [path]),
    onto: {
      takes: ({ role }) => MODELS.includes(role),
      onDrop: (what, { path }) =>
        void navigate(operationAddress(projectId, 'attach', { what: inAddress(projectId, what), to: path })),
    },
  };

  return (
    <Bring startOpen={files.length === 0}>
      {(importButton, bring) => (
        <div className={classes.page}>
          <PageTitle>Files</PageTitle>
          <FilesBar
            files={files}
            total={total}
            selection={selection}
            query={query}
            onQuery={setQuery}
            foldersShown={foldersShown}
            onFolders={setFoldersShown}
          >
            {importButton}
          </FilesBar>
          <div className={classes.beside}>
            {foldersShown && files.length > 0 && (
              <FolderPane
                files={files}
                gathered={{ starred: gathered.starred.size, recent: gathered.recent.size }}
                folder={folder}
                only={only}
                onChoose={(chosen) => change({ folder: chosen.folder, only: chosen.only })}
              />
            )}
            <div className={classes.table}>
              <Ledger
                label="Files"
                isMain
                columns={columns}
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
                drag={mayEdit ? attaching : undefined}
                menu={(some) => <FileItems files={some} bring={bring} />}
                empty={
                  files.length === 0
                    ? 'No file yet. Drop a folder or a zip of linked STEP files here.'
                    : noneIn(query, folder, only)
                }
              />
            </div>
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
              isStarred={gathered.starred.has(selected.path)}
              onClose={() => change({ sel: null, also: null })}
            />
          )}
        </div>
      )}
    </Bring>
  );
}

/** Why no file is listed, and what lists more. */
function noneIn(query: string, folder: string, only: Only | null): string {
  if (only === 'starred' && query === '')
    return 'No file has a star yet. Select one in All files, and star it below the table.';
  if (only === 'recent' && query === '') return 'No file was looked at in this browser yet.';
  const where = only !== null || folder === '' ? '' : ` in ${folder}`;
  return `No file${where} fits “${query}”.`;
}
