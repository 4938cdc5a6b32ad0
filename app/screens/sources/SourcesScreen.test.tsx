import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { splitChoices } from '#core/jobs/split/choices';
import { tiesTo } from '#core/jobs/split/newer/ties';
import { openSource, outlineSplit, planSplit } from '#core/jobs/split/plan';
import { planningOn } from '#core/planning';
import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { type BoxToWrite, writeBoxPart } from '#core/testing/box-part';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage } from '../../testing/render';
import { SourcesScreen } from './SourcesScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

const weld = (boxes: BoxToWrite[]) => writeBoxPart({ id: 'W', name: 'Weldment', boxes });
const FIRST: BoxToWrite[] = [
  { name: 'plate' },
  { name: 'bar', corner: [30, 0, 0], size: [10, 10, 60] },
  { name: 'clip', corner: [60, 0, 0], size: [5, 6, 7] },
];

/** A part that was split, a newer version of it, and a note that somebody left in one of the components. */
async function behind(): Promise<MemoryFileSet> {
  const files = new MemoryFileSet([['weld.stp', weld(FIRST)]]);
  const source = await openSource(files, 'weld.stp');
  const project = await scanFileSet(files);
  const choices = splitChoices();
  const outline = outlineSplit(project, source, choices, new Map());
  await files.apply(await planSplit(planningOn(project, files), { outline, choices }));
  const bar = await files.read('weld/bar.stp');
  const noted = Buffer.from(bar)
    .toString('latin1')
    .replace('ENDSEC;\nEND-', "#9999=DESCRIPTIVE_REPRESENTATION_ITEM('note','x');\nENDSEC;\nEND-");
  const newer = weld([FIRST[0]!, { ...FIRST[1]!, size: [10, 10, 66] }]);
  await files.apply({
    summary: '',
    changes: [
      write('weld/bar.stp', sha256(bar), Buffer.from(noted, 'latin1')),
      write('weld.stp', sha256(await files.read('weld.stp')), newer),
    ],
    rewires: [],
    warnings: [],
  });
  return files;
}

/** The page over real files and plans. @param state in which every comparison is found */
async function openPage(context = {}, state?: object) {
  const files = await behind();
  const operations = operationsStandIn(files, { state, slow: ['follow'] });
  vi.stubGlobal('fetch', operations.answer);
  const sources = [{ path: 'weld.stp', files: 3, behind: 3 }];
  const page = renderPage(<SourcesScreen sources={sources} source="weld.stp" isPreparing={false} />, {
    context,
  });
  if (!state) await screen.findByRole('row', { name: /plate/ });
  return { ...page, ...operations, files };
}

const row = (name: RegExp) => screen.getByRole('row', { name });

