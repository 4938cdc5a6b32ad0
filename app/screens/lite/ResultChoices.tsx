import { Switch } from '@mantine/core';
import type { LiteChoices } from '#core/jobs/lite/choices';
import giving from '../giving/giving.module.css';
import { NameField } from '../giving/NameField';
import { OneOf } from '../giving/OneOf';

interface ResultChoicesProps {
  choices: LiteChoices;
  onChange: (changed: Partial<LiteChoices>) => void;
  /** The path that the name comes to. */
  file: string | undefined;
  disabled: boolean;
}

/** What the lighter model is: its file, whether one part, and whether it remembers where it came from. */
export function ResultChoices({ choices, onChange, file, disabled }: ResultChoicesProps) {
  return (
    <div className={giving.result}>
      <h2>Result</h2>
      <NameField
        pattern={choices.pattern}
        file={file}
        onChange={(pattern) => onChange({ pattern })}
        disabled={disabled}
      />
      <OneOf
        label="It is"
        value={choices.form}
        choices={{ assembly: 'an assembly of the parts that are left', part: 'one part' }}
        onChange={(form) => onChange({ form })}
        disabled={disabled}
      />
      <Switch
        label="For outside: it remembers nothing"
        description="No tie to the original, no recipe, nothing that tells of the inside."
        checked={choices.outside}
        onChange={(event) => onChange({ outside: event.currentTarget.checked })}
        disabled={disabled}
      />
    </div>
  );
}
