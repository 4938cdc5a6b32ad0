import { Checkbox, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import type { InFileComponent } from '#core/jobs/putout/components';
import type { PutOutFile } from '#core/jobs/putout/operation';
import { isPattern, type NamePattern, NO_PATTERN, renamed } from '#core/name-pattern';
import type { PutOutView } from '#server/views/operations/put-out-view';
import { useView } from '../../ui/address/useView';
import { CellField } from '../../ui/fields/CellField';
import { plural } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { useOperation } from '../../ui/operation/useOperation';
import { PatternFields } from '../../ui/project/PatternFields';
import { AssemblingPage, NothingToDo } from '../assembling/AssemblingPage';
import classes from './PutOut.module.css';

/** Components that lie in the file of their assembly become files of their own: which, called what, and where. */
export function PutOutScreen({ components, ...view }: PutOutView) {
  const [address] = useView();
  const [wanted, setWanted] = useState<readonly string[]>(() => asked(address.get('components'), components));
  const [names, setNames] = useState<{ [definition: string]: string }>({});
  const [pattern, setPattern] = useState<NamePattern>(NO_PATTERN);
  const [folder, setFolder] = useState<string | null>(null);
  const [others, setOthers] = useState(false);
  // What it was called also when it has become a file.
  const [called] = useState(() => new Map<string, string>());
  for (const { definition, name } of components) called.set(String(definition), name);
  // What has become a file is no component of it any more: the page stays with what was done.
  const [file] = useState(view.file);
  const putting = useOperation<{ components: PutOutFile[] }>(
    'put-out',
    file === null || wanted.length === 0
      ? null
      : {
          file,
          components: wanted,
          to: folder,
          names: namesOf(called, { wanted, typed: names, pattern }),
          others,
        },
  );
  const { planned, isDone } = putting;
  const carriers = new Set(planned?.preview.components.flatMap((component) => component.carriers));
  const isAsItWas = Object.keys(names).length === 0 && !isPattern(pattern);
  const paths = useMemo(
    () => new Map(planned?.preview.components.map(({ definition, file: path }) => [definition, path])),
    [planned],
  );
  const columns = columnsOf({
    chosen: new Set(wanted),
    paths,
    nameOf: ({ definition, name }) => names[definition] ?? renamed(name, pattern),
    isDone,
    onName: (definition, name) => setNames({ ...names, [definition]: name }),
  });
  if (file === null)
    return (
      <NothingToDo title="Nothing to put out">
        Every component of this project is a file of its own already.
      </NothingToDo>
    );
  return (
    <AssemblingPage
      operation={putting}
      title="Put components out"
      fileLabel="Of the assembly"
      view={{ ...view, file }}
      isFileFixed={isDone}
      fields={
        <>
          <TextInput
            label="Into the folder"
            className={classes.folder}
            placeholder="That of the assembly"
            value={folder ?? ''}
            maxLength={2000}
            disabled={isDone}
            onChange={({ currentTarget: { value } }) => setFolder(value === '' ? null : value)}
          />
          {(carriers.size > 0 || others) && (
            <Checkbox
              className={classes.others}
              label={`${plural(carriers.size, 'other file carries', 'other files carry')} the same number: place the new file there, too`}
              title={[...carriers].join(', ')}
              checked={others}
              disabled={isDone}
              onChange={({ currentTarget: { checked } }) => setOthers(checked)}
            />
          )}
        </>
      }
      tools={
        <PatternFields
          pattern={pattern}
          onChange={setPattern}
          disabled={isDone}
          onReset={
            isAsItWas
              ? null
              : () => {
                  setNames({});
                  setPattern(NO_PATTERN);
                }
          }
        />
      }
      table={{
        label: 'Components in the file',
        columns,
        rows: components,
        keyOf: ({ definition }) => String(definition),
        empty: `${file} holds no components: all of them are files already.`,
      }}
      chosen={wanted}
      onChoose={setWanted}
      empty="Choose the components that become files, in the table or on the model. Ctrl and Shift choose several, Ctrl+A all."
      label={() => (wanted.length === 1 ? 'Put 1 component out' : `Put ${wanted.length} components out`)}
      doing="Putting out"
      lines={({ preview, files: changed }) => [
        `${plural(preview.components.length, 'component becomes a file', 'components become files')}; nothing moves, and ${file} refers to ${preview.components.length === 1 ? 'it' : 'them'}.`,
        ...preview.components.slice(0, 8).map(({ name, file: path }) => `${name} → ${path}`),
        ...(preview.components.length > 8 ? [`and ${preview.components.length - 8} more`] : []),
        ...(changed.length > preview.components.length + 1
          ? [`${plural(changed.length, 'file')} in all are written.`]
          : []),
      ]}
    />
  );
}

/** Components that somebody comes with, by their numbers. */
function asked(text: string | null, components: readonly InFileComponent[]): string[] {
  const wanted = new Set(text?.split(' ') ?? []);
  return components.flatMap(({ definition }) => (wanted.has(String(definition)) ? [String(definition)] : []));
}

/** What files are called that are not called as their components. @param called the components, by their numbers */
function namesOf(
  called: ReadonlyMap<string, string>,
  {
    wanted,
    typed,
    pattern,
  }: { wanted: readonly string[]; typed: { readonly [definition: string]: string }; pattern: NamePattern },
): { [definition: string]: string } {
  return Object.fromEntries(
    wanted.flatMap((key) => {
      const before = called.get(key) ?? '';
      const name = typed[key] ?? renamed(before, pattern);
      return name === before ? [] : [[key, name]];
    }),
  );
}

interface ColumnsOf {
  chosen: ReadonlySet<string>;
  /** Where each that was planned will lie. */
  paths: ReadonlyMap<number, string>;
  /** What its file is called, without the ending. */
  nameOf: (component: InFileComponent) => string;
  isDone: boolean;
  onName: (definition: number, name: string) => void;
}

function columnsOf({ chosen, paths, nameOf, isDone, onName }: ColumnsOf): LedgerColumn<InFileComponent>[] {
  return [
    {
      key: 'name',
      title: 'Component',
      width: 'minmax(130px, 1.4fr)',
      cell: ({ name }) => name,
      sort: ({ name }) => name,
    },
    {
      key: 'id',
      title: 'Part number',
      width: 'minmax(90px, 1fr)',
      cell: ({ id }) => <span className="mono">{id}</span>,
      sort: ({ id }) => id,
    },
    {
      key: 'level',
      title: 'Level',
      width: '50px',
      numeric: true,
      cell: ({ level }) => level,
      sort: ({ level }) => level,
    },
    {
      key: 'placings',
      title: 'Placed',
      width: '58px',
      numeric: true,
      cell: ({ placings }) => placings,
      sort: ({ placings }) => placings,
    },
    {
      key: 'holds',
      title: 'Holds',
      width: '104px',
      cell: ({ bodies, components }) =>
        components > 0 ? plural(components, 'component') : plural(bodies, 'body', 'bodies'),
      sort: ({ bodies, components }) => components * 1000 + bodies,
    },
    {
      key: 'file',
      title: 'Becomes',
      width: 'minmax(150px, 1.6fr)',
      cell: (component) =>
        chosen.has(String(component.definition)) && (
          <CellField
            aria-label={`File name of ${component.name}`}
            title={paths.get(component.definition)}
            maxLength={200}
            value={nameOf(component)}
            isChanged={nameOf(component) !== component.name}
            disabled={isDone}
            onChange={(name) => onName(component.definition, name)}
          />
        ),
      text: ({ definition }) => paths.get(definition) ?? null,
    },
  ];
}
