import { Button, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { InFileComponent } from '#core/jobs/putout/components';
import type { PutOutFile } from '#core/jobs/putout/operation';
import type { PutOutView } from '#server/views/operations/put-out-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { componentOf, rowsOf } from '../../ui/operation/component-rows';
import { OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { useOperation } from '../../ui/operation/useOperation';
import { Select } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './PutOut.module.css';

/** Components that lie in the file of their assembly become files of their own: which, called what, and where. */
export function PutOutScreen({ file: offered, files, components, scene, rows }: PutOutView) {
  const { projectId } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const [wanted, setWanted] = useState<readonly string[]>(() => asked(view.get('components'), components));
  const [names, setNames] = useState<{ [definition: string]: string }>({});
  const [folder, setFolder] = useState<string | null>(null);
  // What has become a file is no component of it any more: the page stays with what was done.
  const [file] = useState(offered);
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
  const selected = useMemo(() => rowsOf(rows, new Set(wanted)), [rows, wanted]);
  if (file === null)
    return (
      <div className={layout.blank}>
        <h1>Nothing to put out</h1>
        <p className="muted">Every component of this project is a file of its own already.</p>
        <Button component={Link} to={addressIn(projectId, 'structure')}>
          Go to Structure
        </Button>
      </div>
    );
  const toggle = (key: string) =>
    setWanted(wanted.includes(key) ? wanted.filter((other) => other !== key) : [...wanted, key]);
  return (
    <OperationPage
      operation={putting}
      choices={
        <>
          <h1 className={layout.heading}>Put components out</h1>
          <div className={classes.fields}>
            <Select
              label="Of the assembly"
              className={classes.file}
              data={[file, ...files.filter((path) => path !== file)]}
              value={file}
              searchable
              limit={200}
              allowDeselect={false}
              disabled={isDone}
              onChange={(path) => change({ file: path, components: null })}
            />
            <TextInput
              label="Into the folder"
              className={classes.folder}
              placeholder="That of the assembly"
              value={folder ?? ''}
              maxLength={2000}
              disabled={isDone}
              onChange={({ currentTarget: { value } }) => setFolder(value === '' ? null : value)}
            />
          </div>
          <div className={layout.table}>
            <Ledger
              label="Components in the file"
              columns={columns}
              rows={components}
              keyOf={({ definition }) => String(definition)}
              selected={wanted.at(-1) ?? null}
              onSelect={({ definition }) => setWanted([String(definition)])}
              several={{ keys: wanted, onSelect: setWanted }}
              keys={{ ' ': ({ definition }) => toggle(String(definition)) }}
              empty={`${file} holds no components: all of them are files already.`}
            />
          </div>
        </>
      }
      stage={
        <Stage
          scene={scene}
          sceneKey={file}
          selected={selected}
          onPick={(pick, isAdded) => {
            const key = pick && componentOf(rows, pick.row);
            if (key && !isDone) isAdded ? toggle(key) : setWanted([key]);
          }}
        />
      }
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
      done={() => <Link to={addressIn(projectId, 'structure', { root: file })}>Open the structure</Link>}
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
