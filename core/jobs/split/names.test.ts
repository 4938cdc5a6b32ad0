import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pathProblem } from '#core/files/links/paths';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { writeBoxPart } from '#core/testing/box-part';
import { type SplitChoices, splitChoices } from './choices';
import { groupBodies } from './groups';
import { nameComponents } from './names';

/** Names the bodies of a part, each a component; choices tell names by position. */
function named(
  bodies: readonly string[],
  { typed = {}, ...more }: Partial<Omit<SplitChoices, 'names'>> & { typed?: { [at: number]: string } } = {},
  taken: readonly string[] = [],
) {
  const source = new SourcePart(
    'weld.stp',
    writeBoxPart({ id: 'W', boxes: bodies.map((name, n) => ({ name, corner: [20 * n, 0, 0] })) }),
  );
  const names = Object.fromEntries(
    Object.entries(typed).map(([at, name]) => [String(source.bodies[Number(at)]!.id), name]),
  );
  const choices = splitChoices({ ...more, names });
  return nameComponents(
    groupBodies(source, choices, new Map()),
    choices,
    { stem: 'weld', folder: 'weld' },
    () => undefined,
    (path) => taken.includes(path),
  );
}

describe('names of components', () => {
  it('that are typed clash with those that others have from their bodies, and with their files', () => {
    expect(named(['torque tube', 'end cap'], { typed: { 1: 'Torque tube' } })).toMatchObject([
      { name: 'torque tube', file: 'weld/torque-tube.stp', problem: null },
      { problem: 'Another component has this name.', proposal: 'Torque tube-2' },
    ]);
    expect(named(['torque tube', 'end cap'], { typed: { 1: 'torque-tube' } })[1]).toMatchObject({
      problem: 'Another component has this name.',
      proposal: 'torque-tube-2',
    });
    // Once both are typed, each has the name that the other had.
    expect(named(['one', 'two'], { typed: { 0: 'two', 1: 'one' } })).toMatchObject([
      { file: 'weld/two.stp', problem: null },
      { file: 'weld/one.stp', problem: null },
    ]);
    expect(named(['one'], { typed: { 0: 'lid' } }, ['weld/lid.stp'])[0]).toMatchObject({
      problem: 'Another file has this name.',
      proposal: 'lid-2',
    });
  });

  it('that nobody typed give way to each other and to files that are there', () => {
    expect(named(['clip', 'clip', ''], {}, ['weld/clip.stp']).map(({ file }) => file)).toEqual([
      'weld/clip-2.stp',
      'weld/clip-3.stp',
      'weld/weld-03.stp',
    ]);
  });

  it('are made by a pattern', () => {
    const by = (pattern: string) => named(['a', ''], { naming: 'number', pattern }).map(({ name }) => name);
    expect(by('{source}/{number}')).toEqual(['weld/01', 'weld/02']);
    expect(by('{body}')).toEqual(['a', 'weld-02']);
    expect(by('{nothing}')).toEqual(['{nothing}', '{nothing}']);
  });

  it('always lead to files of their own that can be stored everywhere', () => {
    const name = fc.oneof(
      fc.string({ unit: 'grapheme', maxLength: 300 }),
      fc.constantFrom('', 'CON', '..', 'a.', ' b ', 'x/y', 'x\\y', '#1', 'Ü', 'u\u0308', 'nul.stp', '\u0000'),
    );
    fc.assert(
      fc.property(
        fc.array(name, { minLength: 1, maxLength: 12 }),
        fc.nat({ max: 11 }),
        name,
        (bodies, at, text) => {
          const typed = at < bodies.length ? { [at]: text } : {};
          const components = named(bodies, { typed });
          const files = components.map(({ file }) => file.toLowerCase());
          expect(new Set(files).size).toBe(files.length);
          for (const { file, problem, proposal } of components) {
            expect(pathProblem(file, true)).toBeUndefined();
            expect(problem === null).toBe(proposal === null);
          }
          // What is proposed can be typed.
          const { proposal } = components[at] ?? {};
          if (proposal) expect(named(bodies, { typed: { [at]: proposal } })[at]!.problem).toBeNull();
        },
      ),
      { numRuns: 150 },
    );
  });
});
