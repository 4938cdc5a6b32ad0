import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { registryEntries } from '#core/operations';
import type { FileFacts } from '#server/views/files/file-facts';
import type { FileRow } from '#server/views/packed/packed-rows';
import { renderPage } from '../../testing/render';
import { operationsFor } from '../../ui/operation/operations';
import type { Upload } from '../../ui/sending/upload';
import type { Sending } from '../../ui/sending/useSending';
import { FilesScreen } from './FilesScreen';

const row = (path: string, more: Partial<FileRow> = {}): FileRow => ({
  path,
  role: 'part',
  product: path.split('/').at(-1)!.replace('.stp', ''),
  bodies: 1,
  unit: 'mm',
  bytes: 2048,
  version: 1,
  links: { sound: 0, missing: 0, ambiguous: 0, behind: 0, loop: 0 },
  usedBy: 1,
  about: null,
  derived: 0,
  unused: false,
  hasPicture: false,
  error: null,
  damage: null,
  ...more,
});
const FILES = [
  row('unit.stp', {
    role: 'assembly',
    bodies: 0,
    usedBy: 0,
    links: { sound: 4, missing: 1, ambiguous: 0, behind: 0, loop: 0 },
  }),
  row('parts/weld.stp', { bodies: 12 }),
  row('parts/torn.stp', { product: 'Torn', damage: '#99 (PLANE) refers to #123, which is not here.' }),
  row('parts/broken.stp', { error: 'Line 7, column 3: the file ends here; expected a section.', bodies: 0 }),
  row('old/left-over.stp', { unused: true, usedBy: 0 }),
];
const FACTS: FileFacts = {
  path: 'parts/weld.stp',
  made: null,
  uses: [],
  usedBy: [
    {
      holder: 'unit.stp',
      kind: 'component',
      written: 'x',
      to: null,
      state: 'sound',
      reason: '',
      occurrences: 3,
    },
  ],
  shows: [],
  drawings: ['papers/weld.svg'],
  sources: [],
  papers: [],
  attachedTo: [],
  cameOut: [],
  done: [],
  versions: [
    {
      version: 2,
      path: 'parts/weld.stp',
      note: 'Imported',
      who: 'Ines',
      time: '2026-09-14T08:00:00Z',
      bytes: 2048,
      sha256: 'ab',
    },
  ],
};

const STARRED = ['parts/weld.stp', 'gone.stp'];

const openPage = async (files = FILES, context = {}) => {
  const page = renderPage(<FilesScreen files={files} total={files.length} starred={STARRED} />, {
    context,
    loads: ({ pathname }) => (pathname.endsWith('/file-facts') ? FACTS : null),
  });
  await screen.findByRole('grid', { name: 'Files' });
  return page;
};
const table = () => within(screen.getByRole('grid', { name: 'Files' }));
const paths = () =>
  table()
    .getAllByRole('row')
    .flatMap((line) => within(line).queryAllByRole('gridcell')[0]?.textContent ?? []);

