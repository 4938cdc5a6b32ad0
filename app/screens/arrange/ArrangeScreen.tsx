import { Checkbox, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useOutletContext } from 'react-router';
import { someOf } from '#core/command/words';
import type { ArrangePreview } from '#core/jobs/arrange/choices';
import type { ArrangedOccurrence, ArrangeView } from '#server/views/operations/arrange-view';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { useOperation } from '../../ui/operation/useOperation';
import { SegmentedControl, Select } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import { AssemblingPage, NothingToDo } from '../assembling/AssemblingPage';
import { occurrencesAsked, occurrenceTable } from '../assembling/occurrences';
import classes from './Arrange.module.css';

/** What can be done with occurrences, each an operation. */
const WAYS = ['move-occurrences', 'group-occurrences', 'dissolve', 'take-away', 'own-copy'] as const;
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
  'own-copy': {
    way: 'Copy',
    button: 'Make a copy for',
    doing: 'Copying',
    empty:
      'Choose places of a component that is a file: they get a copy of it, and what is changed there leaves its other places as they are.',
  },
};

/** Components of an assembly get other assemblies above them, or go. */
export function ArrangeScreen({ occurrences, assemblies, ...view }: ArrangeView) {
  const { file } = view;
  const { mayEdit } = useOutletContext<ProjectContext>();
  const [address, change] = useView();
  const way = WAYS.find((one) => one === address.get('do')) ?? 'move-occurrences';
  const [wanted, setWanted] = useState<readonly string[]>(() =>
    occurrencesAsked(address.get('components'), occurrences),
  );
  const [into, setInto] = useState<string | null>(null);
  const [name, setName] = useState('');
  const [ownFile, setOwnFile] = useState(false);
  const chosen = useMemo(() => {
    const there = new Set(occurrences.map(({ key }) => key));
    return wanted.filter((key) => there.has(key));
  }, [wanted, occurrences]);
  const arranging = useOperation<ArrangePreview>(way, choicesOf(way, { file, chosen, into, name, ownFile }));
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
          {(way === 'group-occurrences' || way === 'own-copy') && (
            <TextInput
              label={way === 'own-copy' ? 'Name of the copy' : 'Name of the group'}
              placeholder={way === 'own-copy' ? 'The old name with a number' : undefined}
              className={classes.target}
              value={name}
              maxLength={200}
              onChange={({ currentTarget: { value } }) => setName(value)}
            />
          )}
          {way === 'group-occurrences' && (
            <Checkbox
              className={classes.own}
              label="As a file of its own"
              checked={ownFile}
              disabled={!mayEdit || arranging.isDone}
              onChange={({ currentTarget: { checked } }) => setOwnFile(checked)}
            />
          )}
        </>
      }
      table={{
        ...occurrenceTable(file, occurrences),
        ...(mayEdit && {
          drag: { kind: 'application/x-occurrence', data: carried, onto: { takes, onDrop } },
        }),
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
        ...(preview.occurrences.length > 1 ? [someOf(preview.occurrences, 8)] : []),
        ...(preview.made === undefined ? [] : [`New file: ${preview.made}`]),
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
  ownFile: boolean;
}

/** Null while something is still to be chosen. */
function choicesOf(way: Way, { file, chosen, into, name, ownFile }: Chosen): object | null {
  if (file === null || chosen.length === 0) return null;
  const plain = { file, occurrences: chosen };
  if (way === 'move-occurrences') return into === null ? null : { ...plain, into };
  if (way === 'group-occurrences')
    return name.trim() === '' ? null : { ...plain, name: name.trim(), ...(ownFile && { ownFile }) };
  if (way === 'own-copy') return { ...plain, ...(name.trim() !== '' && { name: name.trim() }) };
  return plain;
}
