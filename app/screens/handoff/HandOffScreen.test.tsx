import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { scanFileSet } from '#core/project/scan/scan';
import { atOnce } from '#core/steps';
import { gearUnit } from '#core/testing/projects';
import { structureViewSteps } from '#server/views/structure/structure-view';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { renderPage } from '../../testing/render';
import { HandOffScreen } from './HandOffScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

/** The page over a gear unit, with real plans. */
async function openPage(context = {}, search = '') {
  const files = gearUnit();
  const { scene } = atOnce(
    structureViewSteps(await scanFileSet(files), new Map(), 'p', { root: 'unit.stp', grouped: true }),
  );
  vi.stubGlobal('fetch', operationsStandIn(files).answer);
  const page = renderPage(
    <HandOffScreen
      root="unit.stp"
      roots={['unit.stp', 'drive/drive.stp']}
      scene={scene}
      lighter={[]}
      done={[]}
    />,
    { context, path: `/projects/p/hand-off${search}` },
  );
  await screen.findByRole('row', { name: /housing\.stp/ });
  return page;
}

describe('the hand-off page', () => {
  it('lists what goes in and why, and what would be missing', async () => {
    await openPage();
    expect(screen.getByRole('row', { name: /housing\.stp/ })).toBeTruthy();
    expect(screen.queryByRole('row', { name: /lid_rev-b/ })).toBeNull();
    const broken = screen.getByRole('region', { name: 'Broken links' });
    expect(broken.textContent).toContain('lid.stp');
    expect(screen.getByText(/^A zip of \d+ files, .* Start with unit\.stp\.$/)).toBeTruthy();
    expect(screen.getByText(/The files of this project are not touched\.$/)).toBeTruthy();
  });

  it('leads from a file that goes in to its place', async () => {
    await openPage();
    fireEvent.contextMenu(screen.getAllByRole('row', { name: /drive\.stp/ })[0]!);
    const leads = async (name: string) =>
      (await screen.findByRole('menuitem', { name })).getAttribute('href');
    expect(await leads('Show it in Files')).toBe('/projects/p/files?sel=drive%2Fdrive.stp');
    expect(await leads('Open its structure')).toBe('/projects/p/structure?root=drive%2Fdrive.stp');
    expect(await leads('Download')).toBe('/projects/p/latest?path=drive%2Fdrive.stp');
  });

  it('does not write a package with broken links unless one says so', async () => {
    // Whoever may look may have a package: it changes nothing.
    const { user } = await openPage({ mayEdit: false });
    const button = () => screen.getByRole('button', { name: /package/i });
    expect(button()).toHaveProperty('disabled', true);
    await user.click(screen.getByRole('checkbox', { name: /^Go on with \d+ broken links?$/ }));
    await waitFor(() => expect(button()).toHaveProperty('disabled', false));
  });

  it('shows the names inside as the choices are made', async () => {
    const { user } = await openPage();
    await user.type(screen.getByRole('textbox', { name: 'Prefix' }), 'HX-');
    await waitFor(() => expect(screen.getByRole('row', { name: /HX-housing\.stp/ })).toBeTruthy());
    await user.click(screen.getByRole('switch', { name: 'All in one folder' }));
    await waitFor(() => expect(screen.getByText(/Start with HX-unit\.stp\./)).toBeTruthy());
    expect(screen.getByText(/the links between them are rewritten to fit/)).toBeTruthy();
  });

  it('refuses names that cannot be, in words', async () => {
    const { user } = await openPage();
    await user.type(screen.getByRole('textbox', { name: 'Suffix' }), '/');
    expect((await screen.findByRole('alert')).textContent).toMatch(/^The suffix cannot be used/);
  });

  it('packs several files together, of which each can be left out', async () => {
    const also = ['parts/lid_rev-b.stp', 'std/washer.stp'];
    const { user, address } = await openPage({}, `?also=${encodeURIComponent(JSON.stringify(also))}`);
    expect((await screen.findByRole('row', { name: /lid_rev-b/ })).textContent).toContain('Chosen besides');
    await user.click(screen.getByRole('button', { name: 'Leave out parts/lid_rev-b.stp' }));
    await waitFor(() => expect(screen.queryByRole('row', { name: /lid_rev-b/ })).toBeNull());
    expect(decodeURIComponent(address())).toContain('also=["std/washer.stp"]');
    expect(screen.getByRole('row', { name: /washer/ })).toBeTruthy();
  });

  it('says what to do when there is no assembly', () => {
    renderPage(<HandOffScreen root={null} roots={[]} scene={null} lighter={[]} done={[]} />);
    expect(screen.getByRole('heading', { name: 'Nothing to hand off yet' })).toBeTruthy();
  });
});
