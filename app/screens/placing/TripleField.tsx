import type { Vector3 } from '#core/product/matrix';
import { NumberField } from '../../ui/fields/NumberField';
import classes from './TripleField.module.css';

interface TripleFieldProps {
  label: string;
  kind: 'length' | 'angle';
  value: Vector3;
  disabled?: boolean;
  onChange: (value: Vector3) => void;
}

/** Three numbers, along or about x, y and z. */
export function TripleField({ label, kind, value, disabled, onChange }: TripleFieldProps) {
  return (
    <fieldset className={classes.triple}>
      <legend>{label}</legend>
      {(['x', 'y', 'z'] as const).map((axis, n) => (
        <NumberField
          key={axis}
          aria-label={`${label} ${axis}`}
          leftSection={axis}
          leftSectionWidth={22}
          kind={kind}
          digits={3}
          disabled={disabled}
          value={value[n]!}
          onChange={(number) =>
            onChange(value.map((old, at) => (at === n ? number : old)) as unknown as Vector3)
          }
        />
      ))}
    </fieldset>
  );
}
