import { Button, Checkbox, Popover, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { SplitChoices } from '#core/jobs/split/choices';
import { NumberField } from '../../ui/fields/NumberField';
import { USES } from '../../ui/format';
import { Select } from '../../ui/options';
import classes from './Split.module.css';

interface Props {
  choices: SplitChoices;
  onChange: (changes: Partial<SplitChoices>) => void;
  /** Where the files go when no folder is chosen. */
  folder: string;
}

const ORIGINS: { value: SplitChoices['origin']; label: string }[] = [
  { value: 'source', label: 'As in the source' },
  { value: 'centre', label: 'Middle of the box' },
  { value: 'corner', label: 'Corner of the box' },
  { value: 'centroid', label: 'Centroid' },
  { value: 'axis', label: 'Axis of the largest cylinder' },
];

/** The choices of a split, the ones that are made each time in view, the others behind one button. */
export function SplitChoicesForm({ choices, onChange, folder }: Props) {
  const [pattern, setPattern] = useState(choices.pattern);
  const [typedFolder, setTypedFolder] = useState(choices.folder ?? '');
  return (
    <div className={classes.options}>
      <Select
        label="Bodies of the same shape"
        data={[
          { value: 'share', label: 'Share one file' },
          { value: 'each', label: 'A file for each body' },
        ]}
        value={choices.merge ? 'share' : 'each'}
        onChange={(value) => onChange({ merge: value === 'share' })}
        allowDeselect={false}
      />
      <Select
        label="Names"
        data={[
          { value: 'body', label: 'From the bodies' },
          { value: 'number', label: 'By the pattern' },
        ]}
        value={choices.naming}
        onChange={(value) => onChange({ naming: value as SplitChoices['naming'] })}
        allowDeselect={false}
      />
      <TextInput
        label="Pattern"
        title="{source}, {number}, {body}, {size} and {material} are filled in"
        classNames={{ input: 'mono' }}
        value={pattern}
        onChange={(event) => setPattern(event.currentTarget.value)}
        onBlur={() => onChange({ pattern })}
        onKeyDown={(event) => event.key === 'Enter' && onChange({ pattern })}
      />
      <Select
        label="Origin of the new parts"
        data={ORIGINS}
        value={choices.origin}
        onChange={(value) => onChange({ origin: value as SplitChoices['origin'] })}
        allowDeselect={false}
      />
      <Select
        label="Result"
        data={[
          { value: 'files', label: 'Separate files' },
          { value: 'one', label: 'One assembly file' },
        ]}
        value={choices.inFile ? 'one' : 'files'}
        onChange={(value) => onChange({ inFile: value === 'one' })}
        allowDeselect={false}
      />
      <Select
        label="The source"
        comboboxProps={{ width: 'max-content' }}
        data={[
          { value: 'keep', label: 'Stays as it is' },
          { value: 'remove', label: 'Keeps the other bodies' },
          { value: 'replace', label: 'Gives way to the assembly' },
        ]}
        value={choices.rest}
        onChange={(value) => onChange({ rest: value as SplitChoices['rest'] })}
        allowDeselect={false}
      />
      <TextInput
        label="Folder"
        classNames={{ input: 'mono' }}
        placeholder={folder}
        value={typedFolder}
        onChange={(event) => setTypedFolder(event.currentTarget.value)}
        onBlur={() => onChange({ folder: typedFolder.trim() === '' ? null : typedFolder })}
        onKeyDown={(event) =>
          event.key === 'Enter' && onChange({ folder: typedFolder.trim() === '' ? null : typedFolder })
        }
      />
      <Popover position="bottom-end" shadow="md" withArrow>
        <Popover.Target>
          <Button variant="default" className={classes.more}>
            More choices
          </Button>
        </Popover.Target>
        <Popover.Dropdown className={classes.moreChoices}>
          <Checkbox
            label="Open surfaces become files too"
            checked={choices.surfaces}
            onChange={(event) => onChange({ surfaces: event.currentTarget.checked })}
          />
          <Checkbox
            label="Carry colours and layers over"
            checked={choices.styles}
            onChange={(event) => onChange({ styles: event.currentTarget.checked })}
          />
          <Checkbox
            label="Another colour keeps the same shape apart"
            checked={choices.coloursApart}
            onChange={(event) => onChange({ coloursApart: event.currentTarget.checked })}
          />
          <Checkbox
            label="Another name keeps the same shape apart"
            checked={choices.namesApart}
            onChange={(event) => onChange({ namesApart: event.currentTarget.checked })}
          />
          <Checkbox
            label="The new files remember the source"
            description="Newer versions of the source then show as behind."
            checked={choices.tie && choices.rest !== 'remove'}
            disabled={choices.rest === 'remove' || choices.inFile}
            onChange={(event) => onChange({ tie: event.currentTarget.checked })}
          />
          <NumberField
            label="Tolerance for the same shape"
            description="As a part of the body’s diagonal"
            kind="number"
            digits={7}
            least={1e-7}
            most={0.01}
            step={0.0001}
            value={choices.tolerance}
            onChange={(tolerance) => onChange({ tolerance })}
          />
          <Select
            label="In the bill of materials"
            comboboxProps={{ withinPortal: false }}
            data={Object.entries(USES).map(([value, label]) => ({ value, label }))}
            value={choices.use}
            onChange={(value) => onChange({ use: value as SplitChoices['use'] })}
            allowDeselect={false}
          />
        </Popover.Dropdown>
      </Popover>
    </div>
  );
}
