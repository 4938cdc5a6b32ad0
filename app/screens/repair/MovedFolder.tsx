import { Autocomplete, Button } from '@mantine/core';
import { useState } from 'react';
import type { RepairTable } from '#server/views/operations/repair-table';
import { plural } from '../../ui/format';
import classes from './Repair.module.css';

interface MovedFolderProps {
  /** What it explains that was said last. */
  moved: RepairTable['moved'];
  /** Folders that links lead to, and that files lie in. */
  asked: readonly string[];
  present: readonly string[];
  onSay: (folder: { from: string; to: string } | null) => void;
}

/** Searches a folder in all broken links, and replaces it by the one where its files are now. */
export function MovedFolder({ moved, asked, present, onSay }: MovedFolderProps) {
  const [from, setFrom] = useState(moved?.folder.from ?? asked[0] ?? '');
  const [to, setTo] = useState(moved?.folder.to ?? '');
  return (
    <form
      className={classes.moved}
      aria-label="A folder that has moved"
      onSubmit={(event) => {
        event.preventDefault();
        onSay({ from: from.trim(), to: to.trim() });
      }}
    >
      <Autocomplete
        size="xs"
        label="Links that lead to the folder"
        data={[...new Set(asked)]}
        value={from}
        onChange={setFrom}
      />
      <Autocomplete
        size="xs"
        label="mean this one now"
        data={[...new Set(present)]}
        value={to}
        onChange={setTo}
      />
      <Button type="submit" variant="default">
        Look for the files
      </Button>
      {moved && (
        <Button variant="subtle" onClick={() => onSay(null)}>
          Forget this folder
        </Button>
      )}
      <p role="status">{moved && inWords(moved)}</p>
    </form>
  );
}

function inWords({ trouble, explained, left }: NonNullable<RepairTable['moved']>): string {
  if (trouble !== null) return trouble;
  const missing = left > 0 ? `; of ${plural(left, 'other')} the file is not there` : '';
  return explained === 0
    ? `None of the ${plural(left, 'file')} is there.`
    : `${plural(explained, 'link finds its file', 'links find their files')} there${missing}.`;
}
