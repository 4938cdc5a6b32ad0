import { Button, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { ArrangePreview } from '#core/jobs/arrange/choices';
import type { ArrangedOccurrence, ArrangeView } from '#server/views/operations/arrange-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { Ledger, type LedgerColumn } from '../../ui/ledger/Ledger';
import { componentOf, rowsOf } from '../../ui/operation/component-rows';
import { OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { useOperation } from '../../ui/operation/useOperation';
import { SegmentedControl, Select } from '../../ui/options';
import { PathText } from '../../ui/PathText';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Arrange.module.css';

/** What can be done with occurrences, each an operation. */
const WAYS = ['move-occurrences', 'group-occurrences', 'dissolve', 'take-away'] as const;
type Way = (typeof WAYS)[number];
const WORDS: { readonly [way in Way]: { way: string; button: string; doing: string; empty: string } } = {
  'move-occurrences': {
    way: 'Move',
    button: 'Move',
    doing: 'Moving',
    empty:
      'Choose components, in the table or on the model, and the assembly that they move to; or drag a row onto an assembly. Each keeps its place in space.',
  },
  'group-occurrences': {
    way: 'Group',
    button: 'Group',
    doing: 'Grouping',
    empty:
      'Choose components of one assembly, in the table or on the model, and say what their group is called. Nothing moves in space.',
  },
  dissolve: {
    way: 'Dissolve',
    button: 'Dissolve',
    doing: 'Dissolving',
    empty:
      'Choose assemblies that lie in this file: what they place stands in the assembly above them. Nothing moves in space.',
  },
  'take-away': {
    way: 'Remove',
    button: 'Remove',
    doing: 'Removing',
    empty: 'Choose the components that leave the assembly, in the table or on the model. Their files stay.',
  },
};

/** Components of an assembly get other assemblies above them, or go. */
export function ArrangeScreen({ file, files, occurrences, assemblies, scene, rows }: ArrangeView) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const way = WAYS.find((one) => one === view.get('do')) ?? 'move-occurrences';
  const [wanted, setWanted] = useState<readonly string[]>(() => asked(view.get('components'), occurrences));
  const [into, setInto] = useState<string | null>(null);
  const [name, setName] = useState('');
  const chosen = useMemo(() => {
    const there = new Set(occurrences.map(({ key }) => key));
    return wanted.filter((key) => there.has(key));
  }, [wanted, occurrences]);
  const arranging = useOperation<ArrangePreview>(way, choicesOf(way, { file, chosen, into, name }));
  const { isDone } = arranging;
  const selected = useMemo(() => rowsOf(rows, new Set(chosen)), [rows, chosen]);
  if (file === null)
    return (
      <div className={layout.blank}>
        <h1>Nothing to arrange</h1>
        <p className="muted">This project has no assembly.</p>
        <Button component={Link} to={addressIn(projectId, 'files')}>
          Go to Files
        </Button>
      </div>
    );
  const toggle = (key: string) =>
    setWanted(chosen.includes(key) ? chosen.filter((other) => other !== key) : [...chosen, key]);
  const isAssembly = (row: ArrangedOccurrence) => row.holds > 0;
  return (
    <OperationPage
      operation={arranging}
      choices={
        <>
          <h1 className={layout.heading}>Arrange components</h1>
          <div className={classes.fields}>
            <Select
              label="Of the assembly"
              className={classes.file}
              data={[file, ...files.filter((path) => path !== file)]}
              value={file}
              searchable
              limit={200}
              allowDeselect={false}
              onChange={(path) => change({ file: path, components: null })}
            />
            <SegmentedControl
              aria-label="What to do with them"
              data={WAYS.map((value) => ({ value, label: WORDS[value].way }))}
              value={way}
              onChange={(value) => change({ do: value })}
            />
            {way === 'move-occurrences' && (
              <Select
                label="To"
                className={classes.target}
                placeholder="An assembly in this file"
                data={assemblies.map(({ definition, name: label, placed }) => ({
                  value: String(definition),
                  label: placed > 1 ? `${label} (placed ${placed} times)` : label,
                }))}
                value={into}
                searchable
                limit={200}
                onChange={setInto}
              />
            )}
            {way === 'group-occurrences' && (
              <TextInput
                label="Name of the group"
                className={classes.target}
                value={name}
                maxLength={200}
                onChange={({ currentTarget: { value } }) => setName(value)}
              />
            )}
          </div>
          <div className={layout.table}>
            <Ledger
              label="Components of the assembly"
              columns={COLUMNS}
              rows={occurrences}
              keyOf={({ key }) => key}
              selected={chosen.at(-1) ?? null}
              onSelect={({ key }) => setWanted([key])}
              several={{ keys: chosen, onSelect: setWanted }}
              keys={{ ' ': ({ key }) => toggle(key) }}
              tree={{ depth: ({ depth }) => depth, open: () => null, onToggle: () => {} }}
              drag={
                mayEdit
                  ? {
                      kind: 'application/x-occurrence',
                      data: ({ key }) => (chosen.includes(key) ? chosen.join(' ') : key),
                      onto: {
                        takes: isAssembly,
                        onDrop: (data, row) => {
                          setWanted(data.split(' '));
                          setInto(String(row.component));
                          change({ do: 'move-occurrences' });
                        },
                      },
                    }
                  : undefined
              }
              empty={`${file} places no components.`}
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
      empty={WORDS[way].empty}
      label={() => `${WORDS[way].button} ${plural(chosen.length, 'component')}`}
      doing={WORDS[way].doing}
      lines={({ summary, preview }) => [
        `${summary}${way === 'take-away' ? '' : '; nothing moves in space'}.`,
        ...(preview.occurrences.length > 1 ? [preview.occurrences.join(', ')] : []),
      ]}
      done={() => <Link to={addressIn(projectId, 'structure', { root: file })}>Open the structure</Link>}
    />
  );
}

interface Chosen {
  file: string | null;
  chosen: readonly string[];
  into: string | null;
  name: string;
}

/** Null while something is still to be chosen. */
function choicesOf(way: Way, { file, chosen, into, name }: Chosen): object | null {
  if (file === null || chosen.length === 0) return null;
  const plain = { file, occurrences: chosen };
  if (way === 'move-occurrences') return into === null ? null : { ...plain, into };
  if (way === 'group-occurrences') return name.trim() === '' ? null : { ...plain, name: name.trim() };
  return plain;
}

/** Components that somebody comes with: each by the number of what holds it, and its own, or its file. */
function asked(text: string | null, occurrences: readonly ArrangedOccurrence[]): string[] {
  const wanted = new Set(text?.split(' ') ?? []);
  return occurrences.flatMap(({ key, parent, component, file }) =>
    wanted.has(`${parent}:${file === null ? component : encodeURIComponent(file)}`) ? [key] : [],
  );
}

const COLUMNS: LedgerColumn<ArrangedOccurrence>[] = [
  {
    key: 'name',
    title: 'Component',
    width: 'minmax(160px, 1.5fr)',
    cell: ({ name }) => name,
    sort: ({ name }) => name,
  },
  {
    key: 'is',
    title: 'Is',
    width: 'minmax(110px, 1fr)',
    cell: ({ componentName, name }) => (componentName === name ? '' : componentName),
    sort: ({ componentName }) => componentName,
  },
  {
    key: 'holds',
    title: 'Holds',
    width: '104px',
    cell: ({ holds }) => (holds > 0 ? plural(holds, 'component') : ''),
    sort: ({ holds }) => holds,
  },
  {
    key: 'file',
    title: 'File',
    width: 'minmax(130px, 1fr)',
    cell: ({ file }) =>
      file === null ? <span className="muted">in this file</span> : <PathText path={file} />,
    sort: ({ file }) => file ?? '',
  },
];
