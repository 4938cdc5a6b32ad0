import { VisuallyHidden } from '@mantine/core';
import { useMemo, useState } from 'react';
import type { FileRow } from '#server/views/packed/packed-rows';
import { count, plural } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import classes from './Files.module.css';
import { type FolderRow, foldersOf } from './folders';

/** Files with a star, and those that were looked at last. */
export const ONLY = ['starred', 'recent'] as const;
export type Only = (typeof ONLY)[number];

/** A line of the pane: a folder, or what is gathered from all of them. */
interface PaneRow extends FolderRow {
  key: string;
  only: Only | null;
}

interface FolderPaneProps {
  files: readonly FileRow[];
  gathered: { readonly [only in Only]: number };
  folder: string;
  only: Only | null;
  onChoose: (chosen: { folder: string; only: Only | null }) => void;
}

const TITLES: { readonly [only in Only]: string } = { starred: 'Starred', recent: 'Looked at last' };

const COLUMNS: LedgerColumn<PaneRow>[] = [
  {
    key: 'folder',
    title: 'Folder',
    width: 'minmax(110px, 1fr)',
    cell: ({ name, broken }) => (
      <>
        <span className={classes.folderName}>{name}</span>
        {broken > 0 && (
          <span className={classes.broken} title={plural(broken, 'broken link')}>
            {count(broken)}
            <VisuallyHidden> broken</VisuallyHidden>
          </span>
        )}
      </>
    ),
  },
  { key: 'files', title: 'Files', width: '48px', numeric: true, cell: ({ files }) => count(files) },
];

/** The folders of the project as a tree; above them what has a star, and what was looked at last. */
export function FolderPane({ files, gathered, folder, only, onChoose }: FolderPaneProps) {
  const folders = useMemo(() => foldersOf(files), [files]);
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const rows = useMemo((): PaneRow[] => {
    const away = (path: string) =>
      [...closed].some((shut) => path !== shut && (shut === '' || path.startsWith(`${shut}/`)));
    return [
      ...ONLY.map((what) => ({
        key: what,
        only: what,
        path: '',
        name: TITLES[what],
        depth: 0,
        files: gathered[what],
        broken: 0,
        hasFolders: false,
      })),
      ...folders
        .filter(({ path }) => !away(path))
        .map((row) => ({
          ...row,
          key: `/${row.path}`,
          only: null,
          name: row.path === '' ? 'All files' : row.name,
        })),
    ];
  }, [folders, closed, gathered]);
  return (
    <div className={classes.folders}>
      <Ledger
        label="Folders"
        columns={COLUMNS}
        rows={rows}
        keyOf={({ key }) => key}
        selected={only ?? `/${folder}`}
        onSelect={(row) => onChoose({ folder: row.path, only: row.only })}
        tree={{
          depth: ({ depth }) => depth,
          open: ({ hasFolders, path }) => (hasFolders ? !closed.has(path) : null),
          onToggle: ({ path }, open) => {
            const after = new Set(closed);
            if (open) after.delete(path);
            else after.add(path);
            setClosed(after);
          },
        }}
        empty=""
      />
    </div>
  );
}
