import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Part21File } from '#core/files/part21/file';
import { CutError, type CutStep, type Point } from '#core/geometry/shape/cut';
import { cutBody } from '#core/geometry/shape/cut-body';
import { reportOf } from '#core/jobs/scan/scan-report';
import { openSource } from '#core/jobs/split/plan';
import { planningOn } from '#core/planning';
import { readStructure } from '#core/product/structure';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { structureTable } from '#core/project/scan/structure-table';
import { type BoxToWrite, writeBoxPart } from '#core/testing/box-part';
import { kernel } from '#core/testing/kernel';
import { testAssembly } from '#core/testing/projects';
import { CutChoices } from './choices';
import { kernelUnitOf, withPieces } from './pieces';
import { planCut } from './plan';

const BAR: BoxToWrite = { name: 'bar', corner: [0, 0, 0], size: [100, 20, 10] };
const across = (x: number): CutStep => ({
  piece: '',
  cutter: { kind: 'plane', at: [x, 0, 0], normal: [1, 0, 0] },
});

async function cutFirst(files: MemoryFileSet, path: string, steps: CutStep[]) {
  const source = await openSource(files, path);
  const body = source.bodies[0]!;
  const pieces = await cutBody(kernel, source.file.bytes, body.id, steps, kernelUnitOf(source, body));
  return { source, body, pieces };
}

async function volumesOf(bytes: Uint8Array): Promise<number[]> {
  const bodies = readStructure(Part21File.read(bytes)).products.flatMap((product) => product.bodies);
  const shapes = await kernel.shapeBodies(
    bytes,
    bodies.map(({ id }) => id),
    { mesh: false },
  );
  return shapes.map((shape) => ('facts' in shape ? Math.round(shape.facts.volume * 1000) / 1000 : -1));
}

