import { Switch } from '@mantine/core';
import type { GroupsChoices } from '#core/jobs/groups/choices';
import { NumberField } from '../../ui/fields/NumberField';
import giving from '../giving/giving.module.css';
import { NameField } from '../giving/NameField';

interface ResultSectionProps {
  choices: GroupsChoices;
  /** What will be written, once that is known. */
  file: string | undefined;
  onChange: (part: Partial<GroupsChoices>) => void;
  disabled: boolean;
}

/** What the file of the groups is called, and what is in it. */
export function ResultSection({ choices, file, onChange, disabled }: ResultSectionProps) {
  return (
    <section className={giving.result} aria-label="Result">
      <h2>Result</h2>
      <NameField
        pattern={choices.pattern}
        file={file}
        onChange={(pattern) => onChange({ pattern })}
        disabled={disabled}
      />
      <Switch
        label="Leave out what cannot be touched from outside"
        checked={choices.hidden}
        onChange={(event) => onChange({ hidden: event.currentTarget.checked })}
        disabled={disabled}
      />
      <Switch
        label="Fill holes and pockets, but for those that another group stands in"
        checked={choices.fill}
        onChange={(event) => onChange({ fill: event.currentTarget.checked })}
        disabled={disabled}
      />
      <Switch
        label="Each group as one solid, inside of which nothing is left"
        checked={choices.solid}
        onChange={(event) => onChange({ solid: event.currentTarget.checked })}
        disabled={disabled}
      />
      <Switch
        label="Also as URDF, with a mesh for each group"
        checked={choices.urdf}
        onChange={(event) => onChange({ urdf: event.currentTarget.checked })}
        disabled={disabled}
      />
      <Switch
        label="Also as SDFormat, which may hold loops"
        checked={choices.sdf}
        onChange={(event) => onChange({ sdf: event.currentTarget.checked })}
        disabled={disabled}
      />
      <Switch
        label="Also as MJCF, with every joint"
        checked={choices.mjcf}
        onChange={(event) => onChange({ mjcf: event.currentTarget.checked })}
        disabled={disabled}
      />
      {(choices.urdf || choices.sdf || choices.mjcf) && (
        <NumberField
          label="Parts of no known material weigh, kg/m³"
          kind="number"
          least={1}
          most={30_000}
          value={choices.density}
          onChange={(density) => onChange({ density })}
          disabled={disabled}
        />
      )}
    </section>
  );
}
