import { screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { newContent } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import type { ReceivedFile } from '#core/project/change/received-file';
import { scanContent } from '#core/project/scan/content';
import { writeBoxPart } from '#core/testing/box-part';
import { gearUnit } from '#core/testing/projects';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage } from '../../testing/render';
import { ImportScreen } from './ImportScreen';

const UPLOAD = { id: '5f0c7a44-0000-4000-8000-000000000000', files: 4, bytes: 4000, refused: [] as string[] };

const arriving = (path: string, content: Uint8Array): ReceivedFile => ({
  path,
  ...newContent(content),
  read: async () => Buffer.from(content),
});

async function openPage(received: ReceivedFile[], refused: string[] = [], search = '') {
  const files = gearUnit();
  const standIn = operationsStandIn(files, {
    context: {
      received: async () => received,
      scansOf: async (contents) =>
        new Map(contents.map((one) => [one.path, scanContent(one.path, one.content!)])),
    },
  });
  const dropped: string[] = [];
  vi.stubGlobal('fetch', async (address: string, init?: RequestInit) => {
    if (address.includes('/upload?')) dropped.push(address);
    return (await standIn.answer(address, init)) ?? Response.json({});
  });
  const page = renderPage(<ImportScreen upload={{ ...UPLOAD, refused }} />, {
    path: `/projects/p/import${search}`,
  });
  return { ...page, files, dropped, ...standIn };
}

const rows = (grid: string) =>
  within(screen.getByRole('grid', { name: grid }))
    .getAllByRole('row')
    .map((row) =>
      within(row)
        .queryAllByRole('gridcell')
        .map(({ textContent }) => textContent),
    )
    .filter((cells) => cells.length > 0);

describe('the import page', () => {
  const PLACING = '?place=drive/stud.stp&placeIn=drive/drive.stp';
  const place = () => screen.queryByRole('link', { name: 'Place stud.stp in drive.stp' });

  it('leads to where a file that was dropped on an assembly is placed, once it is there', async () => {
    const { user } = await openPage([arriving('drive/stud.stp', writeBoxPart({ id: 'STUD' }))], [], PLACING);
    await waitFor(() => expect(screen.getByRole('button', { name: 'Import 1 file' })).toBeTruthy());
    expect(place()).toBeNull();
    await press(user, 'Import 1 file');
    await waitFor(() => expect(place()).toBeTruthy());
    expect(place()!.getAttribute('href')).toBe(
      '/projects/p/place?file=drive%2Fdrive.stp&part=drive%2Fstud.stp',
    );
  });

  it('leads there at once where all of it is here already', async () => {
    const same = await gearUnit().read('parts/housing.stp');
    await openPage([arriving('parts/housing.stp', same)], [], PLACING);
    await waitFor(() => expect(place()).toBeTruthy());
  });

  it('says what becomes of every file and of the links, and does it', async () => {
    const same = gearUnit();
    const { user, files } = await openPage(
      [
        arriving('parts/lid.stp', writeBoxPart({ id: 'LID' })),
        arriving('parts/base.stp', writeBoxPart({ id: 'BASE', name: 'newer' })),
        arriving('parts/housing.stp', await same.read('parts/housing.stp')),
        arriving('half.stp', writeBoxPart({ id: 'HALF' }).subarray(0, 900)),
      ],
      ['../x.stp was left out: the path leads out.'],
    );
    await waitFor(() => expect(screen.getByRole('button', { name: 'Import 3 files' })).toBeTruthy());
    expect(rows('What arrived')).toEqual([
      ['half.stp', 'a new file', expect.stringContaining('Cannot be read. Line')],
      ['parts/base.stp', 'a new version', ''],
      ['parts/lid.stp', 'a new file', ''],
    ]);
    expect(screen.getByText(/4 files, .* arrived\. 1 of them are here already\./)).toBeTruthy();
    expect(screen.getByRole('heading', { name: '1 broken link is mended' })).toBeTruthy();
    expect(screen.getByText('../x.stp was left out: the path leads out.')).toBeTruthy();

    await user.click(screen.getByRole('radio', { name: 'Keep mine' }));
    await press(user, 'Import 2 files');
    expect(await screen.findByText(/^2 new files, 1 unchanged\. .*1 broken link was mended\./)).toBeTruthy();
    expect((await files.list()).some(({ path }) => path === 'parts/lid.stp')).toBe(true);
    await press(user, 'Undo the import');
    await waitFor(async () => expect((await files.list()).map(({ path }) => path)).not.toContain('half.stp'));
  });

  it('names the links that come broken, with the reason', async () => {
    const { user } = await openPage([arriving('top.stp', await gearUnit().read('drive/drive.stp'))]);
    expect(await screen.findByRole('heading', { name: /links? will lead nowhere$/ })).toBeTruthy();
    const [first] = within(screen.getByRole('grid', { name: 'Links that change' }))
      .getAllByRole('row')
      .slice(1);
    await user.click(first!);
    expect(await screen.findByText(/is in the project\.|files fit/)).toBeTruthy();
  });

  it('lets go of what was sent when it is left', async () => {
    const { user, dropped, address } = await openPage([arriving('a.stp', writeBoxPart({ id: 'A' }))]);
    await press(user, 'Discard what was sent');
    await waitFor(() => expect(address()).toBe('/projects/p/files'));
    expect(dropped).toEqual([expect.stringContaining('step=drop')]);
  });

  it('can be begun here, and says why what was sent cannot be taken', async () => {
    const first = renderPage(<ImportScreen upload={null} />);
    expect(screen.getByRole('heading', { name: 'Import' })).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Import' })).toHaveProperty('disabled', false);
    first.unmount();
    await openPage([]);
    expect((await screen.findByRole('alert')).textContent).toContain('Send it again');
  });

  it('has nothing to do where all of it is here already', async () => {
    await openPage([
      arriving(
        'parts/base.stp',
        await new MemoryFileSet([['b', await gearUnit().read('parts/base.stp')]]).read('b'),
      ),
    ]);
    expect(await screen.findByText('Nothing: all of it is here already.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Import' })).toHaveProperty('disabled', true);
  });
});
