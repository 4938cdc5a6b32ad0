import { Button, TextInput } from '@mantine/core';
import type { NamePattern } from '#core/name-pattern';
import classes from './PatternFields.module.css';

const LABELS = {
  find: 'Find in names',
  replace: 'Replace with',
  prefix: 'Prefix',
  suffix: 'Suffix',
} satisfies { [field in keyof NamePattern]: string };

interface PatternFieldsProps {
  pattern: NamePattern;
  onChange: (pattern: NamePattern) => void;
  disabled: boolean;
  /** Takes back all that was chosen; null where nothing was. */
  onReset: (() => void) | null;
}

/** One pattern by which many get other names. */
export function PatternFields({ pattern, onChange, disabled, onReset }: PatternFieldsProps) {
  return (
    <div className={classes.pattern}>
      {(Object.keys(LABELS) as (keyof NamePattern)[]).map((field) => (
        <TextInput
          key={field}
          label={LABELS[field]}
          value={pattern[field]}
          maxLength={100}
          disabled={disabled}
          onChange={(event) => onChange({ ...pattern, [field]: event.currentTarget.value })}
        />
      ))}
      <Button variant="default" disabled={onReset === null} onClick={onReset ?? undefined}>
        As they were
      </Button>
    </div>
  );
}
