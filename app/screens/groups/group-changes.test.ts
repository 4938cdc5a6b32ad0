import { describe, expect, it } from 'vitest';
import { dissolved, type Grouping, gathered, joined, movedTo, renamed } from './group-changes';

const named = ({ groups }: Grouping) => groups.map(({ name, members }) => `${name}: ${members.join(' ')}`);
const start: Grouping = joined({
  groups: [
    { name: 'Base', members: ['a', 'b'] },
    { name: 'Arm', members: ['c'] },
  ],
  joints: [],
});

describe('groups', () => {
  it('have each component in one of them only', () => {
    expect(named(movedTo(start, 1, ['b']))).toEqual(['Base: a', 'Arm: c b']);
    expect(named(gathered(start, ['b', 'c']))).toEqual(['Base: a', 'Arm: ', 'Group: b c']);
    expect(named(gathered(gathered(start, ['b']), ['a']))).toEqual([
      'Base: ',
      'Arm: c',
      'Group: b',
      'Group 2: a',
    ]);
    expect(named(gathered({ groups: [], joints: [] }, ['a']))).toEqual(['Stands still: ', 'Group: a']);
  });

  it('take their joints along to another name, and have no name twice', () => {
    const after = renamed(start, 1, 'Hand')!;
    expect(named(after)).toEqual(['Base: a b', 'Hand: c']);
    expect(after.joints.map(({ between }) => between)).toEqual([['Base', 'Hand']]);
    expect([renamed(start, 1, 'Base'), renamed(start, 1, ' ')]).toEqual([null, null]);
  });

  it('give their components back, and their joints up', () => {
    const after = dissolved(start, 1);
    expect([named(after), after.joints]).toEqual([['Base: a b c'], []]);
  });

  it('get joints with names of their own', () => {
    const without = { ...joined(start), joints: joined(start).joints.slice(1) };
    expect(joined(without).joints.map(({ name }) => name)).toEqual(['Joint 2', 'Joint 2 2']);
  });
});
