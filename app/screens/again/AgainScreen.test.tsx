import { screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { choicesInWords } from '#core/choices-in-words';
import { operationNamed, registryEntries } from '#core/operations';
import { gearUnit } from '#core/testing/projects';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage } from '../../testing/render';
import { AgainScreen } from './AgainScreen';

const openPage = (operation: string, choices: object) => {
  const files = gearUnit();
  const operations = operationsStandIn(files);
  vi.stubGlobal('fetch', operations.answer);
  const page = renderPage(
    <AgainScreen
      summary="Did it"
      who="Ines"
      when="2026-09-14T08:00:00Z"
      made={{ operation, choices }}
      entry={registryEntries().find(({ name }) => name === operation)!}
      words={choicesInWords(operationNamed(operation)!.choices, choices)}
    />,
  );
  return { ...page, ...operations, files };
};

describe('the page that does something again', () => {
  it('says what was chosen, what it would do now, and does it', async () => {
    const { user, files } = openPage('repair', {
      set: [{ holder: 'drive/drive.stp', written: '../norm/washer.stp', target: 'std/washer.stp' }],
      alike: true,
      accept: null,
    });
    const chosen = screen.getAllByRole('definition').map(({ textContent }) => textContent);
    expect(chosen).toEqual([expect.stringContaining('"target":"std/washer.stp"'), 'yes']);
    const plan = screen.getByRole('region', { name: 'What will change' });
    expect(await within(plan).findByText('drive/drive.stp')).toBeTruthy();
    await press(user, 'Do it again');
    await within(plan).findByText(/^Done: Repaired 1 link/);
    expect(Buffer.from(await files.read('drive/drive.stp')).toString()).toContain('../std/washer.stp');
  });

  it('says why it cannot be done any more', async () => {
    openPage('remove', { paths: ['gone.stp'] });
    expect(await screen.findByText('There is no file or folder gone.stp.')).toBeTruthy();
  });
});
