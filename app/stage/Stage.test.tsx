import { act, screen, waitFor } from '@testing-library/react';
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
                return name === 'sectionTowardsEye' ? { axis: given[0], at: 0.5, flipped: false } : undefined;
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
    await user.click(screen.getByRole('button', { name: 'Top' }));
    expect(last('look')).toEqual(['top']);
    await user.click(screen.getByRole('button', { name: 'Fit all' }));
    expect(last('fit')).toEqual([]);
    await user.click(screen.getByRole('button', { name: 'Edges', pressed: true }));
    await waitFor(() => expect(last('setEdges')).toEqual([false]));
  });

  it('cuts the model open towards the eye, across another axis, from the other side, and closes it', async () => {
    const { user } = await openStage();
    await user.click(screen.getByRole('button', { name: 'Section' }));
    await waitFor(() => expect(last('setSection')).toEqual([{ axis: 'y', at: 0.5, flipped: false }]));
    await user.click(screen.getByRole('radio', { name: 'z' }));
    await waitFor(() => expect(last('setSection')).toEqual([{ axis: 'z', at: 0.5, flipped: false }]));
    screen.getByRole('slider', { name: 'Where the section lies' }).focus();
    await user.keyboard('{ArrowRight}');
    await waitFor(() => expect(last('setSection')).toEqual([{ axis: 'z', at: 0.505, flipped: false }]));
    await user.click(screen.getByRole('button', { name: 'Other side' }));
    await waitFor(() => expect(last('setSection')).toEqual([{ axis: 'z', at: 0.505, flipped: true }]));
    await user.click(screen.getByRole('button', { name: 'Section', pressed: true }));
    await waitFor(() => expect(last('setSection')).toEqual([null]));
  });

  it('says what it is waiting for, and names what is under the pointer', async () => {
    await openStage();
    act(() => callbacks().onLoading(3, 0));
    expect(screen.getByRole('status').textContent).toBe('Fetching 3 bodies…');
    act(() => callbacks().onLoading(0, 2));
    expect(screen.getByRole('status').textContent).toBe('2 bodies have no picture; the files say why');
    act(() => callbacks().onLoading(0, 0));
    act(() => callbacks().onHover({ row: 0, name: 'plate' }));
    expect(screen.getByRole('status').textContent).toBe('plate');
  });

  it('says how many bodies are still being prepared', async () => {
    await openStage({ scene: { ...SCENE, bodies: [{ url: null, node: '1', colour: null }] } });
    expect(screen.getByRole('status').textContent).toBe('1 body is still being prepared');
  });

  it('shifts what is selected by numbers, takes what was dragged, and puts all back', async () => {
    const { user } = await openStage({ spreads: true, selected: new Set([0]) });
    await user.click(screen.getByRole('button', { name: 'Shift' }));
    expect(last('setShifting')).toEqual([true]);
    const along = (axis: string) => screen.getByRole('textbox', { name: `Shift along ${axis}, mm` });
    await user.clear(along('y'));
    await user.type(along('y'), '25');
    await waitFor(() => expect(last('shiftSelected')).toEqual([[0, 25, 0]]));
    act(() => callbacks().onShift([1.25, 25, -3]));
    expect((along('z') as HTMLInputElement).value).toBe('-3');
    await user.click(screen.getByRole('button', { name: 'Put all back' }));
    expect(last('putBack')).toEqual([]);
    expect((along('y') as HTMLInputElement).value).toBe('0');
  });

  it('asks to select something before it can be shifted', async () => {
    const { user } = await openStage({ spreads: true });
    await user.click(screen.getByRole('button', { name: 'Shift' }));
    expect(screen.getByText('Select what to shift.')).toBeTruthy();
  });

  it('pulls bodies apart with the keys, too', async () => {
    const { user } = await openStage({ spreads: true });
    screen.getByRole('slider', { name: 'How far the bodies are pulled apart' }).focus();
    await user.keyboard('{ArrowRight}{ArrowRight}');
    await waitFor(() => expect(last('setSpread')).toEqual([0.02]));
  });

  it('tells the page what was picked, and leaves the page usable without WebGL', async () => {
    const onPick = vi.fn();
    const first = await openStage({ onPick });
    act(() => callbacks().onPick({ row: 0, name: 'plate' }));
    expect(onPick).toHaveBeenCalledWith({ row: 0, name: 'plate' });
    first.unmount();
    told.fails = true;
    renderPage(<Stage scene={SCENE} sceneKey="a" />);
    expect(await screen.findByText(/This browser cannot draw in 3D/)).toBeTruthy();
  });
});
