import { useMemo } from 'react';
import { useNavigate, useOutletContext } from 'react-router';
import type { FileRow } from '#server/views/packed/packed-rows';
import { readPaths, writePaths } from '../../ui/address/paths-in-address';
import { useTyped, useView } from '../../ui/address/useView';
import { PageTitle } from '../../ui/frame/PageTitle';
import { filterFor } from '../../ui/ledger/filter-rows';
import { Ledger } from '../../ui/ledger/Ledger';
import { addressOf, operationsFor } from '../../ui/operation/operations';
import type { ProjectContext } from '../../ui/project/project-context';
import { useSelection } from '../../ui/project/useSelection';
import { Bring } from './Bring';
import { COLUMNS } from './columns';
import { FileDrawer } from './FileDrawer';
import { FileItems } from './FileItems';
import classes from './Files.module.css';
import { FilesBar } from './FilesBar';
import { WORDS } from './filter-words';
import type { AllFiles } from './useAllFiles';

/** All files of the project: what each is, what it holds, and whether its links hold. */
export function FilesScreen({ files, total }: AllFiles) {
  const { projectId, mayEdit, operations } = useOutletContext<ProjectContext>();
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

  return (
    <Bring startOpen={files.length === 0}>
      {(importButton, bring) => (
        <div className={classes.page}>
          <PageTitle>Files</PageTitle>
          <FilesBar files={files} total={total} selection={selection} query={query} onQuery={setQuery}>
            {importButton}
          </FilesBar>
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
