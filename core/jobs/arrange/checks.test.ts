import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { textOf } from '#core/files/part21/parameters';
import { planOperation } from '#core/operation';
import { operationNamed } from '#core/operations';
import { validationsOf } from '#core/product/restructure/validation';
import { readStructure } from '#core/product/structure';
import { MemoryFileSet } from '#core/project/change/memory';
import { boltedUnit } from '#core/testing/bolted-unit';
import { kernel } from '#core/testing/kernel';
import { testContext } from '#core/testing/plan-context';
import { testAssembly } from '#core/testing/projects';
import { expectWhole } from '#core/testing/whole-text';

const TOP = 'unit/top.stp';
const ALL = 'all.stp';

/** A file that states the size of some of its products, and how many components a frame has. */
function stating(bytes: Uint8Array, names: readonly string[]): Uint8Array {
  const { products } = readStructure(Part21File.read(bytes));
  const text = Buffer.from(bytes).toString('latin1');
  const context = /#(\d+) ?= ?\([^;]*GLOBAL_UNIT_ASSIGNED_CONTEXT/.exec(text)![1]!;
  const records = names.flatMap((name, n) => {
    const { definition } = products.find((product) => product.name === name)!;
    const id = 90_000 + 10 * n;
    const isOfComponents = name === 'Frame';
    const item = isOfComponents
      ? `VALUE_REPRESENTATION_ITEM('number of children',COUNT_MEASURE(1.))`
      : n % 2 === 0
        ? `MEASURE_REPRESENTATION_ITEM('volume',VOLUME_MEASURE(${n + 5}.),$)`
        : `CARTESIAN_POINT('centre point',(1.,2.,3.))`;
    const called = isOfComponents ? 'assembly_validation_property' : 'geometric_validation_property';
    return [
      `#${id}=PROPERTY_DEFINITION('${called}','',#${definition});`,
      `#${id + 1}=REPRESENTATION('',(#${id + 2}),#${context});`,
      `#${id + 2}=${item};`,
      `#${id + 3}=PROPERTY_DEFINITION_REPRESENTATION(#${id},#${id + 1});`,
      `#${id + 4}=GENERAL_PROPERTY('','${called}','');`,
      `#${id + 5}=GENERAL_PROPERTY_ASSOCIATION('','',#${id + 4},#${id});`,
    ];
  });
  const end = text.lastIndexOf('ENDSEC;');
  return Buffer.from(`${text.slice(0, end)}${records.join('\n')}\n${text.slice(end)}`, 'latin1');
}

const ALL_STATED = ['Plate', 'Pin', 'Bolt', 'Washer', 'Frame', 'TOP'];
const project = (): [string, Uint8Array][] => [
  ...boltedUnit().map(([path, bytes]): [string, Uint8Array] => [
    path,
    path === TOP ? stating(bytes, ALL_STATED) : bytes,
  ]),
  [
    ALL,
    stating(
      testAssembly('ALL', [
        { id: 'TOP', written: TOP },
        { id: 'Washer', written: 'std/washer.stp' },
      ]),
      ['TOP', 'Washer', 'ALL assembly'],
    ),
  ],
];

/** Whose size the files still state after an operation, by name. */
async function statedAfter(operation: string, choices: object) {
  const files = new MemoryFileSet(project());
  const planned = await planOperation(operationNamed(operation)!, await testContext(files, kernel), {
    file: TOP,
    ...choices,
  });
  const undo = await files.apply(planned.change);
  const stated: { [path: string]: string[] } = {};
  for (const path of [TOP, ALL]) {
    const bytes = await files.read(path);
    expectWhole(bytes);
    const file = Part21File.read(bytes);
    const { products } = readStructure(file);
    stated[path] = [...validationsOf(file).keys()]
      .map((definition) => products.find((product) => product.definition === definition)!.name)
      .sort();
    // What said it goes as a whole.
    const named = [...file.idsOfType('GENERAL_PROPERTY')];
    expect(named).toHaveLength(stated[path].length);
    expect(named.every((id) => textOf(file.parameters(id)![1])?.endsWith('_validation_property'))).toBe(true);
  }
  await files.apply(undo);
  for (const [path, bytes] of project()) expect(await files.read(path)).toEqual(Buffer.from(bytes));
  return { stated, warnings: planned.change.warnings };
}
const EVERYTHING = { [TOP]: [...ALL_STATED].sort(), [ALL]: ['ALL assembly', 'TOP', 'Washer'] };

describe('what files state of their size', () => {
  it('stays where the same stands at the same places', async () => {
    const { stated, warnings } = await statedAfter('group-occurrences', {
      occurrences: ['Plate', 'Frame'],
      name: 'Lower part',
    });
    expect(stated).toEqual(EVERYTHING);
    expect(warnings.join()).not.toContain('stated how large');
  });

  it('stays where a place gets a copy of the same', async () => {
    const { stated } = await statedAfter('own-copy', { occurrences: ['Washer'] });
    expect(stated[TOP]).toEqual(EVERYTHING[TOP]!.filter((name) => name !== 'Washer'));
    expect(stated[ALL]).toEqual(EVERYTHING[ALL]);
  });

  it('leaves with what counts components, where there are more of them at one level', async () => {
    const { stated } = await statedAfter('move-occurrences', { occurrences: ['Plate'], into: 'Frame' });
    expect(stated).toEqual({ ...EVERYTHING, [TOP]: ['Bolt', 'Pin', 'Plate', 'TOP', 'Washer'] });
  });

  it('leaves the assembly, and all that is above it, also in other files', async () => {
    const { stated, warnings } = await statedAfter('place-again', {
      occurrences: ['Pin'],
      count: 2,
      step: [9, 0, 0],
    });
    expect(stated).toEqual({ [TOP]: ['Frame', 'Pin', 'Plate', 'Washer'], [ALL]: ['Washer'] });
    expect(warnings).toContain(
      'top.stp stated how large Bolt, TOP are, for whoever checks it: no longer right, and left out.',
    );
    expect(warnings).toContain(
      'all.stp stated how large ALL assembly, TOP are, for whoever checks it: no longer right, and left out.',
    );
  });

  it('leaves what is shifted: its centroid is another one', async () => {
    const { stated } = await statedAfter('set-placement', { occurrences: ['Frame'], position: [0, 91, 0] });
    expect(stated).toEqual({ [TOP]: ['Bolt', 'Frame', 'Pin', 'Plate', 'Washer'], [ALL]: ['Washer'] });
  });

  it('leaves where something is removed', async () => {
    const { stated } = await statedAfter('take-away', { occurrences: ['Bolt 2'] });
    expect(stated).toEqual({ [TOP]: ['Bolt', 'Frame', 'Pin', 'Plate', 'Washer'], [ALL]: ['Washer'] });
  });
});
