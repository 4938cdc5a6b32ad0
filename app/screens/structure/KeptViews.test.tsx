import { screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { KeptView } from '#core/project/formats/kept-views';
import { scanFileSet } from '#core/project/scan/scan';
import { atOnce } from '#core/steps';
import { gearUnit } from '#core/testing/projects';
import { structureViewSteps } from '#server/views/structure/structure-view';
import { renderPage } from '../../testing/render';
import { namePaths } from './name-paths';
import { StructureScreen } from './StructureScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

const VIEW: KeptView = {
  name: 'Open',
  root: 'drive/drive.stp',
  single: true,
  hidden: [],
  section: '-y:12.5',
  colours: 'link',
  eye: '1,2,3,4,5,6',
};

/** The structure page, which fetches what its address says. */
async function openPage(search: string, views = [VIEW]) {
  const project = await scanFileSet(gearUnit());
  const viewOf = (root: string | null, grouped: boolean) =>
    atOnce(structureViewSteps(project, new Map(), 'p', { root, grouped }));
  const paths = namePaths(viewOf(VIEW.root, false).rows);
  const hidden = [paths[1]!, `${paths[0]}/GONE`];
  const page = renderPage(
    (now) => (
      <StructureScreen
        {...viewOf(now.get('root'), !now.has('single'))}
        views={views.map((view) => ({ ...view, hidden }))}
      />
    ),
    { path: `/projects/p/structure${search}` },
  );
  await screen.findByRole('treegrid', { name: 'Structure' });
  return page;
}

describe('a kept view', () => {
  it('brings its assembly, what is hidden as far as that is there, the section, the colours and the eye', async () => {
    const { address } = await openPage('?view=Open');
    await waitFor(() => expect(address()).not.toContain('view='));
    const now = new URL(address(), 'http://stone.test').searchParams;
    expect(Object.fromEntries(now)).toEqual({
      root: 'drive/drive.stp',
      single: '1',
      hidden: expect.stringMatching(/^0\.\d+$/),
      section: '-y:12.5',
      colours: 'link',
      eye: '1,2,3,4,5,6',
    });
    expect(screen.getByText('1 row hidden')).toBeTruthy();
    const table = within(screen.getByRole('treegrid', { name: 'Structure' }));
    expect(table.getAllByRole('row')[1]!.textContent).toContain('DRIVE');
  });

  it('that is not there any more is said, and nothing else changes', async () => {
    const { address } = await openPage('?view=Else');
    expect((await screen.findByText(/No view is called/)).textContent).toContain('“Else”');
    expect(address()).toContain('view=Else');
  });
});
