import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import type { Product } from '#core/product/structure';
import type { PlacementForm } from '#core/product/write-components';
import type { ChangeSet } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { startingPoints } from '#core/project/scan/project';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';
import { anyInFileAssembly } from '#core/testing/any-in-file-assembly';
import { boltedUnit } from '#core/testing/bolted-unit';
import { writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import { bodiesIn } from '#core/testing/placed-bodies';
import { testContext } from '#core/testing/plan-context';
import { expectWhole } from '#core/testing/whole-text';
import { Levels } from './levels';

const unit = boltedUnit;

async function arrange(operation: string, choices: object, entries = unit()) {
  const files = new MemoryFileSet(entries);
  const context = await testContext(files, kernel);
  const planned = await planOperation(operationNamed(operation)!, context, {
    file: 'unit/top.stp',
    ...choices,
  });
  const undo = await files.apply(planned.change);
  const project = await scanFileSet(files);
  expectWhole(await files.read('unit/top.stp'));
  expect(project.files.get('unit/top.stp')!.scan).toMatchObject({ error: null, damage: null });
  return { files, planned, undo, project };
}
const standing = async (entries = unit()) => bodiesIn(await scanFileSet(new MemoryFileSet(entries)));
/** What each product of the file places, by name. */
function placesOf({ project }: Awaited<ReturnType<typeof arrange>>) {
  const { products } = project.files.get('unit/top.stp')!.scan;
  const nameOf = new Map(products.map(({ definition, name }) => [definition, name]));
  return Object.fromEntries(
    products.flatMap(({ name, occurrences }) =>
      occurrences.length > 0 ? [[name, occurrences.map(({ child }) => nameOf.get(child)).sort()]] : [],
    ),
  );
}

const FORMS: PlacementForm[] = ['pair', 'swapped pair', 'mapped item'];

describe.each(FORMS)('components placed by %s', (form) => {
  it('keep their places when they move further up, as often as they were there', async () => {
    const moved = await arrange(
      'move-occurrences',
      { occurrences: ['Pin', 'Washer'], into: 'TOP' },
      unit(form),
    );
    expect(bodiesIn(moved.project)).toEqual(await standing(unit(form)));
    expect(placesOf(moved)).toEqual({
      Bolt: ['Nut'],
      Frame: ['Nut'],
      TOP: ['Bolt', 'Bolt', 'Frame', 'Pin', 'Pin', 'Plate', 'Washer', 'Washer'],
    });
    await moved.files.apply(moved.undo);
    expect(await moved.files.read('unit/top.stp')).toEqual(Buffer.from(unit(form)[0]![1]));
  });

  it('keep their places when they move down, and beside', async () => {
    const down = await arrange('move-occurrences', { occurrences: ['Plate'], into: 'Frame' }, unit(form));
    expect(bodiesIn(down.project)).toEqual(await standing(unit(form)));
    expect(placesOf(down)).toMatchObject({ Frame: ['Nut', 'Plate'], TOP: ['Bolt', 'Bolt', 'Frame'] });
    const beside = await arrange('move-occurrences', { occurrences: ['Pin'], into: 'Frame' }, unit(form));
    expect(bodiesIn(beside.project)).toEqual(await standing(unit(form)));
    expect(placesOf(beside)).toMatchObject({ Bolt: ['Nut', 'Washer'], Frame: ['Nut', 'Pin', 'Pin'] });
  });

  it('stand where they stood in a group that is a file of its own', async () => {
    const { project, planned, files, undo } = await arrange(
      'group-occurrences',
      { occurrences: ['Plate', 'Bolt 2'], name: 'Lower part', ownFile: true },
      unit(form),
    );
    expect(planned.preview).toMatchObject({ made: 'unit/Lower-part.stp' });
    expect(bodiesIn(project)).toEqual(await standing(unit(form)));
    expect(project.uses.get('unit/top.stp')!.map(({ to, state }) => [to, state])).toEqual(
      expect.arrayContaining([['unit/Lower-part.stp', 'sound']]),
    );
    expectWhole(await files.read('unit/Lower-part.stp'));
    await files.apply(undo);
    expect(await files.read('unit/top.stp')).toEqual(Buffer.from(unit(form)[0]![1]));
  });

  it('stand where they stood, in a group and out of it again', async () => {
    const entries = unit(form);
    const grouped = await arrange(
      'group-occurrences',
      { occurrences: ['Plate', 'Bolt 2'], name: 'Lower part' },
      entries,
    );
    expect(bodiesIn(grouped.project)).toEqual(await standing(entries));
    expect(placesOf(grouped)).toMatchObject({
      TOP: ['Bolt', 'Frame', 'Lower part'],
      'Lower part': ['Bolt', 'Plate'],
    });
    const top = await grouped.files.read('unit/top.stp');
    const dissolved = await arrange('dissolve', { occurrences: ['Lower part'] }, [
      ['unit/top.stp', top],
      entries[1]!,
    ]);
    expect(bodiesIn(dissolved.project)).toEqual(await standing(entries));
    expect(placesOf(dissolved)).toMatchObject({ TOP: ['Bolt', 'Bolt', 'Frame', 'Plate'] });
    expect(Buffer.from(await dissolved.files.read('unit/top.stp')).toString('latin1')).not.toContain(
      'Lower part',
    );
  });

  it('stand where they stood when an assembly is dissolved at one of its places, or at all', async () => {
    const one = await arrange('dissolve', { occurrences: ['Bolt 3'] }, unit(form));
    expect(bodiesIn(one.project)).toEqual(await standing(unit(form)));
    const text = Buffer.from(await one.files.read('unit/top.stp')).toString('latin1');
    const ids = [...text.matchAll(/=NEXT_ASSEMBLY_USAGE_OCCURRENCE\('([^']*)'/g)].map(([, id]) => id);
    expect(ids.slice().sort()).toEqual(
      ['Bolt.1', 'Bolt.2', 'Bolt.3', 'Frame.1', 'TOP.1', 'TOP.2', 'TOP.4']
        .concat(['Bolt.1.2', 'Bolt.2.2', 'Bolt.3.2'])
        .sort(),
    );
    expect(placesOf(one)).toMatchObject({
      Bolt: ['Nut', 'Pin', 'Washer'],
      TOP: ['Bolt', 'Frame', 'Nut', 'Pin', 'Plate', 'Washer'],
    });
    const all = await arrange('dissolve', { occurrences: ['Bolt'] }, unit(form));
    expect(bodiesIn(all.project)).toEqual(await standing(unit(form)));
    expect(placesOf(all)).toEqual({
      Frame: ['Nut'],
      TOP: ['Frame', 'Nut', 'Nut', 'Pin', 'Pin', 'Plate', 'Washer', 'Washer'],
    });
    expect(all.planned.preview).toMatchObject({ gone: ['Bolt'] });
  });

  it('go with all that is theirs alone, and nothing else does', async () => {
    const { project, planned, files, undo } = await arrange(
      'take-away',
      { occurrences: ['Bolt'] },
      unit(form),
    );
    expect(bodiesIn(project)).toEqual([
      'Nut | nut |  |  | 1 0 0 1 0 1 0 92 0 0 1 3 0 0 0 1',
      'Plate | plate | #ff0000 | Steel | 1 0 0 0 0 1 0 0 0 0 1 0 0 0 0 1',
    ]);
    expect(planned.preview).toMatchObject({ occurrences: ['Bolt 2', 'Bolt 3'], gone: ['Bolt'] });
    const text = Buffer.from(await files.read('unit/top.stp')).toString('latin1');
    expect(text).not.toMatch(/Bolt|Pin|Brass|shank|washer|DOCUMENT/);
    expect(text).toContain("MATERIAL_DESIGNATION('Steel'");
    await files.apply(undo);
    expect(await files.read('unit/top.stp')).toEqual(Buffer.from(unit(form)[0]![1]));
  });

  it('go at one place, and stay at the others', async () => {
    const { project, planned } = await arrange('take-away', { occurrences: ['Bolt 2', 'Plate'] }, unit(form));
    const before = await standing(unit(form));
    const after = bodiesIn(project);
    expect(after).toHaveLength(4);
    for (const line of after) expect(before).toContain(line);
    expect(planned.preview).toMatchObject({ gone: ['Plate'] });
  });
});

describe('arranging components', () => {
  it('says where something will show more than once', async () => {
    const { planned, project } = await arrange('move-occurrences', { occurrences: ['Frame'], into: 'Bolt' });
    expect(planned.change.warnings).toEqual([
      'Bolt is placed 2 times: what moves into it shows at each of its places.',
    ]);
    expect(bodiesIn(project)).toHaveLength(8 + 1);
  });

  it('says where something will be missing', async () => {
    const entries = unit();
    const twice = await arrange('group-occurrences', { occurrences: ['Frame'], name: 'Side' }, entries);
    const more = await arrange('move-occurrences', { occurrences: ['Bolt 2'], into: 'Side' }, [
      ['unit/top.stp', await twice.files.read('unit/top.stp')],
      entries[1]!,
    ]);
    const { planned } = await arrange('move-occurrences', { occurrences: ['Pin'], into: 'Side' }, [
      ['unit/top.stp', await more.files.read('unit/top.stp')],
      entries[1]!,
    ]);
    expect(planned.change.warnings).toEqual([
      'Bolt is placed outside of Side, too: Pin 1 is missing there from now on.',
    ]);
  });

  it('names what means nothing at another level', async () => {
    const entries = unit();
    const text = Buffer.from(entries[0]![1]).toString('latin1');
    const usage = /(#\d+)=NEXT_ASSEMBLY_USAGE_OCCURRENCE\('Bolt.1'/.exec(text)![1];
    const more = `#9001=SPECIFIED_HIGHER_USAGE_OCCURRENCE('','',$,$,$,$,$,${usage});\n#9002=PRODUCT_DEFINITION_SHAPE('','',#9001);\n`;
    entries[0] = [
      'unit/top.stp',
      Buffer.from(text.replace('ENDSEC;\nEND-ISO', `${more}ENDSEC;\nEND-ISO`), 'latin1'),
    ];
    const { planned, files } = await arrange(
      'move-occurrences',
      { occurrences: ['Pin'], into: 'TOP' },
      entries,
    );
    expect(planned.change.warnings).toContainEqual(
      '1 SPECIFIED_HIGHER_USAGE_OCCURRENCE says something of a component at the level where it was: left out.',
    );
    expect(Buffer.from(await files.read('unit/top.stp')).toString('latin1')).not.toContain('#9002');
  });

  it.each([
    [
      'move-occurrences',
      { occurrences: ['Bolt'], into: 'Bolt' },
      'Bolt is part of Bolt 2: it cannot contain it, too.',
    ],
    ['move-occurrences', { occurrences: ['Plate'], into: 'TOP' }, 'Plate 1 is in TOP already.'],
    [
      'move-occurrences',
      { occurrences: ['Plate'], into: 'Nut' },
      'Nut is no assembly in this file: it places nothing here.',
    ],
    ['move-occurrences', { occurrences: ['Plate'], into: 'Lid' }, 'unit/top.stp has no assembly Lid.'],
    ['move-occurrences', { occurrences: ['Lid'], into: 'TOP' }, 'unit/top.stp has no component Lid.'],
    [
      'group-occurrences',
      { occurrences: ['Plate', 'Pin'], name: 'x' },
      'Plate 1 is in TOP, Pin 1 in Bolt: move them to one assembly first.',
    ],
    ['dissolve', { occurrences: ['Plate'] }, 'Plate is no assembly: it places nothing.'],
    ['dissolve', { occurrences: ['Washer'] }, 'Washer lies in a file of its own: take it in first.'],
  ])('refuses %s %j', async (operation, choices, words) => {
    await expect(arrange(operation, choices)).rejects.toThrow(words);
  });
});

describe('of any assembly', () => {
  const WAYS = [
    'move-occurrences',
    'group-occurrences',
    'dissolve',
    'take-away',
    'put-out',
    'take-in',
    'place',
    'place-again',
    'set-placement',
    'replace',
    'rename-parts',
  ] as const;
  interface Step {
    what: (typeof WAYS)[number];
    which: number;
    where: number;
  }
  const step: fc.Arbitrary<Step> = fc.record({
    what: fc.constantFrom(...WAYS),
    which: fc.nat(1000),
    where: fc.nat(1000),
  });
  const TOP = 'unit/top.stp';
  const WASHER = 'std/washer.stp';

  const choicesFor = ({ what, which, where }: Step, products: readonly Product[]): object => {
    const all = [...new Levels(products).of.values()].flat();
    const { occurrence } = all[which % all.length]!;
    const into = String(products[where % products.length]!.definition);
    const occurrences = [String(occurrence.id)];
    const file = TOP;
    switch (what) {
      case 'put-out':
        return { file, components: [String(occurrence.child)] };
      case 'take-in':
        return { file, all: true };
      case 'place':
        return { file, part: WASHER, into, position: [which, 0, 0] };
      case 'place-again':
        return { file, occurrences, count: 3, step: [0, 0, where + 1] };
      case 'set-placement':
        return { file, occurrences, position: [which, where, 1], relative: where % 2 === 0 };
      case 'replace':
        return { file, occurrences, part: WASHER };
      case 'rename-parts':
        return { file, parts: [{ file, part: into, name: `Part ${which}` }] };
      case 'move-occurrences':
        return { file, occurrences, into };
      case 'group-occurrences':
        return { file, occurrences, name: 'Group' };
      default:
        return { file, occurrences };
    }
  };
  /** Bodies without what their products are called. */
  const unnamed = (lines: readonly string[]) => lines.map((line) => line.slice(line.indexOf(' | '))).sort();
  const isWasher = (line: string) => line.includes('| washer |');

  function expectKept(
    what: Step['what'],
    before: string[],
    now: string[],
    warnings: readonly string[],
  ): void {
    const said = (words: string) => warnings.some((warning) => warning.includes(words));
    if (what === 'set-placement') expect(now).toHaveLength(before.length);
    else if (what === 'rename-parts') expect(unnamed(now)).toEqual(unnamed(before));
    else if (what === 'replace') {
      for (const line of now) if (!isWasher(line)) expect(before).toContain(line);
      expect(now.length).toBeGreaterThan(0);
    } else if (what === 'take-away' || said('is missing there')) {
      for (const line of now) expect(before).toContain(line);
    } else if (what.startsWith('place') || said('shows at each')) {
      for (const line of before) expect(now).toContain(line);
      if (what === 'place') expect(now.length).toBeGreaterThan(before.length);
    } else expect(now).toEqual(before);
  }

  async function inTurn(bytes: Uint8Array, steps: readonly Step[], done: Step[]): Promise<void> {
    const washer = writeBoxPart({ id: 'Washer', boxes: [{ size: [9, 9, 1], name: 'washer' }] });
    const files = new MemoryFileSet([
      [TOP, bytes],
      [WASHER, washer],
    ]);
    const undos: ChangeSet[] = [];
    for (const one of steps) {
      const project = await scanFileSet(files);
      const before = bodiesIn(project);
      const roots = startingPoints(project);
      const choices = choicesFor(one, project.files.get(TOP)!.scan.products);
      try {
        const context = await testContext(files, kernel);
        const { change } = await planOperation(operationNamed(one.what)!, context, choices);
        undos.push(await files.apply(change));
        done.push(one);
        const after = await scanFileSet(files);
        expectWhole(await files.read(TOP));
        if (after.files.get(TOP)!.scan.role === 'assembly')
          expect(startingPoints(after)).toEqual(expect.arrayContaining(roots));
        expectKept(one.what, before, bodiesIn(after), change.warnings);
      } catch (error) {
        expect(error).toBeInstanceOf(Refusal);
      }
      const { products: left } = (await scanFileSet(files)).files.get(TOP)!.scan;
      if (left.every(({ occurrences }) => occurrences.length === 0)) break;
    }
    for (const undo of undos.reverse()) await files.apply(undo);
    expect(await files.read(TOP)).toEqual(Buffer.from(bytes));
    expect(await files.read(WASHER)).toEqual(Buffer.from(washer));
  }

  it.each([
    ['a few times', { minLength: 3, maxLength: 8 }, 25],
    ['thirty times', { minLength: 30, maxLength: 30 }, 5],
  ])('what is changed %s stands where it stood, and comes back', async (_, length, numRuns) => {
    const done: Step[] = [];
    const run = fc.asyncProperty(anyInFileAssembly, fc.array(step, length), (bytes, steps) =>
      inTurn(bytes, steps, done),
    );
    await fc.assert(run, { numRuns });
    expect(done.length).toBeGreaterThan(40);
  });
});
