import { screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { rankCandidates, rankSteps } from '#core/jobs/repair/rank';
import { splitChoices } from '#core/jobs/split/choices';
import { openSource, outlineSplit, planSplit } from '#core/jobs/split/plan';
import { planningOn } from '#core/planning';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { atOnce } from '#core/steps';
import { writeBoxPart } from '#core/testing/box-part';
import { gearUnit } from '#core/testing/projects';
import { repairTableSteps } from '#server/views/operations/repair-table';
import { findBroken, keyOfLink, previewSteps, queueSteps } from '#server/views/operations/repair-view';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage } from '../../testing/render';
import { RepairScreen } from './RepairScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

/** A weldment that was split and then renamed. */
async function renamedSource(): Promise<MemoryFileSet> {
  const boxes = [
    { name: 'plate' },
    { name: 'bar', corner: [30, 0, 0] as const, size: [10, 10, 60] as const },
  ];
  const files = new MemoryFileSet([['weld.stp', writeBoxPart({ id: 'W', name: 'Weldment', boxes })]]);
  const project = await scanFileSet(files);
  const outline = outlineSplit(project, await openSource(files, 'weld.stp'), splitChoices(), new Map());
  await files.apply(await planSplit(planningOn(project, files), { outline, choices: splitChoices() }));
  const { sha256: base } = (await files.list()).find(({ path }) => path === 'weld.stp')!;
  await files.apply({
    summary: '',
    changes: [{ action: 'move', path: 'weld.stp', to: 'weld r2.stp', base }],
    rewires: [],
    warnings: [],
  });
  return files;
}

/** The page over a gear unit with broken links, as its loader fills it for the address that it is at. */
async function openPage(
  context = {},
  files: MemoryFileSet = gearUnit(),
  path = '/projects/p/repair',
  loads?: (url: URL) => unknown,
) {
  const project = await scanFileSet(files);
  const queue = atOnce(queueSteps(project));
  const table = atOnce(repairTableSteps(project, atOnce(rankSteps(project)), null));
  const states = new Map<string, React.ComponentProps<typeof RepairScreen>['current']>();
  for (const { key } of queue) {
    const link = findBroken(project, key)!;
    const candidates = rankCandidates(project, link);
    for (const chosen of [undefined, ...candidates.map(({ path }) => path)]) {
      const path = chosen ?? candidates.find(({ unusable }) => unusable === null)?.path ?? null;
      states.set(`${key} ${chosen ?? ''}`, {
        key: keyOfLink(link),
        candidates,
        chosen: path,
        all: true,
        scene: atOnce(previewSteps(project, new Map(), 'p', link, path)),
      });
    }
  }
  const at = (search: URLSearchParams) => {
    const key = search.get('link') ?? queue[0]!.key;
    const current = states.get(`${key} ${search.get('candidate') ?? ''}`) ?? null;
    return (
      <RepairScreen
        queue={queue}
        table={search.get('as') === 'together' ? table : null}
        toRenew={2}
        files={9}
        current={current && { ...current, all: !search.has('only') }}
      />
    );
  };
  const operations = operationsStandIn(files);
  vi.stubGlobal('fetch', operations.answer);
  const page = renderPage(at, { context, path, loads });
  await waitFor(() => expect(screen.getByRole('button', { name: /^Repair/ })).toBeTruthy());
  return { ...page, ...operations, files, queue };
}

const candidates = (options = {}) =>
  within(screen.getByRole('radiogroup', { name: 'Candidates' })).getAllByRole('radio', options);

