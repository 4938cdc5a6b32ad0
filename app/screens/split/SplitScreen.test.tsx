import { screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { openSource } from '#core/jobs/split/plan';
import { MemoryFileSet } from '#core/project/change/memory';
import type { MadeBefore } from '#core/project/scan/made-before';
import { scanFileSet } from '#core/project/scan/scan';
import { type BoxToWrite, writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { splitView } from '#server/views/operations/split-view';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage, selectRow } from '../../testing/render';
import { SplitScreen } from './SplitScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

const BOXES: BoxToWrite[] = [
  { name: 'plate' },
  { name: 'bar', corner: [30, 0, 0], size: [10, 10, 60], colour: '#336699' },
  { name: 'lug', corner: [60, 0, 0], size: [10, 20, 30] },
  { name: 'clip', corner: [90, 0, 0], size: [5, 6, 7] },
];
const madeFiles = () =>
  new MemoryFileSet([
    ['frame/weld.stp', writeBoxPart({ id: 'W', name: 'Weldment', boxes: BOXES })],
    ['unit.stp', testAssembly('UNIT', [{ written: 'frame/weld.stp', id: 'W' }])],
  ]);

/** The page over real files and plans. @param state in which a split is found that was asked for, in place of its result */
async function openPage(context: object = {}, state?: object, before: MadeBefore | null = null) {
  const files = madeFiles();
  const project = await scanFileSet(files);
  const source = await openSource(files, 'frame/weld.stp');
  const { sha256 } = project.files.get('frame/weld.stp')!;
  const facts = BOXES.map(({ corner = [0, 0, 0], size = [10, 10, 10] }, n) => ({
    body: source.bodies[n]!.id,
    facts: {
      volume: size[0] * size[1] * size[2],
      area: 1,
      centre: [0, 0, 0] as [number, number, number],
      moments: [1, 1, 1] as [number, number, number],
      box: [...corner, ...size.map((side, axis) => corner[axis]! + side)] as never,
      boxTolerance: 0,
      faces: 6,
    },
  }));
  const measured = new Map(facts.map(({ body, facts: own }) => [body, { facts: own }]));
  const shape = { sha256, state: 'done' as const, done: 4, total: 4, gltf: 'x', bodies: facts, error: null };
  const operations = operationsStandIn(files, { context: { measured: async () => measured }, state });
  vi.stubGlobal(
    'fetch',
    async (address: string, init?: RequestInit) =>
      (await operations.answer(address, init)) ?? Response.json({ check: null }),
  );
  const page = renderPage(
    <SplitScreen
      before={before}
      {...splitView(project, new Map([[sha256, shape]]), 'p', 'frame/weld.stp')}
    />,
    { context },
  );
  await screen.findByDisplayValue('plate');
  return { ...page, ...operations, files };
}

const nameField = (n: number) =>
  screen.getByRole<HTMLInputElement>('textbox', { name: `Name of component ${n}` });
const shownNames = () =>
  screen
    .getAllByRole('textbox', { name: /^Name of component/ })
    .map((field) => (field as HTMLInputElement).value);
const labels = () => screen.getAllByTestId('label').map(({ textContent }) => textContent);
const plan = () => within(screen.getByRole('region', { name: 'What will change' }));

describe('the split page', () => {
  beforeEach(() => vi.useRealTimers());

  it('shows every body as a component, on the stage and in the table, and what will change', async () => {
    await openPage();
    expect(shownNames()).toEqual(['plate', 'bar', 'lug', 'clip']);
    expect(labels()).toEqual(['plate', 'bar', 'lug', 'clip']);
    expect(plan().getByText(/4 bodies of 4 shapes: 4 new files in/)).toBeTruthy();
    expect(plan().getByText('weld.stp stays as it is.')).toBeTruthy();
    expect(screen.getByRole('row', { name: /bar\.stp/ }).textContent).toContain('60 × 10 × 10');
    expect(screen.getByRole('button', { name: 'Split off 4 bodies' })).toHaveProperty('disabled', false);
  });

  it('is typed in like a spreadsheet: Enter and arrows move on, Escape takes back, a column is pasted', async () => {
    const { user } = await openPage();
    await user.click(nameField(1));
    await user.clear(nameField(1));
    await user.keyboard('Grundplatte{Enter}');
    await waitFor(() => expect(labels()[0]).toBe('Grundplatte'));
    expect(document.activeElement).toBe(nameField(2));
    await user.keyboard('nonsense{Escape}{ArrowDown}');
    expect(document.activeElement).toBe(nameField(3));
    await user.keyboard('{ArrowUp}{ArrowUp}');
    expect(document.activeElement).toBe(nameField(1));
    await user.click(nameField(2));
    await user.paste('rail\t12\r\near\r\n');
    await waitFor(() => expect(labels()).toEqual(['Grundplatte', 'rail', 'ear', 'clip']));
    expect(screen.getAllByTestId('label').map(({ dataset }) => dataset.tone)).toEqual([
      'typed',
      'typed',
      'typed',
      undefined,
    ]);
  });

  it('is walked and ticked by keys: Space leaves a row out, Enter types its name, H hides it', async () => {
    const { user } = await openPage();
    const tick = (name: string) =>
      (screen.getByRole('checkbox', { name: `Split off ${name}` }) as HTMLInputElement).checked;
    await selectRow(user, /bar\.stp/);
    screen.getByTestId('ledger').focus();
    await user.keyboard(' ');
    await waitFor(() => expect(tick('bar')).toBe(false));
    await user.keyboard(' ');
    await waitFor(() => expect(tick('bar')).toBe(true));
    await user.keyboard('h');
    await waitFor(() => expect(screen.getByRole('button', { name: 'Body bar' }).dataset.hidden).toBe('true'));
    await user.keyboard('h{Enter}');
    await waitFor(() => expect(document.activeElement).toBe(nameField(2)));
    await user.keyboard('h {Escape}');
    expect(nameField(2).value).toBe('bar');
    await user.keyboard('{Escape}');
    expect(document.activeElement).toBe(screen.getByTestId('ledger'));
    await user.keyboard('{Enter}');
    await waitFor(() => expect(document.activeElement).toBe(nameField(2)));
  });

  it('takes all bodies into the split or leaves all out; a tick counts for all selected rows', async () => {
    const { user } = await openPage();
    const all = () => screen.getByRole('checkbox', { name: 'Split off all bodies' }) as HTMLInputElement;
    expect(all().checked).toBe(true);
    await user.click(all());
    await waitFor(() => expect(all().checked).toBe(false));
    expect((await plan().findByRole('alert')).textContent).toBe('No body is chosen.');
    await selectRow(user, /bar\.stp/);
    await user.keyboard('{Control>}');
    await selectRow(user, /clip\.stp/);
    await user.keyboard('{/Control}');
    await user.click(screen.getByRole('checkbox', { name: 'Split off clip' }));
    expect(await plan().findByText(/^2 bodies of 2 shapes/)).toBeTruthy();
    expect(all().indeterminate).toBe(true);
  });

  it('marks a name that cannot be at once, and takes the proposal', async () => {
    const { user } = await openPage();
    await user.clear(nameField(4));
    await user.type(nameField(4), 'a/b?{Enter}');
    await waitFor(() => expect(nameField(4).getAttribute('aria-invalid')).toBe('true'));
    expect(screen.getByRole('button', { name: 'Split off 4 bodies' })).toHaveProperty('disabled', true);
    expect(plan().getByText(/would do\.$/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Take the proposed names' }));
    await waitFor(() => expect(nameField(4).getAttribute('aria-invalid')).toBe('false'));
    await waitFor(() => expect(shownNames()[3]).toMatch(/^a[^/?]b[^/?]*$/));
  });

  it('renames many at once: those that are selected, or all that the filter leaves', async () => {
    const { user } = await openPage();
    await user.type(screen.getByRole('textbox', { name: /filter/i }), 'lug');
    await waitFor(() => expect(shownNames()).toEqual(['lug']));
    await user.clear(screen.getByRole('textbox', { name: /filter/i }));
    await waitFor(() => expect(shownNames()).toHaveLength(4));
    await user.click(screen.getByRole('button', { name: 'Rename many' }));
    await user.type(await screen.findByRole('textbox', { name: 'Prefix' }), 'HX-');
    await user.type(screen.getByRole('textbox', { name: 'Find' }), 'L');
    await user.type(screen.getByRole('textbox', { name: 'Replace with' }), 'll');
    await user.click(screen.getByRole('button', { name: 'Rename 4 components' }));
    await waitFor(() => expect(shownNames()).toEqual(['HX-pllate', 'HX-bar', 'HX-llug', 'HX-cllip']));
  });

  it('leaves a body out, and says what stays in the source', async () => {
    const { user } = await openPage();
    await user.click(screen.getByRole('checkbox', { name: 'Split off lug' }));
    await screen.findByRole('button', { name: 'Split off 3 bodies' });
    expect(screen.getByRole('row', { name: /lug/ }).textContent).toContain('stays in the source');
    await user.click(screen.getByRole('checkbox', { name: 'Split off lug' }));
    await screen.findByRole('button', { name: 'Split off 4 bodies' });
  });

  it('makes several bodies one component, and takes it apart', async () => {
    const { user } = await openPage();
    await selectRow(user, /plate\.stp/);
    await user.keyboard('{Control>}');
    await selectRow(user, /lug\.stp/);
    await user.keyboard('{/Control}');
    await user.click(await screen.findByRole('button', { name: 'Make 2 bodies one component' }));
    await waitFor(() => expect(shownNames()).toEqual(['plate', 'bar', 'clip']));
    expect(plan().getByText(/4 bodies of 3 components/)).toBeTruthy();
    await user.click(screen.getByRole('row', { name: /plate\.stp/ }));
    await user.click(await screen.findByRole('button', { name: 'Take the component apart' }));
    await waitFor(() => expect(shownNames()).toHaveLength(4));
  });

  it('shows what is picked: lit, with its facts; alone, when asked for', async () => {
    const { user } = await openPage();
    await user.click(screen.getByRole('button', { name: 'Body bar' }));
    await waitFor(() =>
      expect(screen.getByRole('button', { name: 'Body bar' }).getAttribute('aria-pressed')).toBe('true'),
    );
    expect(screen.getByText('6.00 cm³, 60 × 10 × 10 mm, 6 faces')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Show alone' }));
    expect(screen.getByRole('button', { name: 'Body lug' }).dataset.hidden).toBe('true');
    await user.click(screen.getByRole('button', { name: 'Show alone' }));
    expect(document.querySelectorAll('[data-hidden=true]')).toHaveLength(0);
    expect(screen.getByRole('link', { name: 'Cut this body' }).getAttribute('href')).toMatch(
      /\/projects\/p\/cut\?file=frame%2Fweld\.stp&body=\d+/,
    );
    await user.click(screen.getByRole('button', { name: 'Beside the model' }));
    await waitFor(() => expect(screen.queryByText(/cm³, 60/)).toBeNull());
  });

  it('hides what is in the way, row by row, and shows it again', async () => {
    const { user } = await openPage();
    const hidden = () =>
      [...document.querySelectorAll('[data-hidden=true]')].map((body) => body.getAttribute('aria-label'));
    await user.click(screen.getByRole('button', { name: 'Body bar' }));
    await press(user, 'Hide');
    await waitFor(() => expect(hidden()).toEqual(['Body bar']));
    await user.click(screen.getByRole('button', { name: 'Body lug' }));
    await press(user, 'Hide');
    await waitFor(() => expect(hidden()).toHaveLength(2));
    await selectRow(user, /bar\.stp/);
    await press(user, 'Show');
    await waitFor(() => expect(hidden()).toEqual(['Body lug']));
    await press(user, 'Show all (1 hidden)');
    await waitFor(() => expect(hidden()).toEqual([]));
  });

  it('weighs the bodies once they have a material', async () => {
    const { user } = await openPage();
    await user.click(screen.getByRole('combobox', { name: 'Material of all bodies' }));
    await user.click(await screen.findByRole('option', { name: /^Steel/ }));
    expect(await screen.findByRole('columnheader', { name: 'Mass' })).toBeTruthy();
    // 6 cm³ of steel at 7.85 g/cm³.
    expect(screen.getByRole('row', { name: /bar\.stp/ }).textContent).toMatch(/47(\.1)? g/);
  });

  it('carries out what it shows, says so, and offers to take it back', async () => {
    const { user, asked, files } = await openPage();
    await user.clear(nameField(2));
    await user.type(nameField(2), 'rail{Enter}');
    await waitFor(() => expect(labels()[1]).toBe('rail'));
    await press(user, 'Split off 4 bodies');
    await plan().findByText('Done: Split 4 bodies of weld.stp into 4 files in frame/weld.');
    const { choices } = asked.at(-1)!;
    expect(choices).toMatchObject({ file: 'frame/weld.stp', names: { [bodyOf({ choices })]: 'rail' } });
    expect((await files.list()).map(({ path }) => path)).toContain('frame/weld/rail.stp');
    expect(plan().getByText(/Measuring the new files/)).toBeTruthy();
    expect(plan().getByRole('link', { name: 'Open the assembly' }).getAttribute('href')).toBe(
      '/projects/p/structure?root=frame%2Fweld%2Fweld-assembly.stp',
    );
    // Done is done until another choice is made; just the same once more is asked about.
    expect(screen.queryByRole('button', { name: 'Split off 4 bodies' })).toBeNull();
    await user.click(plan().getByRole('button', { name: 'Once more' }));
    expect(
      await plan().findByText(/Splitting again makes a second set of files: is that meant\?/),
    ).toBeTruthy();
    await user.click(plan().getByRole('button', { name: 'Undo the split' }));
    await waitFor(() => expect(plan().queryByText(/is that meant/)).toBeNull());
  });

  it('shows how far a split is, and stops it', async () => {
    const { user, cancelled } = await openPage(
      {},
      { state: 'running', doing: 'Writing bar', done: 1, total: 4 },
    );
    await press(user, 'Split off 4 bodies');
    expect(await plan().findByText('Writing bar…')).toBeTruthy();
    expect(screen.getByRole('progressbar', { name: 'Splitting' }).getAttribute('aria-valuenow')).toBe('25');
    await user.click(plan().getByRole('button', { name: 'Cancel' }));
    await waitFor(() => expect(cancelled).toEqual(['operation 1']));
    expect(await screen.findByRole('button', { name: 'Split off 4 bodies' })).toBeTruthy();
    expect(plan().queryByRole('button', { name: 'Undo the split' })).toBeNull();
  });

  it('says why a split was refused, and keeps the plan', async () => {
    const { user } = await openPage({}, { state: 'failed', error: 'frame/weld.stp has changed since.' });
    await press(user, 'Split off 4 bodies');
    expect((await plan().findByRole('alert')).textContent).toBe('frame/weld.stp has changed since.');
    expect(plan().getByText(/4 bodies of 3 shapes|4 bodies of 4 shapes/)).toBeTruthy();
  });

  it('says what becomes of the source, by choice', async () => {
    const { user } = await openPage();
    await user.click(screen.getByRole('combobox', { name: 'The source' }));
    await user.click(await screen.findByRole('option', { name: 'Gives way to the assembly' }));
    expect(await plan().findByText('unit.stp will use the new assembly in its place.')).toBeTruthy();
    await user.click(screen.getByRole('combobox', { name: 'Result' }));
    await user.click(await screen.findByRole('option', { name: 'One assembly file' }));
    expect(await plan().findByText(/one new file/)).toBeTruthy();
  });

  it('says that it was split before, and splits again when somebody wants just that', async () => {
    const before = {
      operation: 'split',
      source: 'frame/weld.stp',
      files: ['frame/weld-assembly.stp', 'frame/weld/plate.stp'],
      opens: 'frame/weld-assembly.stp',
      behind: 1,
    };
    const { user } = await openPage({}, undefined, before);
    const words = 'This was done before: 2 files came out of it; one of them is behind its newest version.';
    expect(await plan().findByText(words)).toBeTruthy();
    const to = (name: string) => plan().getByRole('link', { name }).getAttribute('href');
    expect(to('Open')).toBe('/projects/p/structure?root=frame%2Fweld-assembly.stp');
    expect(to('Bring up to date')).toBe('/projects/p/sources?source=frame%2Fweld.stp');
    expect(plan().queryByRole('button', { name: /^Split/ })).toBeNull();
    await press(user, 'Again, as new files');
    await press(user, 'Split off 4 bodies');
    expect(await plan().findByText(/^Done: /)).toBeTruthy();
  });

  it('lets a viewer look and change nothing', async () => {
    await openPage({ mayEdit: false });
    expect(nameField(1)).toHaveProperty('disabled', true);
    const apply = screen.getByRole('button', { name: 'Split off 4 bodies' });
    expect(apply).toHaveProperty('disabled', true);
    expect(screen.getByText('You may look at this project, not change it.')).toBeTruthy();
  });

  it('says so when there is nothing to split', async () => {
    const none = splitView(await scanFileSet(new MemoryFileSet([])), new Map(), 'p', null);
    renderPage(<SplitScreen before={null} {...none} />);
    expect(screen.getByRole('heading', { name: 'Nothing to split' })).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Go to Files' }).getAttribute('href')).toBe('/projects/p/files');
  });
});

function bodyOf({ choices }: Record<string, unknown>): string {
  return Object.keys((choices as { names: object }).names)[0]!;
}
