import { act, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { placementOf } from '#core/product/turns';
import type { HandMotion } from '../../stage/hand-tool';
import type { LaidFace } from '../../stage/lay-tool';
import { renderAsking } from '../../testing/asking';
import { ReplaceScreen } from '../replace/ReplaceScreen';
import { PlaceScreen } from './PlaceScreen';

vi.mock('../../stage/Stage', () => import('../../testing/stage-stand-in'));

type ByHand = Parameters<typeof import('../../stage/useHand').useHand>;
/** What the page told its tool of the stage last. */
const hand = vi.hoisted(() => ({ now: undefined as ByHand | undefined }));
vi.mock('../../stage/useHand', () => ({
  useHand: (...told: ByHand) => {
    hand.now = told;
    return null;
  },
}));
const heldByHand = () => hand.now![1];
const byHand = () => hand.now![2];
const plane = (z: number, up: 1 | -1): LaidFace => ({
  face: { kind: 'plane', area: 1, at: [0, 0, z], normal: [0, 0, up] },
  point: [5, 6, z],
  normal: [0, 0, up],
});

const occurrence = (key: string, name: string) => ({
  key,
  name,
  depth: 0,
  component: Number(key) + 1,
  componentName: name,
  parent: 5,
  file: null,
  holds: 0,
});
const VIEW = {
  file: 'unit/top.stp',
  files: ['unit/top.stp'],
  occurrences: [occurrence('10', 'Bolt'), occurrence('20', 'Pin')],
  assemblies: [
    { definition: 5, name: 'Top', placed: 1 },
    { definition: 11, name: 'Bolt', placed: 2 },
  ],
  scene: { bodies: [{ colour: '#336699' }], instances: [] } as never,
  rows: [
    { key: '', parent: -1 },
    { key: '10', parent: 0 },
    { key: '20', parent: 0 },
  ],
  placements: { 10: placementOf([1, 2, 3], [0, 0, 90]), 20: placementOf([0, 0, 0], [0, 0, 0]) },
  parts: [{ path: 'std/washer.stp', name: 'Washer' }],
  part: null,
};

const instance = { row: 3, body: 0, name: 'Washer', placement: placementOf([0, 0, 0], [0, 0, 0]) };

function openPage(path: string, page = <PlaceScreen {...VIEW} />, context = {}) {
  return renderAsking(page, path, context);
}
const row = (name: RegExp) =>
  within(screen.getByRole('treegrid', { name: 'Components of the assembly' })).getByRole('row', { name });
const field = (name: string) => screen.getByRole('textbox', { name }) as HTMLInputElement;

describe('the page of placing components', () => {
  it('places a file into an assembly, where it is typed', async () => {
    const { user, asked } = openPage('/projects/p/place');
    expect(asked()).toEqual([]);
    await user.click(screen.getByRole('combobox', { name: 'File' }));
    await user.click(screen.getByRole('option', { name: 'Washer · std/washer.stp' }));
    await user.click(screen.getByRole('combobox', { name: 'Into' }));
    await user.click(screen.getByRole('option', { name: 'Bolt (placed 2 times)' }));
    await user.type(field('Position z'), '7{Enter}');
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        operation: 'place',
        choices: {
          file: 'unit/top.stp',
          part: 'std/washer.stp',
          into: '11',
          position: [0, 0, 7],
          turn: [0, 0, 0],
        },
      }),
    );
  });

  it('begins with where the one stands that is chosen, and shifts several', async () => {
    const { user, asked } = openPage('/projects/p/place?do=set-placement&components=5:11');
    expect(field('Position y').value).toBe('2 mm');
    expect(field('Turn z').value).toBe('90°');
    // It stands there already.
    expect(asked()).toEqual([]);
    await user.keyboard('{Control>}');
    await user.click(row(/Pin/));
    await user.keyboard('{/Control}');
    await user.type(field('Shift x'), '4{Enter}');
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        operation: 'set-placement',
        choices: {
          file: 'unit/top.stp',
          occurrences: ['10', '20'],
          position: [4, 0, 0],
          turn: [0, 0, 0],
          relative: true,
        },
      }),
    );
  });

  it('shifts by hand what is chosen: the fields follow, and the plan comes when it is let go', async () => {
    const { user, asked } = openPage('/projects/p/place?do=set-placement&components=5:11');
    await user.click(await screen.findByRole('radio', { name: 'Shift' }));
    expect(screen.getByText('Drag an arrow.')).toBeTruthy();
    expect(heldByHand()!.rows).toEqual(new Set([1]));
    const by: HandMotion = {
      shift: [0, 7.5, 0],
      step: 0.1,
      turn: null,
      motion: placementOf([0, 7.5, 0], [0, 0, 0]),
    };
    act(() => byHand().onMove(by, false));
    expect(field('Position y').value).toBe('9.5 mm');
    expect(screen.getByText('7.5 mm along y')).toBeTruthy();
    expect(asked()).toEqual([]);
    act(() => byHand().onMove(by, true));
    await waitFor(() =>
      expect(asked()).toMatchObject([{ operation: 'set-placement', choices: { position: [1, 9.5, 3] } }]),
    );
    // Several go together.
    await user.keyboard('{Control>}');
    await user.click(row(/Pin/));
    await user.keyboard('{/Control}');
    expect(heldByHand()!.rows).toEqual(new Set([1, 2]));
    expect(screen.getByRole('radio', { name: 'Turn' })).toHaveProperty('disabled', true);
  });

  it('lays a face on another, and turns it over', async () => {
    const { user, asked } = openPage('/projects/p/place?do=set-placement&components=5:21');
    await user.click(await screen.findByRole('radio', { name: 'Lay on a face' }));
    expect(screen.getByText('Click a face of Pin, then the one that it is laid on.')).toBeTruthy();
    act(() => byHand().onFace(plane(40, 1), false));
    expect(screen.getByText('First a face of Pin.')).toBeTruthy();
    act(() => byHand().onFace(plane(-2, -1), true));
    expect(screen.getByText('Now the face that it is laid on.')).toBeTruthy();
    act(() => byHand().onFace(plane(40, 1), false));
    expect(await screen.findByText('Laid: plane on plane.')).toBeTruthy();
    await waitFor(() =>
      expect(asked().at(-1)).toMatchObject({ choices: { position: [0, 0, 42], turn: [0, 0, 0] } }),
    );
    await user.click(screen.getByRole('button', { name: 'Turn over' }));
    // About the point that was picked: what was below is above.
    await waitFor(() => expect(asked().at(-1)).toMatchObject({ choices: { position: [10, 0, 38] } }));
    await user.click(screen.getByRole('button', { name: 'Turn over' }));
    await waitFor(() => expect(asked().at(-1)).toMatchObject({ choices: { position: [0, 0, 42] } }));
  });

  it('stands a file that is placed on a face, in an assembly that is turned', async () => {
    const part = { path: 'std/washer.stp', name: 'Washer', instances: [instance] };
    const rows = [...VIEW.rows, { key: '', parent: -1 }];
    const page = <PlaceScreen {...VIEW} rows={rows} part={part} />;
    const { user, asked } = openPage('/projects/p/place?part=std/washer.stp', page);
    await user.click(screen.getByRole('combobox', { name: 'Into' }));
    await user.click(screen.getByRole('option', { name: 'Bolt (placed 2 times)' }));
    await user.click(await screen.findByRole('radio', { name: 'Lay on a face' }));
    act(() => byHand().onFace(plane(40, 1), false));
    expect(await screen.findByText('It stands on the plane.')).toBeTruthy();
    await waitFor(() =>
      expect(asked().at(-1)).toMatchObject({
        operation: 'place',
        choices: { into: '11', position: [4, -4, 37], turn: [0, 0, 0] },
      }),
    );
    act(() => byHand().onFace({ ...plane(0, 1), face: { kind: 'free', area: 1, surface: 'spline' } }, true));
    act(() => byHand().onFace(plane(40, 1), false));
    expect(await screen.findByText(/^A plane lies on a plane/)).toBeTruthy();
  });

  it('places a file where another component stands, in its assembly', async () => {
    const { user, asked } = openPage('/projects/p/place?part=std/washer.stp');
    await user.click(row(/Bolt/));
    await user.click(screen.getByRole('button', { name: 'As Bolt stands' }));
    await waitFor(() =>
      expect(asked().at(-1)).toMatchObject({
        operation: 'place',
        choices: { into: '5', position: [1, 2, 3], turn: [0, 0, 90] },
      }),
    );
  });

  it('has nothing in hand for whoever may only look', () => {
    openPage('/projects/p/place?do=set-placement&components=5:11', <PlaceScreen {...VIEW} />, {
      mayEdit: false,
    });
    expect(heldByHand()).toBeNull();
    expect(screen.queryByRole('radio', { name: 'Shift' })).toBeNull();
  });

  it('asks for a row when its step is typed, and for a circle', async () => {
    const { user, asked } = openPage('/projects/p/place?do=place-again');
    await user.click(row(/Pin/));
    expect(asked()).toEqual([]);
    await user.type(field('From one to the next x'), '20{Enter}');
    await waitFor(() =>
      expect(asked().at(-1)).toMatchObject({ choices: { occurrences: ['20'], count: 2, step: [20, 0, 0] } }),
    );
    await user.click(screen.getByRole('radio', { name: 'Circle' }));
    await user.type(field('In all'), '6{Enter}');
    await waitFor(() =>
      expect(asked().at(-1)).toMatchObject({
        choices: { count: 6, around: { axis: [0, 0, 1], through: [0, 0, 0], angle: 360 } },
      }),
    );
  });

  it('lets a viewer look', () => {
    openPage('/projects/p/place', undefined, { mayEdit: false });
    expect(field('Position x').disabled).toBe(true);
  });
});

describe('the page of replacing a component', () => {
  it('asks when both are chosen, for one place or everywhere', async () => {
    const page = <ReplaceScreen {...VIEW} />;
    const { user, asked } = openPage('/projects/p/replace?components=5:21', page);
    expect(asked()).toEqual([]);
    await user.click(screen.getByRole('combobox', { name: 'By the file' }));
    await user.click(screen.getByRole('option', { name: 'Washer · std/washer.stp' }));
    await user.click(
      screen.getByRole('checkbox', { name: 'Wherever the project places the same component' }),
    );
    await waitFor(() =>
      expect(asked().at(-1)).toEqual({
        operation: 'replace',
        choices: {
          file: 'unit/top.stp',
          occurrences: ['20'],
          part: 'std/washer.stp',
          everywhere: true,
          fit: false,
        },
      }),
    );
  });
});
