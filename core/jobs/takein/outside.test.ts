import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import { MemoryFileSet } from '#core/project/change/memory';
import { boltedUnit } from '#core/testing/bolted-unit';
import { kernel } from '#core/testing/kernel';
import { readSetsOutside } from '#core/testing/outside-files';
import { hasOutsideReader, type OutsideView } from '#core/testing/outside-reader';
import { testContext } from '#core/testing/plan-context';

/** A switch of rounded and drilled parts with a lever inside, all in one file. */
const SWITCH = 'limit-switch/limit-switch-ls-2.stp';
const UNITS: [what: string, file: string, entries: () => [string, Uint8Array][]][] = [
  ['a made-up unit', 'unit/top.stp', () => boltedUnit()],
  ['a switch with curved parts', SWITCH, () => [[SWITCH, readFileSync(`demo/files/arrived/${SWITCH}`)]]],
];
const STEPS = [
  ['put-out', { all: true, to: 'parts' }],
  ['take-in', { deep: true, dropUnused: true }],
  ['put-out', { all: true }],
  ['take-in', {}],
] as const;

const solidsOf = ({ solids }: OutsideView) =>
  solids
    .map(({ volume, centre }) => [volume, ...centre].map((value) => (value + 0).toFixed(2)).join(' '))
    .sort();

describe.skipIf(!hasOutsideReader)('put out and taken in again and again', () => {
  it.each(UNITS)('%s reads outside as it did, after each step', async (_, file, entries) => {
    const states: MemoryFileSet[] = [new MemoryFileSet(entries())];
    for (const [operation, choices] of STEPS) {
      const files = new MemoryFileSet(
        await Promise.all(
          (await states.at(-1)!.list()).map(
            async ({ path }): Promise<[string, Uint8Array]> => [path, await states.at(-1)!.read(path)],
          ),
        ),
      );
      const context = await testContext(files, kernel);
      const { change } = await planOperation(operationNamed(operation)!, context, { file, ...choices });
      await files.apply(change);
      states.push(files);
    }
    const [was, ...views] = await readSetsOutside(states.map((files) => [files, file]));
    expect([was!.free, was!.fails]).toEqual([1, 0]);
    expect(was!.solids.length).toBeGreaterThan(5);
    for (const view of views) {
      expect([view.free, view.fails]).toEqual([1, 0]);
      expect(solidsOf(view)).toEqual(solidsOf(was!));
    }
  });
});
