import { NumberField } from '../../ui/fields/NumberField';
import { useMeasures } from '../../ui/measures/useMeasures';

interface GapFieldProps {
  label: string;
  /** mm; null for the usual part of the whole's size. */
  gap: number | null;
  /** What is used where nothing is chosen. */
  usual: number | undefined;
  onChange: (gap: number | null) => void;
  disabled: boolean;
}

/** How narrow an opening must be so that nothing passes it. */
export function GapField({ label, gap, usual, onChange, disabled }: GapFieldProps) {
  const { length } = useMeasures();
  return (
    <NumberField
      label={label}
      kind="length"
      least={0.01}
      empty={usual === undefined ? 'from the size' : `${length(usual)}, from the size`}
      value={gap}
      onChange={onChange}
      disabled={disabled}
    />
  );
}
