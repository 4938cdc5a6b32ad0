import { describe, expect, it } from 'vitest';
import type { FileToWorkOn } from '#core/accepts';
import { operationEntries } from '#core/operations';
import { addressOf, operationsFor } from './operations';

const file = (path: string, more: Partial<FileToWorkOn> = {}): FileToWorkOn => ({
  path,
  role: 'part',
  bodies: 1,
  derived: 0,
  ...more,
});
const names = (files: FileToWorkOn[], mayEdit = true) =>
  operationsFor(operationEntries(), files, mayEdit).map(({ name }) => name);

describe('what can be done with files', () => {
  it('goes by what they are', () => {
    expect(names([file('a.stp')])).toEqual(['cut', 'lite', 'seal', 'move', 'remove']);
    expect(names([file('a.stp', { bodies: 52, derived: 3 })])).toEqual([
      'follow',
      'split',
      'cut',
      'lite',
      'stand-in',
      'seal',
      'move',
      'remove',
    ]);
    expect(names([file('a.stp', { role: 'assembly', bodies: 0 })])).toEqual([
      'package',
      'lite',
      'groups',
      'seal',
      'move',
      'remove',
    ]);
    expect(names([file('a-lite.stp', { isLighter: true })])).toContain('stand-in');
    expect(names([file('a.png', { role: 'image', bodies: 0 })])).toEqual(['move', 'remove']);
    expect(names([file('a.stp', { bodies: 52 }), file('b.stp')])).toEqual(['move', 'remove']);
    expect(names([])).toEqual([]);
  });

  it('is what changes nothing, for somebody who may only look', () => {
    expect(names([file('a.stp', { role: 'assembly' })], false)).toEqual(['package']);
  });

  it('leads to the page, filled in', () => {
    const [move, split] = ['move', 'split'].map(
      (name) => operationEntries().find((entry) => entry.name === name)!,
    );
    expect(addressOf('p', split!, ['a b.stp'])).toBe('/projects/p/split?file=a%20b.stp');
    expect(addressOf('p', move!, ['a', 'b'])).toBe('/projects/p/move?what=%5B%22a%22%2C%22b%22%5D');
    expect(addressOf('p', move!, [])).toBe('/projects/p/move');
  });
});
