import { Button, Popover, TextInput } from '@mantine/core';
import { useState } from 'react';
import { plural } from '../../ui/format';
import classes from './Split.module.css';

/** Find and replace, prefix and suffix, on the selected components, or on all that the table shows. */
export function RenameMany({
  count,
  isSelection,
  onRename,
}: {
  count: number;
  /** They are selected, and not just shown. */
  isSelection: boolean;
  onRename: (change: { find: string; replace: string; prefix: string; suffix: string }) => void;
}) {
  const [open, setOpen] = useState(false);
  const [change, setChange] = useState({ find: '', replace: '', prefix: '', suffix: '' });
  const field = (name: keyof typeof change, label: string) => (
    <TextInput
      label={label}
      value={change[name]}
      maxLength={100}
      onChange={(event) => setChange({ ...change, [name]: event.currentTarget.value })}
    />
  );
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-end" shadow="md" withArrow trapFocus>
      <Popover.Target>
        <Button variant="default" onClick={() => setOpen(!open)}>
          Rename many
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <form
          className={classes.renameMany}
          onSubmit={(event) => {
            event.preventDefault();
            onRename(change);
            setOpen(false);
          }}
        >
          {field('find', 'Find')}
          {field('replace', 'Replace with')}
          {field('prefix', 'Prefix')}
          {field('suffix', 'Suffix')}
          <p className="muted">
            {isSelection
              ? `Works on the ${plural(count, 'selected component')}.`
              : `Works on the ${plural(count, 'component')} that the table shows: filter it, or select some with Ctrl or Shift.`}
          </p>
          <Button type="submit" disabled={count === 0}>
            Rename {plural(count, 'component')}
          </Button>
        </form>
      </Popover.Dropdown>
    </Popover>
  );
}