describe('the repair desk', () => {
  it('shows every broken link with its reason, and the files that may be meant with the evidence', async () => {
    const { queue } = await openPage();
    expect(queue.length).toBeGreaterThan(0);
    expect(screen.getByRole('heading', { name: new RegExp(`^${queue.length} broken links?$`) })).toBeTruthy();
    expect(screen.getAllByRole('listitem').length).toBeGreaterThanOrEqual(queue.length);
    const first = candidates()[0]!;
    expect(first.getAttribute('aria-checked')).toBe('true');
    expect(first.textContent).toMatch(/almost certain/);
  });

  it('repairs nothing while another link that was asked for is on its way', async () => {
    let arrives = (): void => undefined;
    const { user, asked } = await openPage({}, gearUnit(), undefined, (url) =>
      url.searchParams.has('link') ? new Promise<void>((resolve) => (arrives = resolve)) : null,
    );
    const repair = () => screen.getByRole('button', { name: /^Repair/ });
    await waitFor(() => expect(repair()).toHaveProperty('disabled', false));
    await user.click(screen.getByRole('button', { name: /^WASHER/ }));
    await user.click(repair());
    arrives();
    await screen.findByRole('radio', { name: /std\/washer\.stp/ });
    await press(user, 'Repair the link');
    expect(asked.filter(({ intent }) => intent === 'apply')).toMatchObject([
      { choices: { set: [{ written: '../norm/washer.stp' }] } },
    ]);
  });

  it('says in words what will be written, before it is', async () => {
    const { user, asked, files } = await openPage();
    await user.click(screen.getByRole('button', { name: /^LID/ }));
    await screen.findByRole('radio', { name: /parts\/lid_rev-b\.stp/ });
    expect(await screen.findByText('..\\parts\\lid.stp', { selector: '.muted' })).toBeTruthy();
    expect(screen.getByText('..\\parts\\lid_rev-b.stp')).toBeTruthy();
    await press(user, 'Repair the link');
    expect(await screen.findByText('Done: Repaired 1 link in drive/drive.stp.')).toBeTruthy();
    expect(asked.at(-1)).toMatchObject({
      intent: 'apply',
      operation: 'repair',
      choices: {
        set: [
          {
            holder: 'drive/drive.stp',
            kind: 'component',
            written: '..\\parts\\lid.stp',
            target: 'parts/lid_rev-b.stp',
          },
        ],
        alike: true,
      },
    });
    expect(screen.getByRole('button', { name: 'Undo' })).toBeTruthy();
    expect((await scanFileSet(files)).links.find(({ written }) => written.includes('lid'))).toMatchObject({
      to: 'parts/lid_rev-b.stp',
      state: 'sound',
    });
  });

  it('takes another candidate into the address and onto the stage', async () => {
    const { user, address } = await openPage();
    await user.click(screen.getByRole('button', { name: /^WASHER/ }));
    await screen.findByRole('heading', { name: /Which file is\s*washer/ });
    const others = candidates().filter(
      (radio) => radio.getAttribute('aria-checked') === 'false' && !radio.hasAttribute('disabled'),
    );
    const words = others[0]!.textContent;
    await user.click(others[0]!);
    await waitFor(() => expect(address()).toContain('candidate='));
    await waitFor(() =>
      expect(candidates({ checked: true }).map(({ textContent }) => textContent)).toEqual([words]),
    );
  });

  it('repairs all links to a source that was renamed at once, and shows what came out of it', async () => {
    const { user } = await openPage({}, await renamedSource());
    const queue = () => within(screen.getByRole('list', { name: 'Broken links' })).getAllByRole('listitem');
    expect(queue()).toHaveLength(1);
    expect(queue()[0]!.textContent).toMatch(/The source.*Of \S+\.stp and 2 more files\./);
    expect(candidates()[0]!.textContent).toMatch(/weld r2\.stp.*The very version that/);
    expect(screen.getByText(/, with what \S+\.stp came out of$/)).toBeTruthy();
    expect(await screen.findByRole('button', { name: 'Repair 3 links' })).toBeTruthy();
    await user.click(screen.getByRole('checkbox', { name: 'All 3 links to this name' }));
    await waitFor(() => expect(queue()).toHaveLength(3));
  });

  it('repairs all that are clear in one change, with ticks and other files as they were chosen', async () => {
    const { user, asked, files, queue } = await openPage({}, gearUnit(), '/projects/p/repair?as=together');
    expect(screen.getAllByRole('row')).toHaveLength(queue.length + 1);
    const plan = () => asked.filter(({ intent }) => intent === 'plan').at(-1)?.choices as { set: unknown[] };
    const clear = screen.getByRole('checkbox', { name: /^All \d+ links? that (is|are) clear$/ });
    expect((clear as HTMLInputElement).checked).toBe(true);
    await waitFor(() =>
      expect(plan().set).toMatchObject([
        { written: '..\\parts\\lid.stp', target: 'parts/lid_rev-b.stp' },
        {},
      ]),
    );
    await user.click(clear);
    expect(screen.getByText(`0 of ${queue.length} links ticked`)).toBeTruthy();
    expect(await screen.findByText('Tick the links that are to be repaired.')).toBeTruthy();
    await user.click(screen.getByRole('checkbox', { name: /^Repair LID in / }));
    // Another file than the one that is proposed, for the link that is selected.
    await user.click(screen.getByRole('row', { name: /WASHER/ }));
    await screen.findByRole('heading', { name: /Which file is\s*washer/ });
    const [, other] = candidates().filter((radio) => !radio.hasAttribute('disabled'));
    await user.click(other!);
    await waitFor(() => expect(plan().set).toHaveLength(2));
    await press(user, 'Repair 2 links');
    expect(await screen.findByText(/^Repaired 2 links in /)).toBeTruthy();
    const after = (await scanFileSet(files)).links;
    expect(
      after.filter(({ written }) => /lid|washer/i.test(written)).every(({ state }) => state === 'sound'),
    ).toBe(true);
  });

  it('lets a viewer see the plan and not carry it out', async () => {
    await openPage({ mayEdit: false });
    expect(screen.getByRole('button', { name: /^Repair/ })).toHaveProperty('disabled', true);
  });

  it('does not call a project ready that has no file', () => {
    renderPage(<RepairScreen queue={[]} table={null} current={null} toRenew={0} files={0} />);
    expect(screen.getByRole('heading', { name: 'Nothing to look through yet' })).toBeTruthy();
    expect(screen.queryByRole('link', { name: 'Go to Hand-off' })).toBeNull();
  });

  it('says that every link is sound when none is broken', () => {
    renderPage(<RepairScreen queue={[]} table={null} current={null} toRenew={1} files={9} />);
    expect(screen.getByRole('heading', { name: 'Every link is sound' })).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Go to Hand-off' }).getAttribute('href')).toBe(
      '/projects/p/hand-off',
    );
    expect(screen.getByText(/1 file writes links in a form/).textContent).toContain(
      'other programs pass over',
    );
    expect(screen.getByRole('link', { name: 'Renew how links are written' }).getAttribute('href')).toBe(
      '/projects/p/renew',
    );
  });
});
