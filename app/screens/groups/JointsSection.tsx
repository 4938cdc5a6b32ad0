import { Button } from '@mantine/core';
import type { GroupsChoices, Joint } from '#core/jobs/groups/choices';
import classes from './Groups.module.css';
import { type Grouping, joined } from './group-changes';
import { JointForm } from './JointForm';
import type { Moving } from './useMoving';

interface JointsSectionProps {
  grouping: Grouping;
  moving: Moving;
  /** How large the whole is, mm: so far a slide may go. */
  size: number;
  onChange: (part: Partial<GroupsChoices>) => void;
  disabled: boolean;
}

/** How the groups move against each other, and a slider for each joint to try it. */
export function JointsSection({ grouping, moving, size, onChange, disabled }: JointsSectionProps) {
  const setJoints = (joints: Joint[]) => onChange({ groups: grouping.groups, joints });
  return (
    <section className={classes.part} aria-label="Joints">
      <h2>Joints</h2>
      {grouping.joints.map((joint, n) => (
        <JointForm
          // biome-ignore lint/suspicious/noArrayIndexKey: a joint keeps its place while it is changed
          key={n}
          joint={joint}
          value={moving.values[n]!}
          groups={grouping.groups.map(({ name }) => name)}
          size={size}
          disabled={disabled}
          onChange={(part) =>
            setJoints(grouping.joints.map((one, k) => (k === n ? { ...one, ...part } : one)))
          }
          onDrive={(to) => moving.drive(n, to)}
          onRemove={() => setJoints(grouping.joints.filter((_, k) => k !== n))}
        />
      ))}
      <div className={classes.buttons}>
        <Button
          size="compact-sm"
          variant="default"
          disabled={disabled || grouping.groups.length < 2}
          onClick={() => onChange(joined(grouping))}
        >
          Another joint
        </Button>
        <Button size="compact-sm" variant="subtle" onClick={moving.backToRest}>
          Back to where it stands
        </Button>
      </div>
    </section>
  );
}