describe('the sources page', () => {
  it('lists what became of every body, and what will change', async () => {
    await openPage();
    expect(row(/plate/).textContent).toMatch(/^changed/);
    expect(row(/bar/).textContent).toMatch(/^left as it is.*bar\.stp/);
    expect(row(/clip/).textContent).toMatch(/^gone/);
    expect(screen.getByText(/^2 changed, 1 gone:/)).toBeTruthy();
    expect(screen.getByText(/weld\/bar\.stp is left as it is\. It has additions of its own/)).toBeTruthy();
  });

  it('takes a component from the source all the same when one says so, and leaves it again', async () => {
    const { user, asked, files } = await openPage();
    await user.click(row(/bar/));
    await user.click(await screen.findByRole('button', { name: 'Take it from the source' }));
    expect(await screen.findByText(/weld\/bar\.stp loses what was changed in it/)).toBeTruthy();
    expect(row(/bar/).textContent).toMatch(/^taken anew/);
    await user.click(screen.getByRole('button', { name: 'Leave it as it is' }));
    expect(await screen.findByText(/weld\/bar\.stp is left as it is/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Take it from the source' }));
    await screen.findByText(/weld\/bar\.stp loses what was changed in it/);
    await press(user, 'Bring up to date');
    expect(await screen.findByText(/^Done: Brought up to date with weld\.stp: 2 changed/)).toBeTruthy();
    expect(asked.at(-1)).toMatchObject({
      intent: 'apply',
      operation: 'follow',
      choices: { source: 'weld.stp', removeGone: true, take: ['weld/bar.stp'] },
    });
    expect(tiesTo(await scanFileSet(files), 'weld.stp').components.map(({ path }) => path)).toEqual([
      'weld/plate.stp',
      'weld/bar.stp',
    ]);
  });

  it('asks what becomes of bodies that are gone', async () => {
    const { user } = await openPage();
    expect(screen.getByText(/What is gone from the source leaves the assembly/)).toBeTruthy();
    await user.click(screen.getByRole('checkbox', { name: 'Keep what is gone' }));
    expect(await screen.findByText(/What is gone from the source stays in the assembly/)).toBeTruthy();
  });

  it('lights a body on the stage when its row is selected, and the row when the body is picked', async () => {
    const { user, address } = await openPage();
    await user.click(row(/plate/));
    await waitFor(() =>
      expect(screen.getByRole('button', { name: 'Body plate' }).getAttribute('aria-pressed')).toBe('true'),
    );
    await user.click(screen.getByRole('button', { name: 'Body bar' }));
    await waitFor(() => expect(row(/bar/).getAttribute('aria-selected')).toBe('true'));
    expect(decodeURIComponent(address())).toContain('sel=weld/bar.stp:');
    expect(screen.getByRole('link', { name: 'Open bar.stp' }).getAttribute('href')).toBe(
      '/projects/p/files?sel=weld%2Fbar.stp',
    );
  });

  it('detaches one file or all, after showing which', async () => {
    const { user, asked, files } = await openPage();
    await user.click(row(/plate/));
    await user.click(screen.getByRole('button', { name: 'Detach' }));
    await user.click(await screen.findByRole('menuitem', { name: 'Only weld/plate.stp' }));
    expect(await screen.findByText(/1 file stays as it is/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Back to following' }));
    await user.click(await screen.findByRole('button', { name: 'Detach' }));
    await user.click(await screen.findByRole('menuitem', { name: 'All 3 files' }));
    await press(user, 'Detach 4 files');
    expect(await screen.findByText('Done: Detached 4 files from weld.stp.')).toBeTruthy();
    expect(asked.at(-1)).toMatchObject({ operation: 'detach', choices: { source: 'weld.stp', files: null } });
    expect((await scanFileSet(files)).usedBy.get('weld.stp')).toBeUndefined();
  });

  it('says how far a comparison is, stops it, and looks again', async () => {
    const { user, asked, cancelled } = await openPage(
      {},
      { state: 'running', doing: 'Comparing the files with their source', done: 1, total: 4 },
    );
    expect(await screen.findByRole('progressbar', { name: 'Looking at what changes' })).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Bring up to date' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    await waitFor(() => expect(cancelled).toEqual(['operation 1']));
    expect(screen.getByText('It was stopped.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Look again' }));
    await waitFor(() => expect(asked).toHaveLength(2));
  });

  it('says why it could not compare', async () => {
    await openPage({}, { state: 'failed', error: 'weld.stp cannot be read.' });
    expect((await screen.findAllByText('weld.stp cannot be read.')).length).toBeGreaterThan(0);
    expect(screen.getByRole('button', { name: 'Look again' })).toBeTruthy();
  });

  it('lets a viewer look only', async () => {
    const { user } = await openPage({ mayEdit: false });
    expect(screen.getByRole('button', { name: 'Bring up to date' })).toHaveProperty('disabled', true);
    await user.click(row(/bar/));
    expect(screen.queryByRole('button', { name: 'Take it from the source' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Detach' })).toBeNull();
  });

  it('says so when no file came out of another', () => {
    renderPage(<SourcesScreen sources={[]} source={null} isPreparing={false} />);
    expect(screen.getByRole('heading', { name: 'No file came out of another' })).toBeTruthy();
  });
});
