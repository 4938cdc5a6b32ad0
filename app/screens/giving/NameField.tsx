import { TextInput } from '@mantine/core';

interface NameFieldProps {
  pattern: string;
  /** Where the file would be; unknown while there is no plan. */
  file: string | undefined;
  onChange: (pattern: string) => void;
  disabled: boolean;
}

/** What the new file is called after its original. */
export function NameField({ pattern, file, onChange, disabled }: NameFieldProps) {
  return (
    <TextInput
      label="Name"
      description={file}
      value={pattern}
      error={pattern.trim() === '' ? 'It needs a name.' : undefined}
      onChange={(event) => onChange(event.currentTarget.value)}
      disabled={disabled}
    />
  );
}
