import { TextInput } from '@mantine/core';
import { useRef } from 'react';
import classes from './FilterInput.module.css';
import { useKey } from './useKey';

/** The filter of the table in view; `/` leads to it. */
export function FilterInput({ value, onChange }: { value: string; onChange: (text: string) => void }) {
  const input = useRef<HTMLInputElement>(null);
  useKey('/', () => input.current?.focus());
  return (
    <TextInput
      ref={input}
      className={classes.filter}
      placeholder="Filter  /"
      aria-label="Filter the table"
      value={value}
      onChange={(event) => onChange(event.currentTarget.value)}
      onKeyDown={(event) => event.key === 'Escape' && onChange('')}
    />
  );
}
