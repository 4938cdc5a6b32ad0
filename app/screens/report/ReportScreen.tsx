import { Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { RegistryEntry } from '#core/entry';
import type { LinkState } from '#core/files/links/resolve';
import type { LookedAt, ReportColumn, ReportTable } from '#core/report';
import { readPaths, writePaths } from '../../ui/address/paths-in-address';
import { useTyped, useView } from '../../ui/address/useView';
import { count } from '../../ui/format';
import { PageTitle } from '../../ui/frame/PageTitle';
import { LinkMark } from '../../ui/LinkMark';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { saveText } from '../../ui/ledger/save-text';
import { numberInWords } from '../../ui/measures/measures';
import layout from '../../ui/operation/OperationPage.module.css';
import { addressOf } from '../../ui/operation/operations';
import { PathItems } from '../../ui/operation/PathItems';
import { SegmentedControl, Select } from '../../ui/options';
import { PathText } from '../../ui/PathText';
import type { ProjectContext } from '../../ui/project/project-context';
import { pickFiles } from '../../ui/sending/bring';
import { sendFiles } from '../../ui/sending/upload';
import { MultiSelect } from '../../ui/several-options';
import { TaskBar } from '../../ui/task/TaskBar';
import { useAnswer } from '../../ui/task/useAnswer';
import classes from './Report.module.css';

interface ReportScreenProps {
  entry: RegistryEntry;
  /** The choice that says what it is about; null for the project. */
  argument: string | null;
  /** Files that it can be about. */
  files: string[];
  choices: { name: string; description: string; isRequired: boolean }[];
}

/** Any report: what it is about, what was found, in tables and in words. */
export function ReportScreen({ entry, argument, files, choices }: ReportScreenProps) {
  const { name, title, purpose, accepts } = entry;
  const [view, change] = useView();
  const [about, setAbout] = useState<string | null>(null);
  const parameter = accepts.parameter ?? 'file';
  const isOfFiles = accepts.what === 'file' || accepts.what === 'files';
  const subject = subjectOf(accepts.what, view.get(parameter), files, about);
  const given = choices.flatMap((choice) => {
    const value = view.get(choice.name);
    return value ? [[choice.name, value] as const] : [];
  });
  const isChosen =
    (argument === null || subject !== null) &&
    choices.every(({ name: one, isRequired }) => !isRequired || given.some(([known]) => known === one));
  const asked = { ...Object.fromEntries(given), ...(argument !== null && { [argument]: subject }) };
  const looking = useAnswer<LookedAt>('look', isChosen ? { report: name, choices: asked } : null);
  const { found, refusal, progress, isStopped, isStale } = looking;
  const shown = found !== null && refusal === null ? found : null;
  return (
    <div className={classes.page}>
      <PageTitle>{title}</PageTitle>
      <div className={classes.bar}>
        <div className={classes.heading}>
          <h1>{title}</h1>
          <p className="muted">{purpose}</p>
        </div>
        {accepts.what === 'file' && (
          <Select
            label="File"
            className={classes.file}
            data={files}
            value={subject as string | null}
            searchable
            limit={200}
            nothingFoundMessage="No file of that name"
            onChange={(path) => change({ [parameter]: path })}
          />
        )}
        {accepts.what === 'files' && (
          <MultiSelect
            label="Files"
            className={classes.files}
            placeholder={subject === null ? 'Type a name' : undefined}
            data={files}
            value={(subject as string[] | null) ?? []}
            searchable
            limit={100}
            hidePickedOptions
            nothingFoundMessage="No file of that name"
            onChange={(paths) => change({ [parameter]: paths.length > 0 ? writePaths(paths) : null })}
          />
        )}
        <Siblings entry={entry} />
        {accepts.what === 'received' && <FromThisComputer onSent={setAbout} />}
        {choices.map((choice) => (
          <ChoiceField key={choice.name} {...choice} />
        ))}
        {shown && (
          <Button variant="default" onClick={() => saveText(`${name}.txt`, shown.words.join('\n'))}>
            As text
          </Button>
        )}
      </div>
      {refusal !== null && (
        <p className={classes.error} role="alert">
          {refusal}
        </p>
      )}
      {progress && (
        <div className={classes.waiting}>
          <TaskBar progress={progress} label={`Looking: ${title}`} onCancel={looking.stop} />
        </div>
      )}
      {isStopped && (
        <p>
          It was stopped. <Button onClick={looking.again}>Look again</Button>
        </p>
      )}
      {isOfFiles && files.length === 0 && <p className="muted">No file of this project can be asked this.</p>}
      {isChosen && !shown && refusal === null && !progress && !isStopped && (
        <p className="muted" role="status">
          Looking…
        </p>
      )}
      {shown && (
        <div className={classes.found} data-stale={isStale || undefined}>
          <p className={classes.summary} role="status">
            {shown.summary}
          </p>
          <FoundTables tables={shown.tables} />
        </div>
      )}
    </div>
  );
}

/** What a report is about: a file that the address names, else the first; the files that it names; or what was sent. */
function subjectOf(
  what: RegistryEntry['accepts']['what'],
  named: string | null,
  files: readonly string[],
  sent: string | null,
): string | string[] | null {
  if (what === 'file') return named ?? files[0] ?? null;
  if (what !== 'files') return sent;
  const paths = [...readPaths(named)];
  return paths.length > 0 ? paths : null;
}

/** The other reports of the same place that are about files, each about the same ones. */
function Siblings({ entry }: { entry: RegistryEntry }) {
  const { projectId, operations } = useOutletContext<ProjectContext>();
  const [view] = useView();
  if (entry.accepts.what !== 'files') return null;
  const alike = operations.filter(
    ({ kind, place, accepts }) => kind === 'report' && place === entry.place && accepts.what === 'files',
  );
  const paths = [...readPaths(view.get(entry.accepts.parameter ?? 'file'))];
  return alike
    .filter(({ name }) => name !== entry.name)
    .map((other) => (
      <Button
        key={other.name}
        variant="default"
        component={Link}
        to={addressOf(projectId, other, paths)}
        title={other.purpose}
      >
        {other.title}
      </Button>
    ));
}

function FromThisComputer({ onSent }: { onSent: (upload: string) => void }) {
  const { projectId } = useOutletContext<ProjectContext>();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [sent, setSent] = useState<string | null>(null);
  const pick = () =>
    pickFiles((picked) => {
      const [upload] = picked;
      if (!upload) return;
      setTrouble(null);
      sendFiles(projectId, [upload], () => {}, new AbortController().signal).then(
        (received) => {
          setSent(upload.path);
          onSent(received);
        },
        (error: Error) => setTrouble(error.message),
      );
    });
  return (
    <div className={classes.pick}>
      <Button onClick={pick}>Choose a zip…</Button>
      {sent !== null && <span className="mono">{sent}</span>}
      {trouble !== null && (
        <span className={classes.error} role="alert">
          {trouble}
        </span>
      )}
    </div>
  );
}

function ChoiceField({ name, description }: ReportScreenProps['choices'][number]) {
  const [text, setText] = useTyped(name);
  const words = `${description[0]!.toUpperCase()}${description.slice(1)}`;
  return (
    <TextInput
      label={words}
      className={classes.choice}
      value={text}
      onChange={(event) => setText(event.currentTarget.value)}
    />
  );
}

interface NumberedRow {
  key: string;
  cells: ReportTable['rows'][number];
}

/** One table at a time: which stands in the address. */
function FoundTables({ tables }: { tables: readonly ReportTable[] }) {
  const [view, change] = useView();
  const table = tables.find(({ title }) => title === view.get('table')) ?? tables[0];
  if (!table) return null;
  return (
    <>
      {tables.length > 1 && (
        <SegmentedControl
          className={classes.tables}
          size="xs"
          aria-label="What is listed"
          data={tables.map(({ title, rows }) => ({ value: title, label: `${title} ${count(rows.length)}` }))}
          value={table.title}
          onChange={(title) => change({ table: title === tables[0]!.title ? null : title })}
        />
      )}
      <FoundTable key={table.title} table={table} />
    </>
  );
}

const WIDTHS: { readonly [kind in NonNullable<ReportColumn['kind']>]: string } = {
  number: '110px',
  path: 'minmax(170px, 2fr)',
  state: '104px',
  short: '104px',
};

function FoundTable({ table: { title, columns, rows } }: { table: ReportTable }) {
  const [selected, setSelected] = useState<string | null>(null);
  const shown: LedgerColumn<NumberedRow>[] = columns.map((column, n) => ({
    key: String(n),
    title: column.title,
    width: column.kind ? WIDTHS[column.kind] : 'minmax(120px, 1fr)',
    numeric: column.kind === 'number',
    cell: ({ cells }) => shownValue(cells[n], column.kind),
    sort: ({ cells }) => cells[n] ?? null,
  }));
  const paths = columns.findIndex(({ kind }) => kind === 'path');
  return (
    <section className={layout.table} aria-label={title}>
      <Ledger
        label={title}
        columns={shown}
        rows={rows.map((cells, n): NumberedRow => ({ key: String(n), cells }))}
        keyOf={({ key }) => key}
        selected={selected}
        onSelect={({ key }) => setSelected(key)}
        menu={paths < 0 ? undefined : ([row]) => <PathItems path={row?.cells[paths] as string | null} />}
        empty="Nothing to list."
      />
    </section>
  );
}

function shownValue(value: string | number | null | undefined, kind: ReportColumn['kind']): React.ReactNode {
  if (value === null || value === undefined) return '';
  if (typeof value === 'number') return numberInWords(value, 1);
  if (kind === 'path') return <PathText path={value} />;
  if (kind === 'state') return <LinkMark state={value as LinkState} />;
  return <span title={value}>{value}</span>;
}