describe('the files page', () => {
  it('says what each file is, and how the project stands', async () => {
    await openPage();
    expect(paths()).toEqual(FILES.map(({ path }) => path));
    expect(screen.getByText('5 files').parentElement!.textContent).toBe(
      '5 files, 1 broken link, 1 unreadable, 1 damaged, 1 that no root assembly reaches',
    );
    expect(table().getByRole('row', { name: /torn/ }).textContent).toContain('Torn damaged');
    expect(table().getByRole('row', { name: /broken/ }).textContent).toContain('cannot be read');
    expect(table().getByRole('row', { name: /left-over/ }).textContent).toContain('unused');
    expect(screen.getByRole('row', { name: /^unit/ }).textContent).toContain('root');
  });

  it('shows what a file uses and where it is used, and the ways on from it', async () => {
    const { user, address } = await openPage();
    await user.click(screen.getByRole('row', { name: /weld/ }));
    const drawer = await screen.findByRole('complementary', { name: 'Facts about parts/weld.stp' });
    expect(await within(drawer).findByText('unit.stp')).toBeTruthy();
    expect(within(drawer).getByRole('link', { name: 'Split it' }).getAttribute('href')).toBe(
      '/projects/p/split?file=parts%2Fweld.stp',
    );
    expect(within(drawer).getByRole('link', { name: 'Cut a body' })).toBeTruthy();
    expect(within(drawer).getByRole('link', { name: 'Download' }).getAttribute('href')).toBe(
      '/projects/p/content/ab?path=parts%2Fweld.stp',
    );
    expect(within(drawer).getByRole('link', { name: 'papers/weld.svg' }).getAttribute('href')).toBe(
      '/projects/p/files?sel=papers%2Fweld.svg',
    );
    await user.click(within(drawer).getByRole('button', { name: 'Change' }));
    const entries = await screen.findAllByRole('menuitem');
    const weld = FILES.find(({ path }) => path === 'parts/weld.stp')!;
    const registry = registryEntries();
    const ofFolders = registry.filter(({ accepts }) => accepts.folders).map(({ title }) => title);
    expect(ofFolders.length).toBeGreaterThan(1);
    expect(entries.map(({ textContent }) => textContent)).toEqual([
      'New version of this file…',
      ...operationsFor(registry, [weld], true).map(({ title }) => title),
      'Download',
      'Import into this folder…',
      ...ofFolders.map((title) => `${title} the folder`),
    ]);
    await user.keyboard('{Escape}');
    await user.click(within(drawer).getByRole('button', { name: 'Close' }));
    await waitFor(() => expect(address()).not.toContain('sel='));
  });

  it('says where a file is broken and what to do', async () => {
    const { user } = await openPage();
    await user.click(table().getByRole('row', { name: /broken/ }));
    expect((await screen.findByRole('alert')).textContent).toBe(
      'Line 7, column 3: the file ends here; expected a section. Save the file again in the system that it comes from, and import it once more.',
    );
  });

  it('lists what is counted, and knows words for states and sizes', async () => {
    const { user } = await openPage();
    await user.click(screen.getByRole('button', { name: '1 that no root assembly reaches' }));
    await waitFor(() => expect(paths()).toEqual(['old/left-over.stp']));
    const filter = screen.getByRole('textbox', { name: /filter/i });
    await user.clear(filter);
    await user.click(await screen.findByRole('button', { name: 'missing' }));
    await waitFor(() => expect(paths()).toEqual(['unit.stp']));
    await user.clear(filter);
    await user.type(filter, '>1MB');
    await waitFor(() => expect(screen.getByText('No file fits “>1MB”.')).toBeTruthy());
  });

  it('lists a folder, what has a star, and what was looked at last', async () => {
    localStorage.clear();
    const { user, address } = await openPage();
    const folders = within(screen.getByRole('treegrid', { name: 'Folders' }));
    const line = (name: RegExp) => folders.getByRole('row', { name });
    expect(folders.getAllByRole('row').map(({ textContent }) => textContent)).toEqual([
      'FolderFiles',
      'Starred1',
      'Looked at last0',
      'All files1 broken5',
      'old1',
      'parts3',
    ]);
    await user.click(line(/^parts/));
    await waitFor(() => expect(paths()).toEqual(['parts/weld.stp', 'parts/torn.stp', 'parts/broken.stp']));
    expect(address()).toContain('folder=parts');
    await user.click(line(/^Starred/));
    await waitFor(() => expect(paths()).toEqual(['parts/weld.stp']));
    expect(table().getByRole('img', { name: 'starred' })).toBeTruthy();
    await user.click(line(/^Looked at last/));
    await waitFor(() => expect(screen.getByText('No file was looked at in this browser yet.')).toBeTruthy());
    await user.click(line(/^All files/));
    await user.click(await table().findByRole('row', { name: /torn/ }));
    await waitFor(() => expect(line(/^Looked at last/).textContent).toBe('Looked at last1'));
    // Away, and there again.
    await user.click(screen.getByRole('button', { name: 'Folders' }));
    await waitFor(() => expect(screen.queryByRole('treegrid')).toBeNull());
    await user.click(screen.getByRole('button', { name: 'Folders' }));
    await screen.findByRole('treegrid', { name: 'Folders' });
  });

  it('shows what files look like, and gives and takes stars', async () => {
    const sent: unknown[] = [];
    const files = FILES.map((file) => ({ ...file, hasPicture: file.path === 'parts/torn.stp', version: 3 }));
    const { user } = renderPage(<FilesScreen files={files} total={files.length} starred={STARRED} />, {
      action: (form) => void sent.push(form),
      loads: ({ pathname }) => (pathname.endsWith('/file-facts') ? FACTS : null),
    });
    const row = await screen.findByRole('row', { name: /torn/ });
    expect([...row.querySelectorAll('img')].map((image) => image.getAttribute('src'))).toEqual([
      '/projects/p/picture?path=parts%2Ftorn.stp&version=3',
    ]);
    await user.click(row);
    expect(
      (await screen.findByRole('img', { name: 'What parts/torn.stp looks like' })).getAttribute('src'),
    ).toBe('/projects/p/picture?path=parts%2Ftorn.stp&version=3');
    await user.click(screen.getByRole('button', { name: 'Star parts/torn.stp' }));
    await waitFor(() => expect(sent).toEqual([{ path: 'parts/torn.stp', starred: 'yes' }]));
    await user.click(screen.getByRole('row', { name: /weld/ }));
    const star = await screen.findByRole('button', { name: 'Star parts/weld.stp' });
    expect(star.getAttribute('aria-pressed')).toBe('true');
    await user.click(star);
    await waitFor(() => expect(sent.at(-1)).toEqual({ path: 'parts/weld.stp', starred: 'no' }));
  });

  it('says that a file of the address is not there any more', async () => {
    renderPage(<FilesScreen files={FILES} total={FILES.length} starred={[]} />, {
      path: '/projects/p/files?sel=gone.stp',
    });
    expect((await screen.findByText(/There is no file/)).textContent).toContain('gone.stp');
  });

  it('filters 5,000 files by path, product and role, with few rows in the document', async () => {
    const many = Array.from({ length: 5000 }, (_, n) => row(`folder-${n % 50}/part-${n}.stp`));
    const { user } = await openPage(many);
    expect(table().getAllByRole('row').length).toBeLessThan(60);
    await user.type(screen.getByRole('textbox', { name: /filter/i }), 'part-4999');
    await waitFor(() => expect(paths()).toEqual(['folder-49/part-4999.stp']));
  });

  it('sends what is picked, into the folder or as the version that was meant', async () => {
    const send = vi.fn();
    const refuse = vi.fn();
    const sending: Sending = { state: { step: 'none' }, send, refuse, stop: () => {} };
    const { user } = await openPage(FILES, { sending });
    const picked = new File(['ISO-10303-21;'], 'a.stp');
    await user.upload(screen.getByTestId('import-files'), [picked, new File(['x'], 'b.stp')]);
    expect(send.mock.lastCall![0].map(({ path }: Upload) => path)).toEqual(['a.stp', 'b.stp']);

    const choose = async (item: string) => {
      fireEvent.contextMenu(screen.getByRole('row', { name: /weld/ }));
      await user.click(await screen.findByRole('menuitem', { name: item }));
    };
    await choose('Import into this folder…');
    await user.upload(screen.getByTestId('import-files'), [picked]);
    expect(send.mock.lastCall![0]).toEqual([{ path: 'parts/a.stp', file: picked }]);
    await choose('New version of this file…');
    await user.upload(screen.getByTestId('import-files'), [picked]);
    expect(send.mock.lastCall![0]).toEqual([{ path: 'parts/weld.stp', file: picked }]);
    await choose('New version of this file…');
    await user.upload(screen.getByTestId('import-files'), [new File(['x'], 'a.svg')]);
    expect(refuse).toHaveBeenCalledWith(
      'a.svg is of another kind than parts/weld.stp. Pick a file that ends in .stp.',
    );
    expect(send).toHaveBeenCalledTimes(3);
  });

  it('attaches what is dropped on a model, after a look; no paper takes anything', async () => {
    const { address, unmount } = await openPage([...FILES, row('weld.pdf', { role: 'document' })]);
    const carried = new Map<string, string>();
    const dataTransfer = {
      get types() {
        return [...carried.keys()];
      },
      setData: (kind: string, data: string) => carried.set(kind, data),
      getData: (kind: string) => carried.get(kind) ?? '',
    };
    fireEvent.dragStart(screen.getByRole('row', { name: /^weld.pdf/ }), { dataTransfer });
    fireEvent.drop(screen.getByRole('row', { name: /^weld.pdf/ }), { dataTransfer });
    expect(address()).not.toContain('attach');
    fireEvent.drop(screen.getByRole('row', { name: /weld\.stp/ }), { dataTransfer });
    await waitFor(() =>
      expect(address()).toBe('/projects/p/attach?what=%5B%22weld.pdf%22%5D&to=parts%2Fweld.stp'),
    );
    unmount();
    await openPage(FILES, { mayEdit: false });
    expect(screen.getByRole('row', { name: /weld\.stp/ }).getAttribute('draggable')).toBeNull();
  });

  it('begins with the import where there is no file yet, and offers a viewer none', async () => {
    const first = await openPage([]);
    expect(screen.getByRole('region', { name: 'Start here' })).toBeTruthy();
    expect(screen.getByText('No file yet. Drop a folder or a zip of linked STEP files here.')).toBeTruthy();
    first.unmount();
    await openPage([], { mayEdit: false });
    expect(screen.queryByRole('region', { name: 'Start here' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Import' })).toBeNull();
  });

  it('offers to stop the preparation of shapes, and to try those that failed again', async () => {
    const first = await openPage(FILES, { shapes: { open: 3, failed: 0, total: 4 } });
    expect(screen.getByRole('button', { name: 'Stop the preparation' })).toBeTruthy();
    first.unmount();
    await openPage(FILES, { shapes: { open: 0, failed: 2, total: 4 } });
    expect(screen.getByRole('button', { name: 'Prepare 2 files again' })).toBeTruthy();
  });
});
