import { describe, expect, it } from 'vitest';
import { groupNames, leadingWords } from './group-names';

describe('names for bodies of one shape', () => {
  it.each([
    [['head screw 1', 'head screw 2'], 'head screw'],
    [['lower eye', 'upper eye'], 'eye'],
    [['lid', 'lid'], 'lid'],
    [['lid', 'base'], 'lid, base'],
    [['lid', 'base', 'cap'], 'lid and 2 more'],
    [['lid', ''], 'lid'],
    [['', ''], ''],
  ])('%j have in common: %s', (names, shared) => expect(groupNames([names])).toEqual([shared]));

  it('are told apart by letters, else by numbers', () => {
    const ribs = [
      ['rib L280', 'rib L840'],
      ['rib R280', 'rib R840'],
    ];
    expect(groupNames(ribs)).toEqual(['rib L', 'rib R']);
    const saddles = [
      ['saddle L280', 'saddle R280'],
      ['saddle L840', 'saddle R840'],
      ['saddle L1400', 'saddle R1400'],
    ];
    expect(groupNames(saddles)).toEqual(['saddle 280', 'saddle 840', 'saddle 1400']);
    expect(
      groupNames([
        ['purlin 1L', 'purlin 1R'],
        ['purlin 12L', 'purlin 12R'],
      ]),
    ).toEqual(['purlin 1', 'purlin 12']);
    expect(groupNames([['rib 1', 'rib 3'], ['rib 2', 'rib 4'], ['lug']])).toEqual(['rib 1', 'rib 2', 'lug']);
    expect(groupNames([['rib 1', 'rib 3'], ['rib']])).toEqual(['rib 1', 'rib']);
  });

  it('begin with words, not with letters', () => {
    expect(leadingWords(['plate one', 'plates two'])).toBe('');
    expect(leadingWords(['plate one', 'plate  two'])).toBe('plate');
  });
});
