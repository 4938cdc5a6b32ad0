import { Menu } from '@mantine/core';
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { renderPage } from '../testing/render';
import { Stage } from './Stage';
import type { StageTool } from './stage-tool';
import type { StageCallbacks } from './stage-view';
import type { StageScene } from './types';

/** What the page told the 3D view, and what the view can tell the page. */
const told = vi.hoisted(() => ({ calls: [] as unknown[][], callbacks: null as unknown, fails: false }));

vi.mock('./stage-view', () => ({
  StageView: class {
    shiftOfSelected = [0, 0, 0];
    constructor(_canvas: HTMLCanvasElement, callbacks: unknown) {
      if (told.fails) throw new Error('no WebGL');
      told.callbacks = callbacks;
      // Whatever else is called is noted down.
      // biome-ignore lint/correctness/noConstructorReturn: a stand-in for all methods
      return new Proxy(this, {
        get: (view, name: string) =>
          name in view
            ? Reflect.get(view, name)
            : (...given: unknown[]) => {
                told.calls.push([name, ...given]);
                if (name === 'sectionTowardsEye')
                  return { normal: ['x', 'y', 'z'].map((axis) => (axis === given[0] ? 1 : 0)), at: 5 };
                if (name === 'snapshot') return Promise.resolve(new Blob());
                return name === 'reachAlong' ? [-20, 20] : undefined;
              },
      });
    }
  },
}));

const SCENE: StageScene = {
  bodies: [{ url: 'a', node: '1', colour: null }],
  instances: [
    { row: 0, body: 0, placement: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], name: 'plate' },
  ],
};
const callbacks = () => told.callbacks as StageCallbacks;
const last = (name: string) => told.calls.findLast(([call]) => call === name)?.slice(1);
const openStage = async (props: Partial<React.ComponentProps<typeof Stage>> = {}) => {
  const page = renderPage(<Stage scene={SCENE} sceneKey="a" {...props} />);
  await waitFor(() => expect(last('setScene')).toBeTruthy());
  return page;
};

