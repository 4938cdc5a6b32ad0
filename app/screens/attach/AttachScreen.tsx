import { TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { baseName } from '#core/files/links/paths';
import { readPaths } from '../../ui/address/paths-in-address';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { ChosenFilesPage } from '../../ui/operation/ChosenFilesPage';
import { PathItems } from '../../ui/operation/PathItems';
import { useOperation } from '../../ui/operation/useOperation';
import { Select } from '../../ui/options';
import { PathText } from '../../ui/PathText';
import classes from './Attach.module.css';

interface AttachScreenProps {
  /** Files that papers can belong to. */
  models: string[];
  /** What is attached to what. */
  attached: { file: string; to: string }[];
}

interface Paper {
  path: string;
  /** Models that it belongs to already. */
  models: string[];
}

const COLUMNS: LedgerColumn<Paper>[] = [
  {
    key: 'file',
    title: 'File',
    width: 'minmax(200px, 2fr)',
    cell: ({ path }) => <PathText path={path} />,
    sort: ({ path }) => path,
  },
  {
    key: 'models',
    title: 'Belongs to already',
    width: 'minmax(200px, 2fr)',
    cell: ({ models }) => models.join(', ') || <span className="muted">nothing</span>,
    sort: ({ models }) => models.join(', '),
  },
];

/** Reports, pictures and tables become papers of a model; the project's manifest keeps it. */
export function AttachScreen({ models, attached }: AttachScreenProps) {
  const [view, change] = useView();
  const what = view.get('what');
  const papers = useMemo(
    () =>
      [...readPaths(what)].map((path) => ({
        path,
        models: attached.flatMap(({ file, to }) => (file === path ? [to] : [])),
      })),
    [what, attached],
  );
  const to = view.get('to');
  const [note, setNote] = useState('');
  const [selected, setSelected] = useState<string | null>(null);
  const files = papers.map(({ path }) => path);
  const attaching = useOperation<null>(
    'attach',
    to === null || files.length === 0 ? null : { files, to, note },
  );
  return (
    <ChosenFilesPage
      title="Attach to a model"
      nothingTo={papers.length === 0 ? 'to attach' : null}
      operation={attaching}
      above={
        <div className={classes.fields}>
          <Select
            label="Model"
            className={classes.model}
            placeholder="Which part or assembly do they belong to?"
            data={models.filter((path) => !files.includes(path))}
            value={to}
            searchable
            limit={200}
            nothingFoundMessage="No model of that name"
            onChange={(path) => change({ to: path })}
          />
          <TextInput
            label="Note"
            className={classes.note}
            placeholder="What they are of it: stiffness report, name plate"
            value={note}
            maxLength={300}
            onChange={(event) => setNote(event.currentTarget.value)}
          />
        </div>
      }
      table={
        <Ledger
          label="Files to attach"
          columns={COLUMNS}
          rows={papers}
          keyOf={({ path }) => path}
          selected={selected}
          onSelect={({ path }) => setSelected(path)}
          menu={([paper]) => <PathItems path={paper?.path} />}
          empty=""
        />
      }
      empty="Choose the model that they belong to."
      lines={() =>
        to === null
          ? []
          : [
              `${plural(files.length, 'file')} will belong to ${baseName(to)}: in “Used in”, in packages with attachments, and in Files. No byte of theirs changes.`,
            ]
      }
      label={() => 'Attach'}
      doing="Attaching"
    />
  );
}
