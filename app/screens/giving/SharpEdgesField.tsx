import { NumberField } from '../../ui/fields/NumberField';

interface SharpEdgesFieldProps {
  /** mm; null for none. */
  value: number | null;
  onChange: (value: number | null) => void;
  disabled: boolean;
  className?: string;
}

/** Up to which size rounds and bevels become sharp edges. */
export function SharpEdgesField(props: SharpEdgesFieldProps) {
  return (
    <NumberField
      label="Sharp edges of rounds and bevels up to"
      kind="length"
      least={0.001}
      empty="none"
      {...props}
    />
  );
}
