import { describe, expect, it } from 'vitest';
import { brokenLinks, planRepair } from '#core/jobs/repair/plan';
import { rankCandidates } from '#core/jobs/repair/rank';
import { planningOn } from '#core/planning';
import { IDENTITY } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { holderOf, partFile } from '#core/testing/damaged-project';
import { resolveProject } from './project';
import { scanFileSet } from './scan';

interface Part {
  /** Path of the file. */
  path: string;
  id: string;
  name: string;
  /** What the assembly asks for; the part itself unless it says otherwise. */
  asked?: { id: string; name: string };
}

const STEMS = ['base', 'lid', 'shaft', 'gear', 'cover', 'seal', 'bush', 'pin', 'plate', 'cap'];
const parts = (count: number): Part[] =>
  STEMS.slice(0, count).map((stem, n) => ({
    path: `parts/${stem}.stp`,
    id: `N-${n + 1}`,
    name: `The ${stem}`,
  }));

function project(all: readonly Part[], others: readonly Part[] = [], written = (path: string) => path) {
  const file = ({ path, id, name }: Part) =>
    [path, writeBoxPart({ id, name, boxes: [{ size: [1, 2, 3] }] })] as const;
  const components = all.map(({ path, id, name, asked }) => ({
    ...(asked ?? { id, name }),
    written: written(path),
    placings: [{ name: '', placement: IDENTITY }],
  }));
  const assembly = {
    id: 'TOP',
    name: 'Top',
    fileName: 'top.stp',
    timeStamp: '2026-01-01T00:00:00',
    components,
  };
  return new MemoryFileSet([...all.map(file), ...others.map(file), ['top.stp', writeAssembly(assembly)]]);
}

/** Two parts whose files got each other's name. */
function swapped(all: readonly Part[], a: number, b: number): Part[] {
  return all.map((part, n) => {
    if (n !== a && n !== b) return part;
    const other = all[n === a ? b : a]!;
    return { path: part.path, id: other.id, name: other.name, asked: { id: part.id, name: part.name } };
  });
}

/** Another part under the name of one that now lies elsewhere. */
function withDecoy(all: readonly Part[], at: number): { all: Part[]; moved: Part } {
  const meant = all[at]!;
  return {
    all: all.map((part, n) =>
      n === at
        ? { path: part.path, id: 'X-9', name: 'Decoy', asked: { id: part.id, name: part.name } }
        : part,
    ),
    moved: { ...meant, path: `store/${meant.name}.stp` },
  };
}

describe('a link that leads to a wrong part', () => {
  const sizes = [2, 3, 4, 6, 10];
  it.each(sizes.flatMap((size) => [0, 1].map((at) => [size, at] as const)))(
    'is noticed among %i links where a decoy has the name (%i)',
    async (size, at) => {
      const { all, moved } = withDecoy(parts(size), at);
      const scanned = await scanFileSet(project(all, [moved]));
      const broken = brokenLinks(scanned);
      expect(broken.map(({ written, state }) => [written, state])).toEqual([[all[at]!.path, 'ambiguous']]);
      expect(broken[0]!.reason).toMatch(/is Decoy \(X-9\), not The \w+ \(N-\d\) as asked for/);
      expect(rankCandidates(scanned, broken[0]!)[0]!.path).toBe(moved.path);
    },
  );

  it.each(sizes.flatMap((size) => [0, 1].map((at) => [size, at] as const)))(
    'is noticed among %i links where two have changed names (%i)',
    async (size, at) => {
      const all = parts(size);
      const [a, b] = [at, (at + 1) % size];
      const scanned = await scanFileSet(project(swapped(all, a, b)));
      const broken = brokenLinks(scanned);
      expect(broken.map(({ written }) => written).sort()).toEqual([all[a]!.path, all[b]!.path].sort());
      for (const link of broken) {
        const meant = all.find(({ path }) => path === link.written)! === all[a] ? all[b]! : all[a]!;
        expect(rankCandidates(scanned, link)[0]!.path).toBe(meant.path);
      }
    },
  );

  it('is noticed where the only file of that name lies far away', async () => {
    const all = parts(4);
    const far = all.map((part, n) =>
      n === 2 ? { ...part, path: 'archive/shaft.stp', id: 'Q', name: 'Old shaft', asked: part } : part,
    );
    const scanned = await scanFileSet(
      project(far, [], (path) => (path.startsWith('archive') ? 'parts/shaft.stp' : path)),
    );
    expect(scanned.links.map(({ state }) => state)).toEqual(['sound', 'sound', 'ambiguous', 'sound']);
    expect(scanned.links[2]).toMatchObject({ to: null, rivals: ['archive/shaft.stp'] });
    expect(scanned.links[2]!.reason).toContain('the only file of that name, is Old shaft (Q)');
  });

  it('is settled by choosing the part that is meant, or this one on purpose', async () => {
    const { all, moved } = withDecoy(parts(4), 1);
    for (const target of [moved.path, all[1]!.path]) {
      const files = project(all, [moved]);
      const scanned = await scanFileSet(files);
      const [link] = brokenLinks(scanned);
      const plan = await planRepair(planningOn(scanned, files), [
        { holder: 'top.stp', written: link!.written, target },
      ]);
      expect(plan.warnings).toEqual(
        target === moved.path ? [] : ['top.stp asked for The lid. It will ask for Decoy, which was chosen.'],
      );
      const back = await files.apply(plan);
      const after = await scanFileSet(files);
      expect(after.links.map(({ state, to }) => [state, to])).toContainEqual(['sound', target]);
      expect(brokenLinks(after)).toEqual([]);
      await files.apply(back);
      expect((await scanFileSet(files)).links).toEqual(scanned.links);
    }
  });
});

