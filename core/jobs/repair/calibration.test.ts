import { describe, expect, it } from 'vitest';
import { IDENTITY } from '#core/product/matrix';
import { writeAssembly } from '#core/product/write-assembly';
import { write } from '#core/project/change/change-set';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import { brokenLinks } from './plan';
import { clearWinner, rankCandidates } from './rank';

/*
 * Projects as several kinds of systems write them, with links broken in the ways that people break them. The file that is meant is
 * always there. Counted is what an automatic repair takes.
 */

/** How a system designates a part: in the part's own file, and in the stand-in of the assembly. */
interface Manner {
  part(stem: string, n: number): { id: string; name: string };
  standIn(stem: string, n: number): { id: string; name: string };
  file(stem: string, n: number): string;
}

const number = (n: number) => `4711-${100 + n}`;
const MANNERS: { [name: string]: Manner } = {
  'ids and names': {
    part: (stem, n) => ({ id: number(n), name: stem }),
    standIn: (stem, n) => ({ id: number(n), name: stem }),
    file: (stem) => `${stem}.stp`,
  },
  'files named by number': {
    part: (stem, n) => ({ id: number(n), name: stem }),
    standIn: (stem, n) => ({ id: number(n), name: stem }),
    file: (_, n) => `${number(n)}.stp`,
  },
  'names only': {
    part: (stem) => ({ id: '', name: stem }),
    standIn: (stem) => ({ id: '', name: stem }),
    file: (stem) => `${stem}.step`,
  },
  'every part is MASTER': {
    part: () => ({ id: 'MASTER', name: 'MASTER' }),
    standIn: (stem) => ({ id: stem, name: stem }),
    file: (stem) => `${stem}.stp`,
  },
  'stand-ins of another system': {
    part: (_, n) => ({ id: `P${9000 + n * 7}`, name: `Solid ${n}` }),
    standIn: (stem) => ({ id: `${stem}_1`, name: `${stem}_1` }),
    file: (stem) => `${stem}.stp`,
  },
  'one id for a family': {
    part: (stem) => ({ id: stem.split('-')[0]!, name: stem }),
    standIn: (stem) => ({ id: stem.split('-')[0]!, name: stem }),
    file: (stem) => `${stem}.stp`,
  },
};

const STEMS = [
  'screw-m6x20',
  'screw-m6x25',
  'screw-m8x20',
  'housing-left',
  'housing-right',
  'shaft-drive',
  'shaft-output',
  'bearing-6004',
  'cover-front',
];

/** What became of a part's file outside. */
const BREAKS: { [name: string]: (path: string) => string } = {
  'a revision': (path) => path.replace(/(\.\w+)$/, '_rev-b$1'),
  'a revision in another folder': (path) =>
    `released/${path
      .split('/')
      .at(-1)!
      .replace(/(\.\w+)$/, '-v2$1')}`,
  'other separators': (path) => path.replaceAll('-', '_'),
  'upper case and a copy': (path) =>
    path.replace(/[^/]+$/, (name) => name.replace(/(\.\w+)$/, ' (2)$1').toUpperCase()),
  'another name': (path) => path.replace(/[^/]+(\.\w+)$/, 'zz new part$1'),
  'a name with a prefix': (path) => path.replace(/([^/]+)$/, 'HX_$1'),
};

function project(manner: Manner, broken: number, how: (path: string) => string, leftOvers: number) {
  const files = new MemoryFileSet([
    ...STEMS.map((stem, n) => {
      const path = `parts/${manner.file(stem, n)}`;
      const bytes = writeBoxPart({ ...manner.part(stem, n), boxes: [{ size: [10 + n, 20, 30] }] });
      return [n === broken ? how(path) : path, bytes] as const;
    }),
    ...Array.from({ length: leftOvers }, (_, n) => {
      const bytes = writeBoxPart({ id: `OLD-${n}`, name: `trial ${n}`, boxes: [{ size: [3, 4, 5 + n] }] });
      return [`old/trial ${n}.stp`, bytes] as const;
    }),
    [
      'top.stp',
      writeAssembly({
        id: 'TOP',
        name: 'Top',
        fileName: 'top.stp',
        timeStamp: '2026-01-01T00:00:00',
        components: STEMS.map((stem, n) => ({
          ...manner.standIn(stem, n),
          written: `parts/${manner.file(stem, n)}`,
          placings: [{ name: '', placement: IDENTITY }],
        })),
      }),
    ] as const,
  ]);
  return { files, meant: how(`parts/${manner.file(STEMS[broken]!, broken)}`) };
}