describe('the stage', () => {
  beforeEach(() => {
    told.calls = [];
    told.fails = false;
  });

  it('hands its tool to the view, and takes it away again', async () => {
    const tool = { takesPointer: false } as StageTool;
    const { rerender } = await openStage({ tool });
    expect(last('setTool')).toEqual([tool]);
    rerender(<p>gone</p>);
    await waitFor(() => expect(last('dispose')).toEqual([]));
  });

  it('shows the scene, and looks at it from where one says', async () => {
    const { user } = await openStage();
    expect(last('setScene')).toEqual([SCENE, false]);
    await user.click(screen.getByRole('button', { name: 'View' }));
    await user.click(await screen.findByRole('menuitem', { name: 'Below' }));
    expect(last('look')).toEqual(['below']);
    await user.click(screen.getByRole('button', { name: 'View' }));
    await user.click(await screen.findByRole('menuitem', { name: 'Previous view' }));
    expect(last('lookBack')).toEqual([]);
    await user.click(screen.getByRole('button', { name: 'Fit all' }));
    expect(last('fit')).toEqual([]);
    await user.click(screen.getByRole('button', { name: 'Show' }));
    await user.click(await screen.findByRole('menuitemcheckbox', { name: 'Edges', checked: true }));
    await waitFor(() => expect(last('setEdges')).toEqual([false]));
    await user.click(screen.getByRole('menuitemcheckbox', { name: /faintly/, checked: false }));
    await waitFor(() => expect(last('setSeeThrough')).toEqual([true]));
  });

  it('looks from where a key says, goes to what is double-clicked, says from where one looks, and gives a picture', async () => {
    const { user } = await openStage();
    const canvas = screen.getByRole('img');
    canvas.focus();
    await user.keyboard('1');
    expect(last('look')).toEqual(['corner']);
    await user.keyboard('6');
    expect(last('look')).toEqual(['top']);
    fireEvent.doubleClick(canvas);
    expect(last('goToUnder')).toHaveLength(1);
    act(() => callbacks().onSeenFrom([0, -1, 0]));
    expect(screen.getByText('Seen from the front')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'View' }));
    await user.click(await screen.findByRole('menuitem', { name: '1920 × 1080' }));
    expect(last('snapshot')).toEqual([[1920, 1080]]);
  });

  it('cuts the model open towards the eye, across another axis, elsewhere, from the other side, and closes it', async () => {
    const { user } = await openStage();
    await user.click(screen.getByRole('button', { name: 'Section' }));
    await waitFor(() => expect(last('setSection')).toEqual([{ normal: [0, 1, 0], at: 5 }]));
    await user.click(await screen.findByRole('radio', { name: 'z' }));
    await waitFor(() => expect(last('setSection')).toEqual([{ normal: [0, 0, 1], at: 5 }]));
    screen.getByRole('slider', { name: 'Where the section lies' }).focus();
    await user.keyboard('{ArrowRight}');
    await waitFor(() => expect(last('setSection')).toEqual([{ normal: [0, 0, 1], at: 5.1 }]));
    const place = screen.getByRole('textbox', { name: 'Where the section lies' });
    await user.clear(place);
    await user.type(place, '-7');
    await waitFor(() => expect(last('setSection')).toEqual([{ normal: [0, 0, 1], at: -7 }]));
    await user.click(screen.getByRole('button', { name: 'Other side' }));
    await waitFor(() => expect(last('setSection')).toEqual([{ normal: [0, 0, -1], at: 7 }]));
    expect((place as HTMLInputElement).value).toBe('-7 mm');
    expect(screen.getByRole('img').getAttribute('aria-label')).toContain('Cut open across z, at -7 mm');
    await user.click(screen.getByRole('button', { name: 'Section', pressed: true }));
    await waitFor(() => expect(last('setSection')).toEqual([null]));
  });

  it('says positions along the axis, whichever side is taken away, also from the middle on', async () => {
    renderPage(<Stage scene={SCENE} sceneKey="a" />, { path: '/projects/p/page?section=-y:0' });
    const place = await screen.findByRole('textbox', { name: 'Where the section lies' });
    fireEvent.change(place, { target: { value: '12' } });
    await waitFor(() => expect(last('setSection')).toEqual([{ normal: [0, -1, 0], at: -12 }]));
    expect((place as HTMLInputElement).value).toBe('12 mm');
  });

  it('cuts along a face that is picked, if it is flat, and picks again what is picked afterwards', async () => {
    const onPick = vi.fn();
    const { user } = await openStage({ onPick });
    await user.click(screen.getByRole('button', { name: 'Section' }));
    await user.click(await screen.findByRole('radio', { name: 'Face' }));
    const face = {
      row: 0,
      name: 'plate',
      point: [3, 4, 9],
      face: 2,
      normal: [0.6, 0.8, 0],
      isFlat: true,
    } as const;
    act(() => callbacks().onPick({ ...face, isFlat: false }, false));
    expect(screen.getByRole('alert').textContent).toBe('That face is not flat.');
    act(() => callbacks().onPick(face, false));
    await waitFor(() => expect(last('setSection')).toEqual([{ normal: [0.6, 0.8, 0], at: 5 }]));
    expect(onPick).not.toHaveBeenCalled();
    act(() => callbacks().onPick(face, false));
    expect(onPick).toHaveBeenCalledWith(face, false);
  });

  it('opens with the section that stands in the address', async () => {
    renderPage(<Stage scene={SCENE} sceneKey="a" />, { path: '/projects/p/page?section=-x:12.5' });
    await waitFor(() => expect(last('setSection')).toEqual([{ normal: [-1, 0, 0], at: 12.5 }]));
  });

  it('opens the menu of what is under the pointer, which is selected then, and of what is selected by a key', async () => {
    const onPick = vi.fn();
    const menu = () => <Menu.Item>Weigh it</Menu.Item>;
    const { user, rerender } = await openStage({ onPick, menu });
    act(() => callbacks().onMenu(null, [10, 10]));
    expect(screen.queryByRole('menuitem')).toBeNull();
    act(() => callbacks().onMenu({ row: 0, name: 'plate' }, [10, 10]));
    await screen.findByRole('menuitem', { name: 'Weigh it' });
    expect(onPick).toHaveBeenCalledWith({ row: 0, name: 'plate' }, false);
    rerender(<p>gone</p>);
    await openStage({ menu, selected: new Set([0]) });
    screen.getByRole('img').focus();
    await user.keyboard('{ContextMenu}');
    await screen.findByRole('menuitem', { name: 'Weigh it' });
  });

  it('is turned, approached and picked on with the keys', async () => {
    const { user } = await openStage();
    screen.getByRole('img', { name: /The model shows 1 body\./ }).focus();
    await user.keyboard('{ArrowLeft}+0{Enter}');
    expect(told.calls.slice(-4)).toEqual([['turn', -10, 0], ['turn', 0, 0, 0.8], ['fit'], ['clickMiddle']]);
  });

  it('says what it is waiting for, and names what is under the pointer', async () => {
    await openStage();
    act(() => callbacks().onLoading(3, 0, null));
    expect(screen.getByRole('status').textContent).toBe('Fetching 3 bodies…');
    act(() => callbacks().onLoading(0, 2, null));
    expect(screen.getByRole('status').textContent).toBe('2 bodies have no picture; the files say why');
    act(() => callbacks().onLoading(0, 0, null));
    act(() => callbacks().onHover({ row: 0, name: 'plate' }));
    expect(screen.getByRole('status').textContent).toBe('plate');
    act(() => callbacks().onLoading(0, 1, 'There is no triangle in the file.'));
    expect(screen.getByRole('status').textContent).toBe('There is no triangle in the file.');
  });

  it('tells bodies that are still being prepared from those that have no picture', async () => {
    const body = { url: null, node: '1', colour: null };
    await openStage({
      scene: {
        ...SCENE,
        bodies: [
          body,
          { ...body, failed: true },
          { ...body, failed: true },
          { ...body, url: 'b', isOlder: true },
        ],
      },
    });
    expect(screen.getByRole('status').textContent).toBe(
      '1 body is still being prepared · 1 body is shown as before until the new picture is made · 2 bodies have no picture; the files say why',
    );
  });

  it('shifts what is selected by numbers, takes what was dragged, and puts all back', async () => {
    const { user } = await openStage({ spreads: true, selected: new Set([0]) });
    await user.click(await screen.findByRole('button', { name: 'Shift' }));
    expect(last('setShifting')).toEqual([true]);
    const along = (axis: string) => screen.getByRole('textbox', { name: `Shift along ${axis}` });
    await user.clear(along('y'));
    await user.type(along('y'), '25');
    await waitFor(() => expect(last('shiftSelected')).toEqual([[0, 25, 0]]));
    act(() => callbacks().onShift([1.25, 25, -3]));
    expect((along('z') as HTMLInputElement).value).toBe('-3 mm');
    await user.click(screen.getByRole('button', { name: 'Put all back' }));
    expect(last('putBack')).toEqual([]);
    expect((along('y') as HTMLInputElement).value).toBe('0 mm');
  });

  it('asks to select something before it can be shifted', async () => {
    const { user } = await openStage({ spreads: true });
    await user.click(await screen.findByRole('button', { name: 'Shift' }));
    expect(screen.getByText('Select what to shift.')).toBeTruthy();
  });

  it('pulls bodies apart with the keys, too', async () => {
    const { user } = await openStage();
    await user.click(screen.getByRole('button', { name: 'Show' }));
    await user.click(await screen.findByRole('menuitemcheckbox', { name: 'Pull apart' }));
    // While the menu is open it takes the focus back.
    await user.keyboard('{Escape}');
    await waitFor(() => expect(document.activeElement).toBe(screen.getByRole('button', { name: 'Show' })));
    screen.getByRole('slider', { name: 'How far the bodies are pulled apart' }).focus();
    await user.keyboard('{ArrowRight}{ArrowRight}');
    await waitFor(() => expect(last('setSpread')).toEqual([0.02]));
  });

  it('tells the page what was picked, and leaves the page usable without WebGL', async () => {
    const onPick = vi.fn();
    const first = await openStage({ onPick });
    act(() => callbacks().onPick({ row: 0, name: 'plate' }, false));
    expect(onPick).toHaveBeenCalledWith({ row: 0, name: 'plate' }, false);
    first.unmount();
    told.fails = true;
    renderPage(<Stage scene={SCENE} sceneKey="a" />);
    expect(await screen.findByText(/This browser cannot draw in 3D/)).toBeTruthy();
  });
});
