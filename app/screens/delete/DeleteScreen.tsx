import { useState } from 'react';
import type { LostLink, RemovePreview } from '#core/jobs/remove/operation';
import { readPaths } from '../../ui/address/paths-in-address';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { Bytes } from '../../ui/measures/Figures';
import { ChosenFilesPage } from '../../ui/operation/ChosenFilesPage';
import { PathItems } from '../../ui/operation/PathItems';
import { useOperation } from '../../ui/operation/useOperation';
import { PathText } from '../../ui/PathText';
import classes from './Delete.module.css';

const FILES: LedgerColumn<RemovePreview['files'][number]>[] = [
  {
    key: 'path',
    title: 'File',
    width: 'minmax(200px, 1fr)',
    cell: ({ path }) => <PathText path={path} />,
    sort: ({ path }) => path,
  },
  {
    key: 'users',
    title: 'Used in',
    width: '90px',
    cell: ({ users }) => (users > 0 ? plural(users, 'file') : <span className="muted">nothing</span>),
    sort: ({ users }) => users,
  },
  {
    key: 'bytes',
    title: 'Size',
    width: '80px',
    numeric: true,
    cell: (row) => <Bytes of={row.bytes} />,
    sort: (row) => row.bytes,
  },
];

const LINKS: LedgerColumn<LostLink>[] = [
  {
    key: 'holder',
    title: 'In',
    width: 'minmax(140px, 1fr)',
    cell: ({ holder }) => <PathText path={holder} />,
    sort: ({ holder }) => holder,
  },
  {
    key: 'written',
    title: 'Link',
    width: 'minmax(120px, 1fr)',
    cell: ({ written }) => <PathText path={written} />,
    sort: ({ written }) => written,
  },
  {
    key: 'leadsTo',
    title: 'Then leads to',
    width: 'minmax(110px, 1fr)',
    cell: ({ leadsTo }) =>
      leadsTo === null ? <span className={classes.missing}>nowhere</span> : <PathText path={leadsTo} />,
  },
];

/** Files that go: who uses them, and what becomes of those links, before anything is deleted. */
export function DeleteScreen() {
  const [view] = useView();
  const paths = [...readPaths(view.get('what'))];
  const deleting = useOperation<RemovePreview>('remove', paths.length === 0 ? null : { paths });
  const [selected, setSelected] = useState<string | null>(null);
  const [link, setLink] = useState<string | null>(null);
  const { files, lost } = deleting.planned?.preview ?? { files: [], lost: [] };
  const keyOf = ({ holder, kind, written }: LostLink) => `${holder} ${kind} ${written}`;
  return (
    <ChosenFilesPage
      operation={deleting}
      title="Delete"
      nothingTo={paths.length === 0 ? 'to delete' : null}
      table={
        <Ledger
          label="Files to delete"
          columns={FILES}
          rows={files}
          keyOf={({ path }) => path}
          selected={selected}
          onSelect={({ path }) => setSelected(path)}
          menu={([file]) => <PathItems path={file?.path} />}
          empty={deleting.refusal ?? 'Looking at the files…'}
        />
      }
      stage={
        <div className={classes.lost}>
          <h2>
            {deleting.planned === null
              ? 'Looking at what uses them…'
              : lost.length === 0
                ? 'No other file uses them'
                : `${plural(lost.length, 'link')} in other files`}
          </h2>
          {lost.length > 0 && (
            <Ledger
              label="Links that lose their file"
              columns={LINKS}
              rows={lost}
              keyOf={keyOf}
              selected={link}
              onSelect={(row) => setLink(keyOf(row))}
              menu={([row]) => <PathItems path={row?.holder} />}
              empty=""
            />
          )}
        </div>
      }
      lines={({ files: gone }) => [
        `${plural(gone.length, 'file is', 'files are')} deleted. Every version is kept, and undoing brings all of it back.`,
      ]}
      empty="Looking at the files…"
      label={() => `Delete ${plural(files.length, 'file')}`}
      doing="Deleting"
    />
  );
}
