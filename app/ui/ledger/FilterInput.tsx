import { Popover, TextInput, UnstyledButton } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useRef } from 'react';
import { useKey } from '../useKey';
import classes from './FilterInput.module.css';

interface FilterInputProps {
  value: string;
  onChange: (text: string) => void;
  /** Words that mean a state, to be typed or clicked. */
  words?: readonly string[];
}

/** The filter of the table in view; `/` leads to it. */
export function FilterInput({ value, onChange, words = [] }: FilterInputProps) {
  const input = useRef<HTMLInputElement>(null);
  const [isOpen, open] = useDisclosure(false);
  useKey('/', () => input.current?.focus());
  const toggle = (word: string) => {
    const typed = value.split(/\s+/).filter(Boolean);
    const others = typed.filter((other) => other !== word);
    onChange((others.length < typed.length ? others : [...typed, word]).join(' '));
    input.current?.focus();
  };
  return (
    <Popover opened={isOpen && words.length > 0} position="bottom-end" trapFocus={false} withRoles={false}>
      <Popover.Target>
        <TextInput
          ref={input}
          className={classes.filter}
          placeholder="Filter  /"
          aria-label="Filter the table"
          value={value}
          onFocus={open.open}
          onBlur={open.close}
          onChange={(event) => onChange(event.currentTarget.value)}
          onKeyDown={(event) => event.key === 'Escape' && onChange('')}
        />
      </Popover.Target>
      <Popover.Dropdown className={classes.words}>
        {words.map((word) => (
          <UnstyledButton
            key={word}
            tabIndex={-1}
            className={classes.word}
            data-on={value.split(/\s+/).includes(word) || undefined}
            // The field keeps the focus.
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => toggle(word)}
          >
            {word}
          </UnstyledButton>
        ))}
      </Popover.Dropdown>
    </Popover>
  );
}