describe('a link that fits in a way of its own', () => {
  const broken = async (all: readonly Part[], others?: readonly Part[]) =>
    brokenLinks(await scanFileSet(project(all, others)));

  it('is sound where no stand-in fits: the system writes something else there', async () => {
    const all = parts(6);
    expect(
      await broken(all.map((part, n) => ({ ...part, asked: { id: `Part${n}`, name: `Part${n}` } }))),
    ).toEqual([]);
    expect(await broken(all.map((part) => ({ ...part, id: 'MASTER', name: 'MASTER', asked: part })))).toEqual(
      [],
    );
  });

  it('is sound where no stand-in fits, even if another file happens to carry an id', async () => {
    const all = parts(4).map((part, n) => ({ ...part, asked: { id: `Part${n}`, name: `Part${n}` } }));
    const other = { path: 'else/where.stp', id: 'Part2', name: 'Something else' };
    expect(await broken(all, [other])).toEqual([]);
  });

  it('is sound when the id or the name agrees, in whatever case', async () => {
    const all = parts(4).map((part, n) =>
      n === 1
        ? { ...part, asked: { id: part.id.toLowerCase(), name: 'Renamed' } }
        : n === 2
          ? { ...part, asked: { id: 'other', name: part.name.toUpperCase() } }
          : part,
    );
    expect(await broken(all)).toEqual([]);
  });

  it.each([3, 5])('is sound when most or half of its neighbours, of %i, do not fit either', async (count) => {
    const all = parts(count).map((part, n) =>
      n > 0 ? { ...part, asked: { id: `S${n}`, name: `Solid ${n}` } } : part,
    );
    expect(await broken(all)).toEqual([]);
  });
});

describe('files that were permuted', () => {
  /** Each assembly asks for its parts by path; a part says what it is by id, or by volume where ids say nothing. */
  function permuted(holders: readonly (readonly number[])[], turn: (n: number) => number, byVolume: boolean) {
    const said = (n: number) =>
      byVolume ? { id: 'MASTER', name: 'MASTER', volume: 100 + n } : { id: `N-${n}`, name: `Part ${n}` };
    const parts = holders.flat().map((n) => partFile(`parts/${n}.stp`, `c${turn(n)}`, said(turn(n))));
    const assemblies = holders.map((own, k) =>
      holderOf(
        `a${k}.stp`,
        own.map((n) => ({ written: `parts/${n}.stp`, said: said(n) })),
      ),
    );
    return resolveProject([...parts, ...assemblies]);
  }
  const HOLDERS = [
    [0, 1, 2],
    [3, 4, 5],
    [6, 7],
  ];

  it.each([
    ['ids', false],
    ['volumes', true],
  ])('are noticed across the whole project by %s, in a circle of any length', (_, byVolume) => {
    for (const length of [2, 3, 5, 8]) {
      const turn = (n: number) => (n < length ? (n + 1) % length : n);
      const project = permuted(HOLDERS, turn, byVolume);
      const doubted = project.links.filter(({ state }) => state === 'ambiguous');
      expect(doubted.map(({ written }) => written)).toEqual(
        Array.from({ length }, (_, n) => `parts/${n}.stp`),
      );
      for (const link of doubted) {
        const best = rankCandidates(project, link)[0]!;
        expect(project.files.get(best.path)!.sha256).toBe(`c${link.written.match(/\d+/)![0]}`);
      }
    }
    expect(permuted(HOLDERS, (n) => n, byVolume).links.every(({ state }) => state === 'sound')).toBe(true);
  });

  it('says that the volume is another one where words say nothing', () => {
    const [link] = permuted(HOLDERS, (n) => (n < 2 ? 1 - n : n), true).links;
    expect(link!.reason).toBe(
      '0.stp, where the link says, has another volume than is asked for, and another link fits. 1.stp is that part.',
    );
  });

  it('costs no more for each link where all are permuted', () => {
    const time = (count: number) => {
      const holders = [Array.from({ length: count }, (_, n) => n)];
      const start = performance.now();
      permuted(holders, (n) => (n + 1) % count, false);
      return performance.now() - start;
    };
    time(1000);
    expect(time(8000)).toBeLessThan(8 * 4 * time(1000));
  });
});
