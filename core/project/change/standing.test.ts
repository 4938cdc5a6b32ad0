import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { standingOf, summaryBack } from './standing';

describe('what can be taken back', () => {
  it('walks back and forward as a stack does, whatever is done in between', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom('do', 'back', 'forward'), { maxLength: 40 }), (steps) => {
        const history: { id: string; undoes?: string }[] = [];
        /** What stands, by the change that was made first; and what was taken back, the latest last. */
        const [standing, undone]: [string[], string[]] = [[], []];
        const names = new Map<string, string>();
        for (const [n, step] of steps.entries()) {
          const { back, forward } = standingOf(history);
          expect(back === null ? undefined : names.get(back)).toBe(standing.at(-1));
          expect(forward === null ? undefined : names.get(forward)).toBe(undone.at(-1));
          const id = `c${n}`;
          if (step === 'do') {
            history.push({ id });
            names.set(id, id);
            standing.push(id);
            undone.length = 0;
            continue;
          }
          const target = step === 'back' ? back : forward;
          if (target === null) continue;
          history.push({ id, undoes: target });
          names.set(id, names.get(target)!);
          if (step === 'back') undone.push(standing.pop()!);
          else standing.push(undone.pop()!);
        }
      }),
    );
  });

  it('is also an older change, by its id; the others stand', () => {
    expect(standingOf([{ id: 'a' }, { id: 'b' }, { id: 'c', undoes: 'a' }])).toEqual({
      back: 'b',
      forward: 'c',
    });
    expect(standingOf([])).toEqual({ back: null, forward: null });
  });

  it('is called by what was done, however often', () => {
    const undone = summaryBack('Moved a.stp');
    const redone = summaryBack(undone);
    expect([undone, redone, summaryBack(redone)]).toEqual([
      'Undid: Moved a.stp',
      'Redid: Moved a.stp',
      'Undid: Moved a.stp',
    ]);
  });
});
