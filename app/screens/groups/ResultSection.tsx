import { Switch } from '@mantine/core';
import type { GroupsChoices } from '#core/jobs/groups/choices';
import { NumberField } from '../../ui/fields/NumberField';
import giving from '../giving/giving.module.css';
import { NameField } from '../giving/NameField';
import { SharpEdgesField } from '../giving/SharpEdgesField';

interface ResultSectionProps {
  choices: GroupsChoices;
  /** What will be written, once that is known. */
  file: string | undefined;
  onChange: (part: Partial<GroupsChoices>) => void;
  disabled: boolean;
}

/** What is switched on and off, in words. */
const SWITCHES = [
  ['hidden', 'Leave out what cannot be touched from outside'],
  ['fill', 'Fill holes and pockets, but for those that another group stands in'],
  ['roundOut', 'Make plain rings of teeth, threads and fins'],
  ['solid', 'Each group as one solid, inside of which nothing is left'],
  ['urdf', 'Also as URDF, with a mesh for each group'],
  ['sdf', 'Also as SDFormat, which may hold loops'],
  ['mjcf', 'Also as MJCF, with every joint'],
] as const;

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
      {SWITCHES.map(([choice, label]) => (
        <Switch
          key={choice}
          label={label}
          checked={choices[choice]}
          onChange={(event) => onChange({ [choice]: event.currentTarget.checked })}
          disabled={disabled}
        />
      ))}
      <SharpEdgesField
        value={choices.sharpEdges}
        onChange={(sharpEdges) => onChange({ sharpEdges })}
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
