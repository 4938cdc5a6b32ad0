import { TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import type { InFileComponent } from '#core/jobs/putout/components';
import type { PutOutFile } from '#core/jobs/putout/operation';
import type { PutOutView } from '#server/views/operations/put-out-view';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { useOperation } from '../../ui/operation/useOperation';
import { AssemblingPage, NothingToDo } from '../assembling/AssemblingPage';
import classes from './PutOut.module.css';

/** Components that lie in the file of their assembly become files of their own: which, called what, and where. */
export function PutOutScreen({ components, ...view }: PutOutView) {
  const [address] = useView();
  const [wanted, setWanted] = useState<readonly string[]>(() => asked(address.get('components'), components));
  const [names, setNames] = useState<{ [definition: string]: string }>({});
  const [folder, setFolder] = useState<string | null>(null);
  // What has become a file is no component of it any more: the page stays with what was done.
  const [file] = useState(view.file);
  const putting = useOperation<{ components: PutOutFile[] }>(
    'put-out',
    file === null || wanted.length === 0 ? null : { file, components: wanted, to: folder, names },
  );
  const { planned, isDone } = putting;
  const paths = useMemo(
    () => new Map(planned?.preview.components.map(({ definition, file: path }) => [definition, path])),
    [planned],
  );
  const columns = columnsOf({
    chosen: new Set(wanted),
    paths,
    names,
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
        <TextInput
          label="Into the folder"
          className={classes.folder}
          placeholder="That of the assembly"
          value={folder ?? ''}
          maxLength={2000}
          disabled={isDone}
          onChange={({ currentTarget: { value } }) => setFolder(value === '' ? null : value)}
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
        ...preview.components.map(({ name, file: path }) => `${name} → ${path}`),
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

interface ColumnsOf {
  chosen: ReadonlySet<string>;
  /** Where each that was planned will lie. */
  paths: ReadonlyMap<number, string>;
  names: { readonly [definition: string]: string };
  isDone: boolean;
  onName: (definition: number, name: string) => void;
}

function columnsOf({ chosen, paths, names, isDone, onName }: ColumnsOf): LedgerColumn<InFileComponent>[] {
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
      cell: ({ definition, name }) =>
        chosen.has(String(definition)) && (
          <input
            className={classes.name}
            aria-label={`File name of ${name}`}
            placeholder={paths.get(definition) ?? name}
            title={paths.get(definition)}
            value={names[definition] ?? ''}
            disabled={isDone}
            data-next
            onClick={(event) => event.stopPropagation()}
            onChange={(event) => onName(definition, event.currentTarget.value)}
          />
        ),
      text: ({ definition }) => paths.get(definition) ?? null,
    },
  ];
}
