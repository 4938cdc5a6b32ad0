import { TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useOutletContext } from 'react-router';
import type { ArrangePreview } from '#core/jobs/arrange/choices';
import type { ArrangedOccurrence, ArrangeView } from '#server/views/operations/arrange-view';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { useOperation } from '../../ui/operation/useOperation';
import { SegmentedControl, Select } from '../../ui/options';
import { PathText } from '../../ui/PathText';
import type { ProjectContext } from '../../ui/project/project-context';
import { AssemblingPage, NothingToDo } from '../assembling/AssemblingPage';
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
export function ArrangeScreen({ occurrences, assemblies, ...view }: ArrangeView) {
  const { file } = view;
  const { mayEdit } = useOutletContext<ProjectContext>();
  const [address, change] = useView();
  const way = WAYS.find((one) => one === address.get('do')) ?? 'move-occurrences';
  const [wanted, setWanted] = useState<readonly string[]>(() =>
    asked(address.get('components'), occurrences),
  );
  const [into, setInto] = useState<string | null>(null);
  const [name, setName] = useState('');
  const chosen = useMemo(() => {
    const there = new Set(occurrences.map(({ key }) => key));
    return wanted.filter((key) => there.has(key));
  }, [wanted, occurrences]);
  const arranging = useOperation<ArrangePreview>(way, choicesOf(way, { file, chosen, into, name }));
  const carried = ({ key }: ArrangedOccurrence) => (chosen.includes(key) ? chosen.join(' ') : key);
  const onDrop = (data: string, { component }: ArrangedOccurrence) => {
    setWanted(data.split(' '));
    setInto(String(component));
    change({ do: 'move-occurrences' });
  };
  if (file === null)
    return <NothingToDo title="Nothing to arrange">This project has no assembly.</NothingToDo>;
  return (
    <AssemblingPage
      operation={arranging}
      title="Arrange components"
      fileLabel="Of the assembly"
      view={{ ...view, file }}
      fields={
        <>
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
        </>
      }
      table={{
        label: 'Components of the assembly',
        columns: COLUMNS,
        rows: occurrences,
        keyOf: ({ key }) => key,
        tree: { depth: ({ depth }) => depth, open: () => null, onToggle: () => {} },
        ...(mayEdit && {
          drag: { kind: 'application/x-occurrence', data: carried, onto: { takes, onDrop } },
        }),
        empty: `${file} places no components.`,
      }}
      chosen={chosen}
      onChoose={setWanted}
      empty={WORDS[way].empty}
      label={() =>
        chosen.length === 0 ? WORDS[way].button : `${WORDS[way].button} ${plural(chosen.length, 'component')}`
      }
      doing={WORDS[way].doing}
      lines={({ summary, preview }) => [
        `${summary}${way === 'take-away' ? '' : '; nothing moves in space'}.`,
        ...(preview.occurrences.length > 1 ? [preview.occurrences.join(', ')] : []),
      ]}
    />
  );
}

/** Only assemblies in the file take more components. */
function takes({ holds }: ArrangedOccurrence): boolean {
  return holds > 0;
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
