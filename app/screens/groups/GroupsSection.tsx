import { Button } from '@mantine/core';
import type { GroupsChoices } from '#core/jobs/groups/choices';
import classes from './Groups.module.css';
import { GroupsList } from './GroupsList';
import { type Grouping, gathered } from './group-changes';

interface GroupsSectionProps {
  grouping: Grouping;
  /** Nobody has changed what was proposed. */
  isProposed: boolean;
  /** A proposal was looked for. */
  isLooked: boolean;
  onChange: (part: Partial<GroupsChoices>) => void;
  /** Keys of the components that are selected on the model. */
  selected: string[];
  /** Selects all components of a group by its position. */
  onSelect: (group: number) => void;
  disabled: boolean;
}

/** Which components move together: proposed, or gathered by hand. */
export function GroupsSection({
  grouping,
  isProposed,
  isLooked,
  onChange,
  selected,
  onSelect,
  disabled,
}: GroupsSectionProps) {
  return (
    <section className={classes.part} aria-label="Groups">
      <h2>Groups</h2>
      {isProposed && isLooked && (
        <p className="muted">
          {grouping.groups.length > 0
            ? 'Proposed from what touches and what shares an axis. Change what is wrong.'
            : 'Nothing in it shares an axis that is free. Make groups by hand.'}
        </p>
      )}
      <GroupsList
        grouping={grouping}
        onChange={onChange}
        selected={selected}
        onSelect={onSelect}
        disabled={disabled}
      />
      <div className={classes.buttons}>
        <Button
          size="compact-sm"
          variant="default"
          disabled={disabled || selected.length === 0}
          title={selected.length === 0 ? 'Select components on the model first.' : undefined}
          onClick={() => onChange(gathered(grouping, selected))}
        >
          A group of what is selected
        </Button>
        {!isProposed && (
          <Button
            size="compact-sm"
            variant="subtle"
            disabled={disabled}
            onClick={() => onChange({ groups: null, joints: null })}
          >
            Propose again
          </Button>
        )}
      </div>
    </section>
  );
}