describe('a body that is cut', () => {
  const part = (unit: 'mm' | 'in' = 'mm') =>
    new MemoryFileSet([
      ['bar.stp', writeBoxPart({ id: 'BAR', unit, boxes: [BAR, { name: 'pin', corner: [0, 50, 0] }] })],
    ]);

  it('falls into pieces, largest first, and a piece into pieces of its own', async () => {
    const { pieces } = await cutFirst(part(), 'bar.stp', [
      across(30),
      { piece: '1', cutter: { kind: 'plane', at: [50, 0, 0], normal: [1, 0, 0] } },
    ]);
    expect(pieces.map(({ path, facts }) => [path, Math.round(facts.volume)])).toEqual([
      ['1.1', 10_000],
      ['1.2', 4000],
      ['2', 6000],
    ]);
    expect(pieces.every(({ sliver, mesh }) => sliver === null && mesh.triangles.length >= 36)).toBe(true);
  });

  it('is cut along a line that need not reach its sides, straight or with corners, and out of a closed one', async () => {
    const line = async (...points: Point[]) => {
      const cutter = { kind: 'line' as const, points, along: [0, 0, 1] as Point };
      const { pieces } = await cutFirst(part(), 'bar.stp', [{ piece: '', cutter }]);
      return pieces.map(({ facts }) => Math.round(facts.volume));
    };
    expect(await line([40, 8, 10], [40, 12, 10])).toEqual([12_000, 8000]);
    expect(await line([40, 5, 10], [40, 10, 10], [60, 10, 10])).toEqual([14_000, 6000]);
    expect(await line([10, 5, 0], [20, 5, 0], [20, 15, 0], [10, 15, 0], [10, 5, 0])).toEqual([19_000, 1000]);
  });

  it('is cut by a face of another body, as far as its surface goes', async () => {
    const files = new MemoryFileSet([
      ['bar.stp', writeBoxPart({ id: 'BAR', boxes: [BAR, { corner: [70, 50, 0], size: [5, 5, 5] }] })],
    ]);
    const source = await openSource(files, 'bar.stp');
    const volumes = new Set<string>();
    for (let face = 0; face < 6; face++) {
      const steps: CutStep[] = [{ piece: '', cutter: { kind: 'face', of: source.bodies[1]!.id, face } }];
      const result = await cutFirst(files, 'bar.stp', steps).catch((error: CutError) => error);
      if (result instanceof CutError) expect(result.message).toContain('misses');
      else volumes.add(result.pieces.map(({ facts }) => Math.round(facts.volume)).join(' '));
    }
    // Two of its planes cross the bar at 70 and 75, one at half its height; the others miss or only touch.
    expect([...volumes].sort()).toEqual(['10000 10000', '14000 6000', '15000 5000']);
  });

  it('says when a cut misses, which one it was, and when a piece is a sliver', async () => {
    await expect(
      cutFirst(part(), 'bar.stp', [across(30), { ...across(30), piece: '1' }]),
    ).rejects.toMatchObject({
      step: 1,
      message: expect.stringContaining('misses'),
    });
    await expect(cutFirst(part(), 'bar.stp', [across(400)])).rejects.toThrow('misses');
    await expect(cutFirst(part(), 'bar.stp', [{ ...across(30), piece: '7' }])).rejects.toThrow('no piece 7');
    const { pieces } = await cutFirst(part(), 'bar.stp', [across(99.98)]);
    expect(pieces.map(({ sliver }) => sliver?.slice(0, 21) ?? null)).toEqual([null, 'A sliver: 0.02 mm thi']);
  });

  it('keeps its volume however it is cut', async () => {
    const coordinate = (size: number) => fc.double({ min: 0.2 * size, max: 0.8 * size, noNaN: true });
    const direction = fc.double({ min: -1, max: 1, noNaN: true });
    await fc.assert(
      fc.asyncProperty(
        fc.tuple(coordinate(100), coordinate(20), coordinate(10)),
        fc.tuple(direction, direction, direction).filter((normal) => Math.hypot(...normal) > 0.1),
        async (at, normal) => {
          const { pieces } = await cutFirst(part(), 'bar.stp', [
            { piece: '', cutter: { kind: 'plane', at, normal } },
          ]);
          expect(pieces).toHaveLength(2);
          expect(pieces[0]!.facts.volume + pieces[1]!.facts.volume).toBeCloseTo(20_000, 4);
          // The middle of each piece is on its own side.
          const side = pieces.map(({ facts }) =>
            Math.sign(facts.centre.reduce((sum, value, n) => sum + (value - at[n]!) * normal[n]!, 0)),
          );
          expect(side[0]! * side[1]!).toBe(-1);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('gives way to its pieces in the file, in the file’s own unit; everything else stays byte for byte', async () => {
    for (const unit of ['mm', 'in'] as const) {
      const scale = unit === 'in' ? 25.4 : 1;
      const { source, body, pieces } = await cutFirst(part(unit), 'bar.stp', [across(30 * scale)]);
      const { bytes, ids } = withPieces(
        source,
        body,
        pieces.map(({ path, ...piece }) => ({ ...piece, name: `bar, ${path}. “Stück”` })),
      );
      const structure = readStructure(Part21File.read(bytes));
      expect(structure.products[0]!.bodies.map(({ name }) => name)).toEqual([
        'pin',
        'bar, 1. “Stück”',
        'bar, 2. “Stück”',
      ]);
      expect(structure.products[0]!.bodies.slice(1).map(({ id }) => id)).toEqual(ids);
      expect((await volumesOf(bytes)).map((volume) => volume / scale ** 3)).toEqual([
        expect.closeTo(1000, 2),
        expect.closeTo(14_000, 2),
        expect.closeTo(6000, 2),
      ]);
      const lines = (text: Uint8Array) => new Set(Buffer.from(text).toString('latin1').split('\n'));
      const before = lines(source.file.bytes);
      const kept = [...lines(bytes)].filter((line) => before.has(line));
      expect(kept.length).toBeGreaterThan(before.size / 3);
    }
  });

  it('hands its colour and its layer to the pieces', async () => {
    const frame = readFileSync('demo/files/hx-12/mirror/mirror-frame.stp');
    const files = new MemoryFileSet([['frame.stp', frame]]);
    const source = await openSource(files, 'frame.stp');
    const body = source.bodies.find(({ name }) => name === 'seat tube') ?? source.bodies[0]!;
    const shapes = await kernel.shapeBodies(frame, [body.id]);
    const { centre, box } = 'facts' in shapes[0]! ? shapes[0].facts : expect.fail();
    const sides = [0, 1, 2].map((n) => box[n + 3]! - box[n]!);
    const longest = sides.indexOf(Math.max(...sides));
    const normal = [0, 1, 2].map((n) => (n === longest ? 1 : 0)) as [number, number, number];
    const pieces = await cutBody(
      kernel,
      frame,
      body.id,
      [{ piece: '', cutter: { kind: 'plane', at: centre, normal } }],
      'MM',
    );
    const { bytes, ids } = withPieces(
      source,
      body,
      pieces.map(({ path, ...piece }) => ({ ...piece, name: path })),
    );
    const bodies = readStructure(Part21File.read(bytes)).products.flatMap((product) => product.bodies);
    expect(bodies).toHaveLength(source.bodies.length + pieces.length - 1);
    for (const id of ids) expect(bodies.find((own) => own.id === id)!.colour).toBe(body.colour);
  });
});

describe('colours of single faces', () => {
  const [body, top, end] = ['#336699', '#00ff00', '#ff0000'];
  const looks = async (box: BoxToWrite, steps: CutStep[]) => {
    const files = new MemoryFileSet([['bar.stp', writeBoxPart({ id: 'BAR', boxes: [{ ...BAR, ...box }] })]]);
    const { source, body: cut, pieces } = await cutFirst(files, 'bar.stp', steps);
    const { bytes } = withPieces(
      source,
      cut,
      pieces.map(({ path, ...piece }) => ({ ...piece, name: path })),
    );
    return Object.fromEntries(
      readStructure(Part21File.read(bytes)).products[0]!.bodies.map(({ name, colour, faceColours }) => [
        name,
        [
          colour,
          ...(faceColours?.others.map((other) => `${other.faces.length} ${other.colour}`).sort() ?? []),
        ],
      ]),
    );
  };

  it('stay with what is left of the faces, through several cuts', async () => {
    const box = { colour: body, faceColours: { 1: top, 4: end } };
    const halved: CutStep = { piece: '1', cutter: { kind: 'plane', at: [0, 10, 0], normal: [0, 1, 0] } };
    expect(await looks(box, [across(30), halved])).toEqual({
      '1.1': [body, `1 ${top}`],
      '1.2': [body, `1 ${top}`],
      2: [body, `1 ${top}`, `1 ${end}`],
    });
  });

  it('give the new faces the colour of most when the body has none of its own', async () => {
    const all = { 0: body, 1: top, 2: body, 3: body, 4: body, 5: body };
    expect(await looks({ faceColours: all }, [across(30)])).toEqual({
      1: [body, `1 ${top}`],
      2: [body, `1 ${top}`],
    });
    expect(await looks({ faceColours: { 1: top } }, [across(30)])).toEqual({
      1: [null, `1 ${top}`],
      2: [null, `1 ${top}`],
    });
  });

  it('know which face is which: what they lie on says so', async () => {
    const faceColours = {
      0: '#000001',
      1: '#000002',
      2: '#000003',
      3: '#000004',
      4: '#000005',
      5: '#000006',
    };
    const files = new MemoryFileSet([
      ['bar.stp', writeBoxPart({ id: 'BAR', boxes: [{ ...BAR, faceColours }] })],
    ]);
    const { pieces } = await cutFirst(files, 'bar.stp', [across(30)]);
    for (const { faces, mesh } of pieces) {
      expect([...faces].sort()).toEqual(expect.arrayContaining([0, 1, 2, 3, null]));
      for (const [n, from] of faces.entries()) {
        if (from === null) continue;
        const [axis, at] = [2, 2, 1, 1, 0, 0].map((a, k) => [a, k % 2 ? BAR.size![a]! : 0])[from]!;
        const [first, count] = [mesh.faceGroups[2 * n]!, mesh.faceGroups[2 * n + 1]!];
        for (const vertex of mesh.triangles.subarray(first, first + count))
          expect(mesh.positions[3 * vertex + axis!]).toBeCloseTo(at!, 5);
      }
    }
  });
});

describe('the pieces become', () => {
  const project = (boxes: BoxToWrite[]) =>
    new MemoryFileSet([
      ['parts/bar.stp', writeBoxPart({ id: 'BAR', boxes })],
      ['unit.stp', testAssembly('UNIT', [{ written: 'parts/bar.stp', id: 'BAR', times: 2 }])],
    ]);

  async function cutProject(boxes: BoxToWrite[], choices: Partial<CutChoices>) {
    const files = project(boxes);
    const { source, body, pieces } = await cutFirst(files, 'parts/bar.stp', [across(30)]);
    const changes = await planCut(planningOn(await scanFileSet(files), files), {
      source,
      body,
      pieces,
      choices: CutChoices.parse(choices),
    });
    const undo = await files.apply(changes);
    const after = await scanFileSet(files);
    return { files, changes, undo, after, report: reportOf(after) };
  }
  const PIN: BoxToWrite = { name: 'pin', corner: [0, 50, 0] };

  it('bodies of the part, which can be undone', async () => {
    const { files, changes, undo, after } = await cutProject([BAR, PIN], { names: { '2': 'short end' } });
    expect(changes.summary).toBe('Cut bar of bar.stp into 2 bodies');
    const names = after.files.get('parts/bar.stp')!.scan.products[0]!.bodies.map(({ name }) => name);
    expect(names).toEqual(['pin', 'bar 1', 'short end']);
    const before = await project([BAR, PIN]).read('parts/bar.stp');
    await files.apply(undo);
    expect(Buffer.from(await files.read('parts/bar.stp')).equals(Buffer.from(before))).toBe(true);
  });

  it('components nested in an assembly that takes the part’s place', async () => {
    const { report, after, files } = await cutProject([BAR, PIN], {
      as: 'nested',
      names: { '1': 'long end' },
    });
    expect(report.totals).toMatchObject({
      missing: 0,
      ambiguous: 0,
      loop: 0,
      occurrences: 6,
      distinctParts: 3,
    });
    expect(report.roots).toEqual(['unit.stp']);
    const rows = structureTable(after, 'unit.stp', true).rows.map(({ depth, file }) => `${depth} ${file}`);
    expect(rows.slice(0, 5)).toEqual([
      '0 unit.stp',
      '1 parts/bar/bar-assembly.stp',
      '2 parts/bar.stp',
      '2 parts/bar/long end.stp',
      '2 parts/bar/bar-2.stp',
    ]);
    expect(await volumesOf(await files.read('parts/bar.stp'))).toEqual([1000]);
    expect(await volumesOf(await files.read('parts/bar/long end.stp'))).toEqual([14_000]);
  });

  it('components beside the part, wherever it is used', async () => {
    const { report, after } = await cutProject([BAR, PIN], { as: 'top' });
    expect(report.totals).toMatchObject({
      missing: 0,
      ambiguous: 0,
      loop: 0,
      occurrences: 6,
      distinctParts: 3,
    });
    const { rows, instances, bodies } = structureTable(after, 'unit.stp', true);
    expect(rows.map(({ depth, file }) => `${depth} ${file}`)).toEqual([
      '0 unit.stp',
      '1 parts/bar.stp',
      '1 parts/bar/bar-1.stp',
      '1 parts/bar/bar-2.stp',
    ]);
    // Each piece stands twice, 20 mm apart, as the part does.
    const ends = instances.filter(
      ({ body }) => bodies[body]!.sha256 === after.files.get('parts/bar/bar-2.stp')!.sha256,
    );
    expect(ends.map(({ placement }) => placement[3])).toEqual([0, 20]);
  });

  it('the part itself, when it had no other body', async () => {
    for (const as of ['nested', 'top'] as const) {
      const { report, changes } = await cutProject([BAR], { as });
      expect(report.totals).toMatchObject({ missing: 0, occurrences: 4, distinctParts: 2 });
      expect(report.unused).toEqual(['parts/bar.stp']);
      expect(changes.warnings).toEqual([expect.stringContaining('no other body')]);
    }
  });

  it('files only under names that can be used', async () => {
    await expect(cutProject([BAR, PIN], { as: 'nested', names: { '1': 'a/b' } })).rejects.toThrow(
      'cannot hold',
    );
  });
});
