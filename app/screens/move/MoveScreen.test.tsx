import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { scanFileSet } from '#core/project/scan/scan';
import { gearUnit } from '#core/testing/projects';
import { operationsStandIn } from '../../testing/operations-stand-in';
import { press, renderPage } from '../../testing/render';
import { withPaths } from '../../ui/address/paths-in-address';
import { DRAGGED } from './dragged';
import { MoveScreen } from './MoveScreen';

async function openPage(what: string[], context = {}) {
  const files = gearUnit();
  const operations = operationsStandIn(files);
  vi.stubGlobal('fetch', operations.answer);
  const paths = (await files.list()).map(({ path }) => path);
  const page = renderPage(<MoveScreen paths={paths} />, { path: withPaths('p', 'move', what), context });
  return { ...page, ...operations, files };
}
const to = (path: string) => screen.getByRole('textbox', { name: `New path of ${path}` }) as HTMLInputElement;
const pathsOf = async (files: Awaited<ReturnType<typeof openPage>>['files']) =>
  (await files.list()).map(({ path }) => path);

describe('the page that renames and moves', () => {
  it('takes a typed path, says how many links follow, and carries it out', async () => {
    const { user, files } = await openPage(['parts/housing.stp', 'drive']);
    expect(screen.getByRole('button', { name: 'Move 0 files' })).toHaveProperty('disabled', true);
    await user.clear(to('drive'));
    await user.type(to('drive'), 'gear');
    expect(await screen.findByText('1 file gets another path, and keeps its versions.')).toBeTruthy();
    expect(await screen.findByText(/1 link in 1 file will be written anew/)).toBeTruthy();
    await press(user, 'Rename 1 file');
    expect(await screen.findByText('Done: Renamed drive to gear.')).toBeTruthy();
    expect(await pathsOf(files)).toContain('gear/drive.stp');
    expect((await scanFileSet(files)).uses.get('unit.stp')![0]).toMatchObject({
      to: 'gear/drive.stp',
      state: 'sound',
    });
  });

  it('renames many by a pattern, and moves all into a folder that is clicked, or one that is dropped', async () => {
    const { user } = await openPage(['parts/housing.stp', 'parts/base.stp']);
    await user.type(screen.getByRole('textbox', { name: 'Prefix' }), 'x-');
    expect([to('parts/housing.stp').value, to('parts/base.stp').value]).toEqual([
      'parts/x-housing.stp',
      'parts/x-base.stp',
    ]);
    await user.click(screen.getByRole('button', { name: 'std' }));
    expect(to('parts/base.stp').value).toBe('std/x-base.stp');
    const dataTransfer = { types: [DRAGGED], getData: () => 'parts/base.stp' };
    fireEvent.drop(screen.getByRole('button', { name: 'The top folder' }), { dataTransfer });
    await waitFor(() => expect(to('parts/base.stp').value).toBe('x-base.stp'));
    expect(to('parts/housing.stp').value).toBe('std/x-housing.stp');
    await user.click(screen.getByRole('button', { name: 'As they were' }));
    expect(to('parts/base.stp').value).toBe('parts/base.stp');
  });

  it('marks what cannot be, and takes the proposals', async () => {
    const { user, files } = await openPage(['std/washer.stp']);
    fireEvent.change(to('std/washer.stp'), { target: { value: 'bought/washer.stp' } });
    expect(
      await screen.findByText('bought/washer.stp: Another file has this path. bought/washer-2.stp would do.'),
    ).toBeTruthy();
    expect(to('std/washer.stp').getAttribute('aria-invalid')).toBe('true');
    await user.click(screen.getByRole('button', { name: 'Take the proposed paths' }));
    await press(user, 'Move 1 file');
    await screen.findByText(/^Done: Moved std\/washer\.stp/);
    expect(await pathsOf(files)).toContain('bought/washer-2.stp');
  });

  it('asks where an ending is dropped, and takes it when it is meant', async () => {
    const { user, files } = await openPage(['std/washer.stp']);
    fireEvent.change(to('std/washer.stp'), { target: { value: 'std/washer-new' } });
    expect(await screen.findByText(/The ending \.stp is gone.*std\/washer-new\.stp would do/)).toBeTruthy();
    await user.click(screen.getByRole('checkbox', { name: 'Names without an ending are meant so' }));
    await press(user, 'Rename 1 file');
    await screen.findByText(/^Done: /);
    expect(await pathsOf(files)).toContain('std/washer-new');
  });

  it('lets a viewer look, and says what to do when nothing is chosen', async () => {
    await openPage(['unit.stp'], { mayEdit: false });
    expect(to('unit.stp').disabled).toBe(true);
    renderPage(<MoveScreen paths={[]} />);
    expect(screen.getByRole('heading', { name: 'Nothing chosen to rename or move' })).toBeTruthy();
  });
});
