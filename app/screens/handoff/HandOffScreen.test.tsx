import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { HandOffOptions, planHandOff } from '#core/handoff/plan';
import { Refusal } from '#core/refusal';
import { scanFileSet } from '#core/scan/scan';
import { gearUnit } from '#core/testing/projects';
import { structureView } from '#server/views/structure-view';
import { renderPage } from '../../testing/render';
import { HandOffScreen } from './HandOffScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

/** The page over a gear unit, as its loader fills it for the address that it is at. */
async function openPage() {
  const project = await scanFileSet(gearUnit());
  const { scene } = structureView(project, new Map(), 'p', 'unit.stp', true);
  return renderPage((search) => {
    const options = HandOffOptions.parse({
      root: search.get('root') ?? 'unit.stp',
      flatten: search.has('flatten'),
      prefix: search.get('prefix') ?? '',
      suffix: search.get('suffix') ?? '',
      allowBroken: true,
    });
    const shared = { root: options.root, roots: ['unit.stp', 'drive/drive.stp'], scene };
    try {
      const { files, broken, notes, rootInside } = planHandOff(project, options);
      const rows = files.map(({ retargets, ...file }) => ({ ...file, rewrites: retargets.length }));
      return <HandOffScreen {...shared} error={null} plan={{ rootInside, notes, files: rows, broken }} />;
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return <HandOffScreen {...shared} error={error.message} plan={null} />;
    }
  });
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

  it('does not write a package with broken links unless one says so', async () => {
    const { user } = await openPage();
    const button = () => screen.getByRole('button', { name: /package/i });
    expect(button()).toHaveProperty('disabled', true);
    await user.click(screen.getByRole('checkbox', { name: /^Go on with \d+ broken links?$/ }));
    expect(button()).toHaveProperty('disabled', false);
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
    expect((await screen.findByRole('alert')).textContent).toBeTruthy();
    expect(screen.getByText('Set the choices above.')).toBeTruthy();
  });

  it('says what to do when there is no assembly', () => {
    renderPage(<HandOffScreen root={null} roots={[]} scene={null} error={null} plan={null} />);
    expect(screen.getByRole('heading', { name: 'Nothing to hand off yet' })).toBeTruthy();
  });
});
