import { ActionIcon, Button, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { plural } from '../../ui/format';
import classes from './Groups.module.css';
import { dissolved, type Grouping, movedTo, renamed } from './group-changes';

/** Colours that tell groups apart; what stands still is grey. */
const COLOURS = ['#8d9296', '#6f98a8', '#c9a45c', '#8f9f6a', '#b07f6f', '#8a82a8', '#6fa394', '#a88a6f'];

export function colourOfGroup(at: number): string {
  return COLOURS[at % COLOURS.length]!;
}

interface GroupsListProps {
  grouping: Grouping;
  onChange: (grouping: Grouping) => void;
  /** Components that are selected on the model. */
  selected: readonly string[];
  onSelect: (group: number) => void;
  disabled: boolean;
}

/** The groups, each with its name, its components and what can be done with it. */
export function GroupsList({ grouping, onChange, selected, onSelect, disabled }: GroupsListProps) {
  return (
    <ol className={classes.groups}>
      {grouping.groups.map(({ name, members }, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a group keeps its place while its name is typed
        <li key={n}>
          <i style={{ background: colourOfGroup(n) }} aria-hidden />
          <TextInput
            size="xs"
            aria-label={`Name of group ${n + 1}`}
            defaultValue={name}
            key={name}
            maxLength={100}
            disabled={disabled}
            onBlur={({ currentTarget: { value } }) => {
              const changed = value === name ? null : renamed(grouping, n, value);
              if (changed) onChange(changed);
            }}
          />
          <button type="button" className={classes.count} onClick={() => onSelect(n)}>
            {plural(members.length, 'component')}
          </button>
          <Button
            size="compact-xs"
            variant="default"
            disabled={selected.length === 0 || disabled}
            onClick={() => onChange(movedTo(grouping, n, selected))}
          >
            Add selected
          </Button>
          <ActionIcon
            variant="subtle"
            color="gray"
            aria-label={`Dissolve ${name}`}
            disabled={disabled || n === 0}
            onClick={() => onChange(dissolved(grouping, n))}
          >
            <IconX size={14} />
          </ActionIcon>
        </li>
      ))}
    </ol>
  );
}
