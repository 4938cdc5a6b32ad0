import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { measureBodies } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import { reportOf } from '#core/jobs/scan/scan-report';
import { planningOn } from '#core/planning';
import { transformPoint } from '#core/product/matrix';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { structureTable } from '#core/project/scan/structure-table';
import { writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import { testAssembly } from '#core/testing/projects';
import { ORIGINS, splitChoices } from './choices';
import { bodiesIn, groupBodies } from './groups';
import { openSource, outlineSplit, planSplit } from './plan';

const FRAME = 'mirror/mirror-frame.stp';

/** Splits one file of a set and applies the plan. */
async function split(
  files: MemoryFileSet,
  path: string,
  given: Parameters<typeof splitChoices>[0] = {},
  measured?: ReadonlyMap<number, MeasuredBody>,
) {
  const choices = splitChoices(given);
  const project = await scanFileSet(files);
  const source = await openSource(files, path);
  const outline = outlineSplit(project, source, choices, measured ?? (await measureBodies(kernel, source)));
  const changes = await planSplit(planningOn(project, files), { outline, choices });
  const back = await files.apply(changes);
  return { source, outline, changes, back, after: await scanFileSet(files) };
}

/** Centre and volume of every body as a structure places it, sorted. */
async function placedBodies(files: MemoryFileSet, root: string) {
  const project = await scanFileSet(files);
  const table = structureTable(project, root, false);
  const found: string[] = [];
  for (const { body, placement } of table.instances) {
    const { sha256, body: id } = table.bodies[body]!;
    const path = [...project.files.values()].find((file) => file.sha256 === sha256)!.path;
    const [shape] = await kernel.shapeBodies(await files.read(path), [id], { mesh: false });
    if (!shape || !('facts' in shape)) throw new Error('no facts');
    const centre = transformPoint(placement, shape.facts.centre);
    found.push(
      [shape.facts.volume, ...centre].map((value) => value.toFixed(3).replace('-0.000', '0.000')).join(' '),
    );
  }
  return found.sort();
}

const boxes = (unit?: 'mm' | 'in') =>
  writeBoxPart({
    id: 'W',
    name: 'Weldment',
    unit,
    boxes: [
      { name: 'plate' },
      { name: 'plate 2', corner: [30, 0, 0] },
      { name: 'bar', corner: [0, 40, 0], size: [10, 10, 60] },
      { name: 'bar', corner: [60, 40, 0], size: [60, 10, 10] },
      { name: '', corner: [0, 80, 0], size: [10, 20, 30] },
    ],
  });
const small = () =>
  new MemoryFileSet([
    ['top.stp', testAssembly('TOP', [{ written: 'weld.stp', id: 'W', times: 2 }])],
    ['weld.stp', boxes()],
  ]);

describe('a split', () => {
  it('makes one file a shape and an assembly that puts every body back where it was', async () => {
    const files = new MemoryFileSet([[FRAME, readFileSync(`demo/files/hx-12/${FRAME}`)]]);
    const before = await placedBodies(files, FRAME);
    const { source, outline, after } = await split(files, FRAME);
    const made = outline.components.length;
    expect(made).toBeGreaterThan(10);
    expect(made).toBeLessThan(source.bodies.length);
    expect(await placedBodies(files, outline.assembly)).toEqual(before);
    const { totals } = reportOf(after);
    expect(totals).toMatchObject({ links: 2 * made + 1, sound: 2 * made + 1, behind: 0, missing: 0 });
  });

  it.each(['centre', 'corner', 'centroid', 'axis'] as const)(
    'puts the origin on the body (%s) without moving anything',
    async (origin) => {
      const files = small();
      const before = await placedBodies(files, 'weld.stp');
      const { outline } = await split(files, 'weld.stp', { origin });
      expect(await placedBodies(files, outline.assembly)).toEqual(before);
    },
  );

  it('puts every body back where it was, whatever is chosen', async () => {
    const box = fc.record({
      name: fc.constantFrom('', 'plate', 'bar', 'Träger', 'a/b', 'x'.repeat(300)),
      size: fc.constantFrom([10, 10, 10], [10, 10, 25], [25, 10, 10], [4, 20, 9]) as fc.Arbitrary<
        [number, number, number]
      >,
      colour: fc.constantFrom(undefined, '#336699', '#aa3311'),
    });
    const choices = fc.record({
      merge: fc.boolean(),
      origin: fc.constantFrom(...ORIGINS),
      inFile: fc.boolean(),
      styles: fc.boolean(),
      tie: fc.boolean(),
      coloursApart: fc.boolean(),
      namesApart: fc.boolean(),
      naming: fc.constantFrom('body', 'number'),
      rest: fc.constantFrom('keep', 'replace'),
      use: fc.constantFrom('made', 'bought', 'reference'),
    });
    await fc.assert(
      fc.asyncProperty(
        fc.array(box, { minLength: 2, maxLength: 6 }),
        fc.constantFrom('mm', 'in', 'm'),
        choices,
        fc.boolean(),
        async (made, unit, chosen, isJoined) => {
          const part = writeBoxPart({
            id: 'W',
            unit: unit as 'mm',
            boxes: made.map((own, n) => ({ ...own, corner: [30 * n, 0, 0] as const })),
          });
          const files = new MemoryFileSet([['weld.stp', part]]);
          const before = await placedBodies(files, 'weld.stp');
          const [first, second] = (await openSource(files, 'weld.stp')).bodies;
          const together = isJoined ? [[first!.id, second!.id]] : [];
          const { outline, after } = await split(files, 'weld.stp', { ...chosen, together } as object);
          expect(await placedBodies(files, outline.assembly)).toEqual(before);
          const { totals } = reportOf(after);
          expect(totals).toMatchObject({ missing: 0, ambiguous: 0, behind: 0, loop: 0 });
          for (const { path, scan } of after.files.values()) expect(scan.error, path).toBeNull();
        },
      ),
      { numRuns: 12, endOnFailure: true },
    );
  });

  it('keeps inches inches', async () => {
    const files = new MemoryFileSet([['weld.stp', boxes('in')]]);
    const before = await placedBodies(files, 'weld.stp');
    const { outline, after } = await split(files, 'weld.stp', { origin: 'centre' });
    expect(after.files.get(outline.components[0]!.file)!.scan.unit).toBe('in');
    expect(await placedBodies(files, outline.assembly)).toEqual(before);
  });

  it('names components after their bodies, by a pattern, or as typed, and mends or marks what cannot be', async () => {
    const named = await split(small(), 'weld.stp');
    expect(named.outline.components.map(({ file }) => file)).toEqual([
      'weld/plate.stp',
      'weld/bar.stp',
      'weld/weld-03.stp',
    ]);
    const numbered = await split(small(), 'weld.stp', {
      naming: 'number',
      merge: false,
      pattern: '{source} {size}',
    });
    expect(numbered.outline.components.map(({ file }) => file)).toEqual([
      'weld/weld-10x10x10.stp',
      'weld/weld-10x10x10-2.stp',
      'weld/weld-60x10x10.stp',
      'weld/weld-60x10x10-2.stp',
      'weld/weld-30x20x10.stp',
    ]);

    const files = small();
    const source = await openSource(files, 'weld.stp');
    const [a, b, c, , e] = source.bodies.map(({ id }) => String(id)) as [
      string,
      string,
      string,
      string,
      string,
    ];
    const outline = outlineSplit(
      await scanFileSet(files),
      source,
      splitChoices({ names: { [a]: 'a/b', [c]: 'Träger', [e]: 'TRÄGER' } }),
      await measureBodies(kernel, source),
    );
    expect(outline.components).toMatchObject([
      { problem: 'A name cannot hold / or \\.', proposal: 'a-b' },
      { name: 'Träger', file: 'weld/Träger.stp', problem: null },
      { problem: 'Another file has this name.', proposal: 'TRÄGER-2' },
    ]);
    expect(b).not.toBe(a);
    await expect(
      planSplit(planningOn(await scanFileSet(files), files), { outline, choices: splitChoices() }),
    ).rejects.toThrow(/a\/b: A name cannot hold/);

    // A name that another component has from its body is a clash, too, whatever their files are called.
    const taken = outlineSplit(
      await scanFileSet(files),
      source,
      splitChoices({ names: { [c]: 'Plate' } }),
      await measureBodies(kernel, source),
    );
    expect(taken.components.slice(0, 2)).toMatchObject([
      { name: 'plate', problem: null },
      { problem: 'Another component has this name.', proposal: 'Plate-2' },
    ]);
  });

  it('leaves the source, keeps only the other bodies in it, or lets the assembly take its place', async () => {
    const kept = await split(small(), 'weld.stp');
    expect(kept.changes.changes.every(({ base }) => base === null)).toBe(true);

    const files = small();
    const [first, , third] = (await openSource(files, 'weld.stp')).bodies;
    const removed = await split(files, 'weld.stp', { rest: 'remove', bodies: [first!.id, third!.id] });
    const left = removed.after.files.get('weld.stp')!.scan;
    expect(left.error).toBeNull();
    expect(left.products[0]!.bodies.map(({ name }) => name)).toEqual(['plate 2', 'bar', '']);
    expect(removed.after.links.filter(({ kind }) => kind === 'source')).toEqual([]);
    await expect(split(small(), 'weld.stp', { rest: 'remove' })).rejects.toThrow(/left without bodies/);

    const replaced = await split(small(), 'weld.stp', { rest: 'replace' });
    expect(replaced.after.uses.get('top.stp')).toMatchObject([
      { to: 'weld/weld-assembly.stp', state: 'sound', occurrences: 2 },
    ]);
    expect(reportOf(replaced.after).totals).toMatchObject({ occurrences: 10, distinctParts: 3 });
  });

  it('can be one assembly file with the parts inside it, without a tie', async () => {
    const files = small();
    const before = await placedBodies(files, 'weld.stp');
    const { changes, outline, after } = await split(files, 'weld.stp', { inFile: true });
    expect(changes.changes.map(({ path }) => path)).toEqual(['weld/weld-assembly.stp']);
    expect(await placedBodies(files, outline.assembly)).toEqual(before);
    const whole = after.files.get(outline.assembly)!.scan;
    expect(whole.products.map(({ name, bodies }) => [name, bodies.length])).toEqual([
      ['Weldment', 0],
      ['plate', 1],
      ['bar', 1],
      ['weld-03', 1],
    ]);
    expect(whole.links).toEqual([]);
  });

  it('ties each file to its bodies; a newer source leaves it behind, and undo takes all back', async () => {
    const files = small();
    const { back, after } = await split(files, 'weld.stp');
    const link = after.uses.get('weld/bar.stp')![0]!;
    expect(link).toMatchObject({ kind: 'source', to: 'weld.stp', state: 'sound' });
    expect(link.source!.bodies.map(({ name }) => name)).toEqual(['bar', 'bar']);
    const before = after.files.get('weld.stp')!.sha256;
    const newer = writeBoxPart({ id: 'W', boxes: [{ name: 'plate' }, { name: 'bar', corner: [9, 9, 9] }] });
    const { sha256 } = await import('#core/project/change/file-set');
    const change = {
      action: 'write' as const,
      path: 'weld.stp',
      base: before,
      content: newer,
      sha256: sha256(newer),
      bytes: newer.length,
    };
    const undo = await files.apply({ summary: '', changes: [change], rewires: [], warnings: [] });
    expect(reportOf(await scanFileSet(files)).totals.behind).toBe(4);
    await files.apply(undo);
    await files.apply(back);
    expect((await files.list()).map(({ path }) => path).sort()).toEqual(['top.stp', 'weld.stp']);
  });
});

describe('before the split', () => {
  it('bodies that belong together become one component, and everything stays where it was', async () => {
    const files = small();
    const before = await placedBodies(files, 'weld.stp');
    const ids = new SourcePart('weld.stp', boxes()).bodies.map(({ id }) => id);
    const { outline, after } = await split(files, 'weld.stp', {
      together: [[ids[4]!, ids[1]!]],
      names: { [ids[4]!]: 'pair' },
    });
    expect(outline.components.map(({ name, group }) => [name, bodiesIn(group).length])).toEqual([
      ['plate', 1],
      ['pair', 2],
      ['bar', 2],
    ]);
    expect(await placedBodies(files, outline.assembly)).toEqual(before);
    expect(reportOf(after).totals).toMatchObject({ missing: 0, behind: 0 });
    expect(after.uses.get('weld/pair.stp')![0]!.source!.bodies.map(({ id }) => id)).toEqual([ids[1], ids[4]]);
  });

  it('a material is written to the part, keeps shapes apart, and can name them', async () => {
    const files = small();
    const ids = new SourcePart('weld.stp', boxes()).bodies.map(({ id }) => id);
    const { outline, after } = await split(files, 'weld.stp', {
      naming: 'number',
      pattern: '{number} {material}',
      materials: { [ids[0]!]: 'Steel', [ids[1]!]: 'Brass' },
    });
    expect(outline.components.map(({ file }) => file)).toEqual([
      'weld/01-Steel.stp',
      'weld/02-Brass.stp',
      'weld/03.stp',
      'weld/04.stp',
    ]);
    const materials = outline.components.map(({ file }) => after.files.get(file)!.scan.products[0]!.material);
    expect(materials).toEqual(['Steel', 'Brass', undefined, undefined]);
    expect(reportOf(after).totals.missing).toBe(0);
  });

  it('keeps mirrored pairs apart and in order beside joined bodies', async () => {
    const frame = new SourcePart(FRAME, readFileSync(`demo/files/hx-12/${FRAME}`));
    const measured = await measureBodies(kernel, frame);
    const pairs = (together: number[][]) => {
      const groups = groupBodies(frame, splitChoices({ together }), measured);
      const name = (n: number) => groups[n]!.representative.name;
      return groups.flatMap(({ mirrorOf }, n) =>
        mirrorOf === null ? [] : [`${name(n)} / ${name(mirrorOf)}`],
      );
    };
    const last = frame.bodies.filter(({ name }) => name === 'cable clip' || name === 'lifting lug');
    expect(last).toHaveLength(2);
    expect(pairs([last.map(({ id }) => id)])).toEqual(pairs([]));
  });

  it('other names and colours go to the components, and the source stays as it is', async () => {
    const files = new MemoryFileSet([[FRAME, readFileSync(`demo/files/hx-12/${FRAME}`)]]);
    const source = new SourcePart(FRAME, await files.read(FRAME));
    const [tube, ...others] = source.bodies;
    const { outline, after, changes } = await split(files, FRAME, {
      bodies: [tube!.id, others[0]!.id],
      bodyNames: { [tube!.id]: 'spine' },
      colours: { [tube!.id]: '#3366cc' },
    });
    const [first, second] = outline.components;
    expect(first).toMatchObject({ name: 'spine', file: 'mirror/mirror-frame/spine.stp' });
    const bodiesOf = (path: string) => after.files.get(path)!.scan.products[0]!.bodies;
    expect(bodiesOf(first!.file)).toMatchObject([{ colour: '#3366cc' }]);
    expect(bodiesOf(second!.file)).toMatchObject([{ colour: others[0]!.colour }]);
    // The tie knows the body by the name that the source has.
    expect(after.uses.get(first!.file)![0]!.source!.bodies).toEqual([{ id: tube!.id, name: tube!.name }]);
    expect(after.files.get(outline.assembly)!.scan.products[0]!.occurrences[0]!.name).toBe('spine');
    expect(changes.changes.map(({ path }) => path)).not.toContain(FRAME);
  });
});

describe('what cannot be split', () => {
  const attempt = (content: Uint8Array, given = {}) =>
    split(new MemoryFileSet([['p.stp', content]]), 'p.stp', given);
  it.each([
    ['a part with one body', writeBoxPart({ id: 'A' }), /has one body/],
    ['an assembly', testAssembly('A', [{ written: 'x.stp', id: 'X' }]), /is an assembly/],
    ['a text file', new TextEncoder().encode('hello'), /not a STEP file/],
  ])('says so: %s', async (_, content, words) => {
    await expect(attempt(content)).rejects.toThrow(words);
  });

  it('makes the file of a body that the kernel refuses, and says why its facts are missing', async () => {
    const files = small();
    const source = new SourcePart('weld.stp', boxes());
    const measured = new Map(await measureBodies(kernel, source));
    measured.set(source.bodies[2]!.id, { error: 'Computing this geometry crashed.' });
    const { outline, changes } = await split(files, 'weld.stp', {}, measured);
    expect(outline.components).toHaveLength(4);
    expect(changes.warnings).toEqual(['bar is split off without facts: Computing this geometry crashed.']);
  });

  it('takes bodies without names, of one name, and of names in every script and 300 characters', async () => {
    const names = [
      '',
      '',
      'same',
      'same',
      'x'.repeat(300),
      'деталь',
      '部品 1',
      'con',
      '../up',
      "it's",
      '   ',
    ];
    const content = writeBoxPart({
      id: 'N',
      boxes: names.map((name, n) => ({
        name,
        corner: [n * 20, 0, 0] as const,
        size: [10, 10, 10 + n] as const,
      })),
    });
    const { outline, after } = await attempt(content);
    expect(outline.components.map(({ file }) => file)).toEqual([
      'p/p-01.stp',
      'p/p-02.stp',
      'p/same.stp',
      'p/same-2.stp',
      `p/${'x'.repeat(80)}.stp`,
      'p/деталь.stp',
      'p/部品-1.stp',
      'p/part-con.stp',
      'p/up.stp',
      "p/it's.stp",
      'p/p-11.stp',
    ]);
    expect(reportOf(after).totals.missing).toBe(0);
  });
});
