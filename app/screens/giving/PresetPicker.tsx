import { Button, Popover, TextInput } from '@mantine/core';
import { useState } from 'react';
import { useOutletContext } from 'react-router';
import type { WholeView } from '#server/views/operations/whole-view';
import { Select } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import { useAtOnce } from '../../ui/task/useAtOnce';
import classes from './giving.module.css';

interface PresetPickerProps {
  operation: string;
  presets: WholeView['presets'];
  /** The choices of the page. */
  choices: object;
  /** Takes over what a preset says. */
  onTake: (choices: { [name: string]: unknown }) => void;
  disabled: boolean;
}

/** Takes the choices of a preset over, and keeps those of the page as one. */
export function PresetPicker({ operation, presets, choices, onTake, disabled }: PresetPickerProps) {
  const { mayEdit } = useOutletContext<ProjectContext>();
  const { carryOut, isRunning, trouble } = useAtOnce('preset');
  const [isOpen, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [purpose, setPurpose] = useState('');
  const known = presets.find((preset) => preset.name === name.trim());
  const keep = async () => {
    const preset = { operation, purpose: purpose || (known?.purpose ?? ''), choices };
    if (!(await carryOut({ name, preset }))) return;
    setOpen(false);
    setName('');
    setPurpose('');
  };
  return (
    <div className={classes.presets}>
      <Select
        aria-label="Choices by a preset"
        placeholder="Choices by a preset…"
        data={presets.map((preset) => preset.name)}
        value={null}
        disabled={disabled || presets.length === 0}
        onChange={(chosen) => {
          const preset = presets.find((one) => one.name === chosen);
          if (preset) onTake(preset.choices);
        }}
      />
      {mayEdit && (
        <Popover opened={isOpen} onChange={setOpen} withinPortal trapFocus position="bottom-end" width={320}>
          <Popover.Target>
            <Button
              variant="default"
              size="compact-sm"
              disabled={disabled}
              aria-expanded={isOpen}
              onClick={() => setOpen(!isOpen)}
            >
              Keep as a preset…
            </Button>
          </Popover.Target>
          <Popover.Dropdown>
            <form
              className={classes.keep}
              onSubmit={(event) => {
                event.preventDefault();
                void keep();
              }}
            >
              <TextInput
                label="Name of the preset"
                description={
                  known
                    ? 'There is one of this name: it is kept anew.'
                    : 'The choices of this page for any assembly, without its single components and faces.'
                }
                value={name}
                maxLength={80}
                onChange={(event) => setName(event.currentTarget.value)}
                data-autofocus
              />
              <TextInput
                label="What it is for"
                value={purpose}
                maxLength={300}
                onChange={(event) => setPurpose(event.currentTarget.value)}
              />
              {trouble && (
                <p role="alert" className={classes.trouble}>
                  {trouble}
                </p>
              )}
              <Button type="submit" disabled={name.trim() === ''} loading={isRunning}>
                {known ? 'Keep it anew' : 'Keep it'}
              </Button>
            </form>
          </Popover.Dropdown>
        </Popover>
      )}
    </div>
  );
}
