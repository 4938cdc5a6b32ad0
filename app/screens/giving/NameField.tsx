import { ActionIcon, TextInput } from '@mantine/core';
import { IconBraces } from '@tabler/icons-react';
import { useState } from 'react';
import { stemOf } from '#core/files/links/paths';

interface NameFieldProps {
  pattern: string;
  /** Where the file would be; unknown while there is no plan. */
  file: string | undefined;
  onChange: (pattern: string) => void;
  disabled: boolean;
}

/** What the new file is called: its name, to be typed over; the pattern that gives it is there on demand. */
export function NameField({ pattern, file, onChange, disabled }: NameFieldProps) {
  const [showsPattern, setShowsPattern] = useState(false);
  const isPattern = pattern.includes('{');
  const name = isPattern && !showsPattern ? (file === undefined ? '' : stemOf(file)) : pattern;
  return (
    <TextInput
      label={showsPattern ? 'Pattern of its name' : 'Name'}
      description={file}
      value={name}
      placeholder={file === undefined && isPattern ? 'after its original' : undefined}
      error={pattern.trim() === '' ? 'It needs a name.' : undefined}
      onChange={(event) => onChange(event.currentTarget.value)}
      disabled={disabled}
      rightSection={
        <ActionIcon
          variant="subtle"
          color="gray"
          size={24}
          aria-label="The pattern of the name"
          aria-pressed={showsPattern}
          title={showsPattern ? 'Show the name' : `Its pattern is ${pattern}: {name} is that of the original`}
          onClick={() => setShowsPattern(!showsPattern)}
        >
          <IconBraces size={14} aria-hidden />
        </ActionIcon>
      }
    />
  );
}
