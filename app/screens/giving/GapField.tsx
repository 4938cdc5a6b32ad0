import { NumberInput } from '@mantine/core';

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
  return (
    <NumberInput
      label={label}
      suffix=" mm"
      min={0.01}
      decimalScale={2}
      placeholder={usual === undefined ? '' : `${usual} mm`}
      value={gap ?? ''}
      onChange={(value) => onChange(Number(value) > 0 ? Number(value) : null)}
      disabled={disabled}
    />
  );
}
