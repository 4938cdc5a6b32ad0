import { Radio } from '@mantine/core';
import giving from './giving.module.css';

interface OneOfProps<Value extends string> {
  label: string;
  value: Value;
  /** In words, by value. */
  choices: { readonly [value in Value]: string };
  onChange: (value: Value) => void;
  disabled: boolean;
}

/** One choice of a few, side by side. */
export function OneOf<Value extends string>({
  label,
  value,
  choices,
  onChange,
  disabled,
}: OneOfProps<Value>) {
  return (
    <Radio.Group label={label} value={value} onChange={(chosen) => onChange(chosen as Value)}>
      <div className={giving.radios}>
        {Object.entries<string>(choices).map(([one, words]) => (
          <Radio key={one} value={one} label={words} disabled={disabled} />
        ))}
      </div>
    </Radio.Group>
  );
}
