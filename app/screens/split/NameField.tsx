import { useEffect, useRef, useState } from 'react';
import classes from './Split.module.css';

interface Props {
  name: string;
  problem: string | null;
  typed: boolean;
  disabled: boolean;
  /** Takes the focus when this is its row's turn. */
  focused: boolean;
  label: string;
  onFocus: () => void;
  onLeave: () => void;
  onName: (name: string) => void;
  /** Rows down, or up when negative. */
  onMove: (step: number) => void;
  onPaste: (text: string) => void;
}

/** A cell that is typed in like one of a spreadsheet: arrows and Enter move on, Escape takes back, a column can be pasted. */
export function NameField({
  name,
  problem,
  typed,
  disabled,
  focused,
  label,
  onFocus,
  onLeave,
  onName,
  onMove,
  onPaste,
}: Props) {
  const [text, setText] = useState(name);
  const field = useRef<HTMLInputElement>(null);
  const own = useRef(false);
  useEffect(() => {
    if (!own.current) setText(name);
  }, [name]);
  useEffect(() => {
    if (!focused || document.activeElement === field.current) return;
    field.current?.focus({ preventScroll: true });
    field.current?.select();
  }, [focused]);
  const take = () => {
    own.current = false;
    if (text.trim() !== name) onName(text.trim());
  };
  return (
    <input
      ref={field}
      className={classes.name}
      // The table is one stop: Enter leads here.
      tabIndex={-1}
      aria-label={label}
      aria-invalid={problem !== null}
      title={problem ?? undefined}
      data-typed={typed || undefined}
      disabled={disabled}
      value={text}
      onFocus={onFocus}
      // With Ctrl or Shift held down a click selects rows, as everywhere in the table.
      onMouseDown={(event) => isSelecting(event) && event.preventDefault()}
      onClick={(event) => !isSelecting(event) && event.stopPropagation()}
      onChange={(event) => {
        own.current = true;
        setText(event.currentTarget.value);
      }}
      onBlur={() => {
        take();
        onLeave();
      }}
      onPaste={(event) => {
        const pasted = event.clipboardData.getData('text');
        if (!/[\r\n]/.test(pasted.trim())) return;
        event.preventDefault();
        own.current = false;
        onPaste(pasted);
      }}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Escape') {
          own.current = false;
          // Once more, and the keys are the table's again.
          if (text === name) event.currentTarget.closest<HTMLElement>('[role=treegrid]')?.focus();
          else setText(name);
        } else if (event.key === 'Enter' || event.key === 'ArrowDown' || event.key === 'ArrowUp') {
          event.preventDefault();
          take();
          onMove(event.key === 'ArrowUp' || event.shiftKey ? -1 : 1);
        }
      }}
    />
  );
}

function isSelecting({ ctrlKey, metaKey, shiftKey }: React.MouseEvent): boolean {
  return ctrlKey || metaKey || shiftKey;
}
