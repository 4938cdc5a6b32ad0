import { screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { write } from '#core/change/change-set';
import { sha256 } from '#core/change/file-set';
import { MemoryFileSet } from '#core/change/memory';
import { additionsOf } from '#core/follow/additions';
import { type FollowOutline, outlineFollow } from '#core/follow/outline';
import { planFollow } from '#core/follow/plan';
import { planningOn } from '#core/operation';
import { Part21File } from '#core/part21/file';
import type { Project } from '#core/scan/project';
import { scanFileSet } from '#core/scan/scan';
import { splitChoices } from '#core/split/choices';
import { openSource, outlineSplit, planSplit } from '#core/split/plan';
import { type BoxToWrite, writeBoxPart } from '#core/testing/box-part';
import type { TaskState } from '#server/jobs/tasks';
import { followScene } from '#server/views/follow-view';
import type { Comparison } from '#server/worker/comparison';
import { renderPage } from '../../testing/render';
import { tasksStandIn } from '../../testing/tasks-stand-in';
import { readPaths } from './paths-in-address';
import { SourcesScreen } from './SourcesScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

const weld = (boxes: BoxToWrite[]) => writeBoxPart({ id: 'W', name: 'Weldment', boxes });
const FIRST: BoxToWrite[] = [
  { name: 'plate' },
  { name: 'bar', corner: [30, 0, 0], size: [10, 10, 60] },
  { name: 'clip', corner: [60, 0, 0], size: [5, 6, 7] },
];

/** A part that was split, a newer version of it, and a note that somebody left in one of the components. */
async function behind(): Promise<{ files: MemoryFileSet; project: Project; outline: FollowOutline }> {
  const files = new MemoryFileSet([['weld.stp', weld(FIRST)]]);
  const source = await openSource(files, 'weld.stp');
  const project = await scanFileSet(files);
  const choices = splitChoices();
  await files.apply(
    await planSplit(planningOn(project, files), {
      outline: outlineSplit(project, source, choices, new Map()),
      choices,
    }),
  );
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
  const now = await scanFileSet(files);
  const additions = new Map<string, string[]>();
  for (const path of ['weld/plate.stp', 'weld/bar.stp', 'weld/clip.stp'])
    additions.set(path, additionsOf(Part21File.read(await files.read(path))));
  const outline = outlineFollow(now, await openSource(files, 'weld.stp'), new Map(), (path) => ({
    measured: new Map(),
    additions: additions.get(path)!,
  }));
  return { files, project: now, outline };
}

/** The page as its loader fills it for the address that it is at. */
async function openPage(
  context = {},
  task: (search: URLSearchParams) => Partial<TaskState<Comparison>> = () => ({}),
) {
  const { files, project, outline } = await behind();
  const plans = new Map<string, Awaited<ReturnType<typeof planFollow>>>();
  for (const take of [[], ['weld/bar.stp']])
    for (const removeGone of [true, false])
      plans.set(
        `${take} ${removeGone}`,
        await planFollow(planningOn(project, files), { outline, removeGone, overwrite: new Set(take) }),
      );
  const scene = followScene(project, new Map(), 'p', outline);
  const at = (search: URLSearchParams) => {
    const key = `${[...readPaths(search.get('take'))]} ${search.get('gone') !== 'keep'}`;
    const { summary, warnings, changes } = plans.get(key)!;
    const result: Comparison = {
      lines: outline.lines,
      scene,
      plan: {
        summary,
        warnings,
        created: changes.filter(({ base }) => base === null).length,
        renewed: changes.filter(({ base }) => base !== null).length,
        base: [],
      },
    };
    return (
      <SourcesScreen
        sources={[{ path: 'weld.stp', files: 3, behind: 3 }]}
        source="weld.stp"
        isPreparing={false}
        comparison={{
          task: { ...COMPARED, result, ...task(search) },
          request: {
            source: 'weld.stp',
            removeGone: search.get('gone') !== 'keep',
            take: [...readPaths(search.get('take'))],
            revision: 3,
          },
        }}
      />
    );
  };
  const tasks = tasksStandIn(() => ({ applied: 'c1', summary: 'Followed weld.stp' }));
  vi.stubGlobal('fetch', vi.fn(tasks.answer));
  return { ...renderPage(at, { context }), ...tasks };
}

const COMPARED: TaskState<Comparison> = {
  id: '0',
  kind: 'comparison',
  state: 'done',
  doing: '',
  done: 1,
  total: 1,
  result: null,
  error: null,
};

const row = (name: RegExp) => screen.getByRole('row', { name });

describe('the sources page', () => {
  afterEach(() => vi.unstubAllGlobals());

  it('lists what became of every body, and what will change', async () => {
    await openPage();
    expect(row(/plate/).textContent).toMatch(/^changed/);
    expect(row(/bar/).textContent).toMatch(/^left as it is.*bar\.stp/);
    expect(row(/clip/).textContent).toMatch(/^gone/);
    expect(screen.getByText(/^2 changed, 1 gone:/)).toBeTruthy();
    expect(screen.getByText(/weld\/bar\.stp is left as it is\. It has additions of its own/)).toBeTruthy();
  });

  it('takes a component from the source all the same when one says so, and leaves it again', async () => {
    const { user, asked } = await openPage();
    await user.click(row(/bar/));
    await user.click(await screen.findByRole('button', { name: 'Take it from the source' }));
    expect(await screen.findByText(/weld\/bar\.stp loses what was changed in it/)).toBeTruthy();
    expect(row(/bar/).textContent).toMatch(/^taken anew/);
    await user.click(screen.getByRole('button', { name: 'Leave it as it is' }));
    expect(await screen.findByText(/weld\/bar\.stp is left as it is/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Take it from the source' }));
    await user.click(screen.getByRole('button', { name: 'Bring up to date' }));
    expect(await screen.findByText('Done: Followed weld.stp.')).toBeTruthy();
    expect(asked).toEqual([
      {
        kind: 'follow',
        request: { source: 'weld.stp', removeGone: true, take: ['weld/bar.stp'], base: [] },
      },
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

  it('cuts the tie of one file or of all', async () => {
    const { user, asked } = await openPage();
    await user.click(row(/plate/));
    await user.click(screen.getByRole('button', { name: 'Cut the tie' }));
    await user.click(await screen.findByRole('menuitem', { name: 'Only weld/plate.stp' }));
    await waitFor(() =>
      expect(asked).toEqual([{ kind: 'cut-tie', request: { source: 'weld.stp', file: 'weld/plate.stp' } }]),
    );
  });

  it('keeps what it shows while another choice is compared, and says how far that is', async () => {
    const { user, asked, cancelled } = await openPage({}, (search) =>
      search.has('gone') ? { state: 'running', result: null } : {},
    );
    asked.push({ kind: 'comparison', request: {} });
    await user.click(screen.getByRole('checkbox', { name: 'Keep what is gone' }));
    expect(await screen.findByText('Waiting for the job worker…')).toBeTruthy();
    expect(row(/plate/).textContent).toMatch(/^changed/);
    expect(screen.queryByRole('button', { name: 'Bring up to date' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    await waitFor(() => expect(cancelled).toEqual(['0']));
  });

  it('says why it could not compare, and does it again', async () => {
    const { user, asked } = await openPage({}, () => ({
      state: 'failed',
      result: null,
      error: 'weld.stp cannot be read.',
    }));
    expect(screen.getAllByText('weld.stp cannot be read.').length).toBeGreaterThan(0);
    await user.click(screen.getByRole('button', { name: 'Compare again' }));
    await waitFor(() => expect(asked).toMatchObject([{ kind: 'comparison', request: { revision: 3 } }]));
  });

  it('lets a viewer look only', async () => {
    const { user } = await openPage({ mayEdit: false });
    expect(screen.getByRole('button', { name: 'Bring up to date' })).toHaveProperty('disabled', true);
    await user.click(row(/bar/));
    expect(screen.queryByRole('button', { name: 'Take it from the source' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Cut the tie' })).toBeNull();
  });

  it('says so when no file came out of another', () => {
    renderPage(<SourcesScreen sources={[]} source={null} comparison={null} isPreparing={false} />);
    expect(screen.getByRole('heading', { name: 'No file came out of another' })).toBeTruthy();
  });
});
