import { describe, expect, it } from 'vitest';
import { splitChoices } from '#core/jobs/split/choices';
import type { SplitComponentView } from '#core/jobs/split/view';
import type { SplitBody } from '#server/views/operations/split-view';
import { labelsOf, sceneInChosenColours } from './picture';

const body = (id: number, colour: string | null): SplitBody => ({
  id,
  name: `body ${id}`,
  kind: 'solid',
  colour,
  volume: null,
  size: null,
  faces: null,
  error: null,
  doubt: null,
});
const component = (name: string, bodies: number[], problem: string | null = null): SplitComponentView => ({
  name,
  file: `${name}.stp`,
  problem,
  proposal: null,
  bodies,
  mirrorOf: null,
  isJoined: false,
});
const BODIES = [body(7, '#111111'), body(8, null), body(9, null)];

describe('the picture of a split', () => {
  it('shows a chosen colour on the whole body, and all others as the source has them', () => {
    const faceColours = { of: 6, others: [{ colour: '#ff0000', faces: [1] }] };
    const scene = {
      bodies: [
        { url: 'a', node: '7', colour: '#111111', faceColours },
        { url: 'a', node: '8', colour: null, faceColours },
      ],
      instances: [],
    };
    expect(sceneInChosenColours(scene, BODIES, { 7: '#00ff00' }).bodies).toEqual([
      { url: 'a', node: '7', colour: '#00ff00' },
      { url: 'a', node: '8', colour: null, faceColours },
    ]);
  });

  it('labels every body with the name of its component, typed or impossible as it is', () => {
    const components = [component('plate', [0, 2]), component('', [1], 'A name is needed.')];
    expect(labelsOf(components, BODIES, splitChoices({ names: { 7: 'plate' } }))).toEqual([
      { row: 0, text: 'plate', name: 'plate', tone: 'typed' },
      { row: 2, text: 'plate', name: 'plate', tone: 'typed' },
      { row: 1, text: '', name: '', tone: 'problem' },
    ]);
    expect(labelsOf(components.slice(0, 1), BODIES, splitChoices())[0]!.tone).toBeUndefined();
  });

  it('keep the names of bodies that share a component, until one is typed', () => {
    const eyes = [
      { ...BODIES[0]!, id: 1, name: 'lower eye' },
      { ...BODIES[0]!, id: 2, name: 'upper eye' },
    ];
    const texts = (given: Parameters<typeof splitChoices>[0]) =>
      labelsOf([component('eye', [0, 1])], eyes, splitChoices(given)).map(({ text }) => text);
    expect(texts({})).toEqual(['lower eye', 'upper eye']);
    expect(texts({ bodyNames: { 2: 'top eye' } })).toEqual(['lower eye', 'top eye']);
    expect(texts({ names: { 1: 'eye' } })).toEqual(['eye', 'eye']);
    expect(texts({ naming: 'number' })).toEqual(['eye', 'eye']);
  });
});