async function count(threshold: number) {
  const counts = { right: 0, wrong: 0, open: 0 };
  const open: string[] = [];
  for (const [manner, system] of Object.entries(MANNERS))
    for (const [how, change] of Object.entries(BREAKS))
      for (const [at, broken] of [0, 3, 5, 7].entries()) {
        const { files, meant } = project(system, broken, change, at % 2 === 0 ? 0 : 2);
        const scanned = await scanFileSet(files);
        const links = brokenLinks(scanned);
        expect(links, `${manner}, ${how}`).toHaveLength(1);
        const winner = clearWinner(rankCandidates(scanned, links[0]!), threshold);
        counts[winner === undefined ? 'open' : winner.path === meant ? 'right' : 'wrong']++;
        if (winner?.path !== meant) open.push(`${manner}: ${how}, ${STEMS[broken]} ${winner?.path ?? ''}`);
      }
  return { counts, open };
}

describe('links whose file is there', () => {
  it('are repaired at 0.6 but for the few of which nothing tells, and never wrongly', async () => {
    const { counts, open } = await count(0.6);
    const total = counts.right + counts.wrong + counts.open;
    expect(total).toBe(144);
    expect(counts.wrong, open.join('\n')).toBe(0);
    expect(counts.right / total, open.join('\n')).toBeGreaterThan(155 / 162);
  });

  it('are repaired at 0.9 when an id says it that no other file carries, whatever the file is called, but for a copy', async () => {
    const { counts, open } = await count(0.9);
    expect(counts.wrong).toBe(0);
    // What seems to be a copy is asked about.
    const tellsIt = /^(ids and names|files named by number): (?!upper case and a copy)/;
    expect(open.filter((line) => tellsIt.test(line))).toEqual([]);
  });
});

describe('two of a family that shares an id', () => {
  it('are told apart by their names: the one that is there is taken, the one that is gone is not', async () => {
    const manner = MANNERS['one id for a family']!;
    const { files } = project(manner, 4, (path) => path.replace('housing-right', 'zz new'), 0);
    const gone = (await files.list()).find(({ path }) => path === 'parts/housing-left.stp')!;
    await files.apply({
      summary: '',
      changes: [{ action: 'delete', path: gone.path, base: gone.sha256 }],
      rewires: [],
      warnings: [],
    });
    const scanned = await scanFileSet(files);
    const taken = brokenLinks(scanned).map((link) => [
      link.written,
      clearWinner(rankCandidates(scanned, link), 0.6)?.path,
    ]);
    expect(taken).toEqual([
      ['parts/housing-left.stp', undefined],
      ['parts/housing-right.stp', 'parts/zz new.stp'],
    ]);
  });
});

describe('links whose file is gone', () => {
  it.each([
    ['elsewhere', 'old', Object.keys(MANNERS)],
    // Where products say nothing, what is left over in the very folder is all there is to go by.
    [
      'beside the others',
      'parts',
      ['ids and names', 'files named by number', 'names only', 'one id for a family'],
    ],
  ])('are left open, also when something is left over %s', async (_, folder, manners) => {
    for (const name of manners) {
      const manner = MANNERS[name]!;
      const { files } = project(manner, 3, (path) => path, 0);
      const trial = writeBoxPart({ id: 'OLD-1', name: 'trial 1', boxes: [{ size: [3, 4, 5] }] });
      await files.apply({
        summary: '',
        changes: [write(`${folder}/trial 1.stp`, null, trial)],
        rewires: [],
        warnings: [],
      });
      const path = `parts/${manner.file(STEMS[3]!, 3)}`;
      const base = (await files.list()).find((entry) => entry.path === path)!.sha256;
      await files.apply({
        summary: '',
        changes: [{ action: 'delete', path, base }],
        rewires: [],
        warnings: [],
      });
      const scanned = await scanFileSet(files);
      const [link] = brokenLinks(scanned);
      expect(clearWinner(rankCandidates(scanned, link!), 0.6), name).toBeUndefined();
    }
  });
});
