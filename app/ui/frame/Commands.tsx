import { Kbd, Modal, useComputedColorScheme, useMantineColorScheme } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { Spotlight, type SpotlightActionData } from '@mantine/spotlight';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { FileToWorkOn } from '#core/accepts';
import type { RegistryEntry } from '#core/entry';
import { addressIn, operationAddress } from '../address/addresses';
import { addressOf, operationsAlone, operationsFor } from '../operation/operations';
import classes from './Commands.module.css';
import { COMMANDS, fittingActions } from './fitting-actions';
import { foundActions } from './found-actions';
import { openKeys, useKeysOpen } from './opened';
import { useOfferedCommands } from './page-commands';
import { useFound } from './useFound';

const KEYS: [string[], string][] = [
  [['Ctrl', 'K'], 'Find a file, a part, a link or a command'],
  [['/'], 'Filter the table in view'],
  [['↑', '↓'], 'Walk through the table'],
  [['←', '→'], 'Close and open a row of the structure, or go to the one above'],
  [['Page ↑', 'Page ↓'], 'Walk in large steps'],
  [['Home', 'End'], 'First and last row'],
  [['Menu'], 'What can be done with the row, or with what is selected on the model'],
  [['Ctrl', 'click'], 'Select one row more; with Shift all up to it'],
  [['H'], 'Hide the selected rows on the model, or show them'],
  [['A'], 'Structure: show what is selected alone'],
  [['Enter'], 'Structure: go to what is selected on the model; a double click does the same'],
  [['Space'], 'Split: take the row into the split, or leave it out'],
  [['Enter'], 'Split: type the name of the row'],
  [['C'], 'Split: give the row a colour'],
  [['←', '→', '↑', '↓'], 'On the model: turn it'],
  [['1', '…', '7'], 'On the model: look from the corner, the front and so on, as in the menu View'],
  [['+'], 'On the model: nearer; with − away, with 0 all of it'],
  [['Enter'], 'On the model: pick what is in the middle'],
  [['Ctrl', 'Z'], 'Take the latest change back, after a look; with Shift make it again'],
  [['?'], 'This list'],
];

const FIND = 'Find a file, a part, a link or a command';

/** The keys by which operations are opened from a table of files. */
function keysOf(operations: readonly RegistryEntry[]): [string[], string][] {
  return operations.flatMap(({ key, title }): [string[], string][] =>
    key === undefined ? [] : [[[key], `Files: ${title.toLowerCase()} what is selected`]],
  );
}

/** Everything by name: opened with Ctrl+K. And the list of keys, opened with the question mark. */
export function Commands({
  projectId,
  operations,
  selection,
  mayEdit,
}: {
  projectId: string;
  operations: readonly RegistryEntry[];
  /** The files that are selected in the view. */
  selection: readonly FileToWorkOn[];
  mayEdit: boolean;
}) {
  const navigate = useNavigate();
  const { setColorScheme } = useMantineColorScheme();
  const dark = useComputedColorScheme('light') === 'dark';
  const helpOpen = useKeysOpen();
  useHotkeys(
    (['undo', 'redo'] as const).map((step) => [
      step === 'undo' ? 'mod + Z' : 'mod + shift + Z',
      () => void (mayEdit && navigate(addressIn(projectId, 'activity', { step }))),
    ]),
  );

  const go = (
    id: string,
    label: string,
    description: string,
    to = operationAddress(projectId, id),
  ): SpotlightActionData => ({ id, label, description, onClick: () => void navigate(to) });
  const fitting = operationsFor(operations, selection, mayEdit);
  const paths = selection.map(({ path }) => path);
  const what = paths.length === 1 ? paths[0] : `${paths.length} files`;
  const others = operationsAlone(operations).filter(
    ({ page }) => !fitting.some((entry) => entry.page === page),
  );
  const offered = useOfferedCommands();
  const offer = (isMinor: boolean): SpotlightActionData[] =>
    offered
      .filter(({ command }) => (command.isMinor ?? false) === isMinor)
      .map(({ of, command: { label, description, run } }) => ({
        id: `${of} ${label}`,
        label,
        description,
        onClick: run,
      }));
  const actions: SpotlightActionData[] = [
    ...fitting.map((entry) =>
      go(entry.name, `${entry.title}: ${what}`, entry.purpose, addressOf(projectId, entry, paths)),
    ),
    ...offer(false),
    go('files', 'Files', 'All files of the project, and importing'),
    ...others.map(({ name, title, purpose, page }) =>
      go(name, title, purpose, operationAddress(projectId, page)),
    ),
    ...(mayEdit
      ? [
          go(
            'undo last',
            'Undo the last change',
            'With a look at what that does, first',
            addressIn(projectId, 'activity', { step: 'undo' }),
          ),
          go(
            'redo last',
            'Redo what was undone last',
            'With a look at what that does, first',
            addressIn(projectId, 'activity', { step: 'redo' }),
          ),
        ]
      : []),
    go('activity', 'Activity', 'What was done, and undoing it'),
    go('people', 'People', 'Members, roles and invitations'),
    go('settings', 'Project', 'Its name, search folders, export, archive'),
    go('projects', 'All projects', 'Back to the list', '/projects'),
    {
      id: 'colours',
      label: dark ? 'Light colours' : 'Dark colours',
      description: 'For this browser',
      onClick: () => setColorScheme(dark ? 'light' : 'dark'),
    },
    {
      id: 'keys',
      label: 'Keys',
      description: 'What can be done with the keyboard',
      onClick: () => openKeys(true),
    },
    ...offer(true),
  ];
  const [typed, setTyped] = useState('');
  const { isLooking, ...found } = useFound(projectId, typed);
  const open = (to: string) => void navigate(to);
  return (
    <>
      <Spotlight
        actions={[...foundActions(projectId, found, open), { group: COMMANDS, actions }]}
        query={typed}
        onQueryChange={setTyped}
        filter={fittingActions}
        clearQueryOnClose
        scrollable
        maxHeight={420}
        // Its key is the project's, which is there before the palette.
        shortcut={null}
        nothingFound={isLooking ? 'Looking…' : 'No file, part, link or command of that name'}
        searchProps={{ placeholder: FIND, 'aria-label': FIND }}
        highlightQuery
      />
      <Modal opened={helpOpen} onClose={() => openKeys(false)} title="Keys" size="md">
        <dl className={classes.keys}>
          {[...KEYS, ...keysOf(operations)].map(([keys, words]) => (
            <div key={words}>
              <dt>
                {keys.map((key) => (
                  <Kbd key={key}>{key}</Kbd>
                ))}
              </dt>
              <dd>{words}</dd>
            </div>
          ))}
        </dl>
        <p className="muted">
          On the stage: drag turns, the right button moves, the wheel goes nearer to where the pointer is.
        </p>
      </Modal>
    </>
  );
}
