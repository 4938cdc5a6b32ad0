import { describe, expect, it } from 'vitest';
import type { SceneData } from '#core/geometry/scene';
import type { LitePreview } from '#core/jobs/lite/view';
import { toggledFace } from '../giving/kept-faces';
import { byHand, byPreset, firstChoices, forgetting, isOn, switched } from './choices';
import { sceneAfter, sceneBefore } from './scenes';

describe('the choices of a lite model', () => {
  it('begin with what is safe; steps are switched one by one', () => {
    const first = firstChoices();
    expect(first).toMatchObject({
      smallerThan: 2,
      hidden: true,
      seen: 'keep',
      off: ['standard', 'material', 'slender', 'round', 'forget'],
    });
    expect(switched(first, 'size', false).off).toContain('size');
    expect(switched(switched(first, 'size', false), 'size', true).off).toEqual(first.off);
    // A preset that knows nothing of rings: the switch is all there is to choose.
    const preset = byPreset(first, { smallerThan: 3 });
    expect([isOn(preset, 'round'), isOn(switched(preset, 'round', true), 'round')]).toEqual([false, true]);
    expect(isOn(switched(first, 'round', true), 'round')).toBe(true);
    expect(byPreset({ ...first, keep: ['x'] }, { smallerThan: 3 })).toMatchObject({
      smallerThan: 3,
      keep: ['x'],
    });
  });

  it('keep and let go of faces, and of components by hand', () => {
    const face = { file: 'a.stp', face: 7, name: '', trace: null };
    const kept = toggledFace([], face);
    expect(kept).toEqual([face]);
    expect(toggledFace(kept, { ...face, face: 8 })).toHaveLength(2);
    expect(toggledFace(kept, { ...face, name: 'again' })).toEqual([]);
    const out = byHand(firstChoices(), ['x', 'y'], 'leave out');
    expect(out).toMatchObject({ without: ['x', 'y'], keep: [] });
    expect(byHand(out, ['x'], 'keep')).toMatchObject({ without: ['y'], keep: ['x'] });
    expect(byHand(out, ['x', 'y'], 'as the steps say')).toMatchObject({ without: [], keep: [] });
  });

  it('forget one thing, not all that was set up, when that is the remedy', () => {
    const once = forgetting(firstChoices(), 'names');
    expect([once.off.includes('forget'), once.forget]).toEqual([false, ['names']]);
    expect(forgetting(once, 'ids').forget).toEqual(['names', 'ids']);
  });
});

describe('the two stages', () => {
  const scene: SceneData = {
    bodies: [
      { url: '/a', node: '1', colour: '#112233' },
      { url: '/b', node: '2', colour: null },
    ],
    instances: [0, 1, 1].map((body, row) => ({ row, body, placement: [], name: `${row}` })),
  };
  const preview = {
    fates: [null, 'hidden', null],
    filled: [
      { row: 0, body: { url: '/filled', node: '1', colour: null } },
      { row: 2, body: { url: '/filled', node: '2', colour: null } },
    ],
  } as unknown as LitePreview;

  it('show what goes faintly before, and after only what is left, filled, in its colour', () => {
    expect(sceneBefore(scene, preview).instances.map(({ tone }) => tone)).toEqual([
      undefined,
      'faint',
      undefined,
    ]);
    const after = sceneAfter(scene, preview);
    expect(
      after.instances.map(({ row, body }) => [row, after.bodies[body]!.url, after.bodies[body]!.colour]),
    ).toEqual([
      [0, '/filled', '#112233'],
      [2, '/filled', null],
    ]);
    expect(sceneAfter(scene, null)).toBe(scene);
  });
});
