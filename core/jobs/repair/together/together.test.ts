import { describe, expect, it } from 'vitest';
import { brokenLinks } from '#core/jobs/repair/plan';
import { clearWinner, rankCandidates } from '#core/jobs/repair/rank';
import { resolveProject } from '#core/project/scan/project';
import { atOnce } from '#core/steps';
import {
  DAMAGES,
  damagedProject,
  holderOf,
  MANNERS,
  partFile,
  partSets,
  seeded,
} from '#core/testing/damaged-project';
import { type Contender, confidenceSteps } from './confidence';
import { wayOf } from './renames';
import { NameWords, partsOf, splitName } from './words-of-files';

/** Not the one that the figures were found on. */
const SEED = 2026;
const SHARES = [0.05, 0.5, 1];

/** What an automatic repair does at two thresholds, over sets, manners and damages. */
function tried() {
  const counts = { right: 0, wrong: 0, open: 0 };
  const wrongWhenSure: string[] = [];
  const silent: string[] = [];
  const alarmed: string[] = [];
  let n = 0;
  for (const set of partSets(SEED).filter(({ name }) => name !== 'many'))
    for (const manner of MANNERS) {
      const sound = resolveProject(damagedProject(set, manner, null, 1, seeded(SEED)).files);
      if (brokenLinks(sound).length > 0) alarmed.push(`${set.name}, ${manner.name}`);
      for (const damage of DAMAGES) {
        const share = SHARES[n++ % SHARES.length]!;
        const { files, meant } = damagedProject(set, manner, damage, share, seeded(SEED + n));
        const project = resolveProject(files);
        const there = new Set(files.map(({ sha256 }) => sha256));
        for (const link of project.links) {
          const what = `${set.name}, ${manner.name}, ${damage.name}: ${link.written}`;
          const want = meant.get(`${link.holder}::${link.written}`)!;
          const leadsTo = (path: string | undefined) => path && project.files.get(path)!.sha256;
          if (link.to !== null) {
            if (manner.hasWitness && leadsTo(link.to) !== want) silent.push(what);
            continue;
          }
          const candidates = rankCandidates(project, link);
          const sure = leadsTo(clearWinner(candidates, 0.9)?.path);
          if (sure !== undefined && sure !== want) wrongWhenSure.push(what);
          if (!manner.hasWitness || !there.has(want)) continue;
          const likely = leadsTo(clearWinner(candidates, 0.6)?.path);
          counts[likely === undefined ? 'open' : likely === want ? 'right' : 'wrong']++;
        }
      }
    }
  return { counts, wrongWhenSure, silent, alarmed };
}

describe('links that are repaired together', () => {
  const { counts, wrongWhenSure, silent, alarmed } = tried();

  it('are never wrong at 0.9, whatever a system writes and people do', () =>
    expect(wrongWhenSure).toEqual([]));

  it('are right at 0.6 where anything in the files tells it', () => {
    const all = counts.right + counts.wrong + counts.open;
    expect(all).toBeGreaterThan(3000);
    expect(counts.right / all).toBeGreaterThan(0.98);
  });

  it('are found where files were swapped or turned round, if ids, names or volumes tell it', () =>
    expect(silent).toEqual([]));

  it('alarm nobody where nothing is wrong', () => expect(alarmed).toEqual([]));
});

describe('parts whose ids and names are much alike', () => {
  it('are told apart where files were turned round: what is asked for elsewhere is no other spelling', () => {
    const stems = ['inner-ring', 'outer-ring', 'cage'];
    const said = (n: number) => ({ id: `BRG-6018-${'IOC'[n]}`, name: `${stems[n]} 6018` });
    const files = stems.map((stem, n) =>
      partFile(`${stem}.stp`, `content ${(n + 1) % 3}`, said((n + 1) % 3)),
    );
    const asked = stems.map((stem, n) => ({ written: `${stem}.stp`, said: said(n) }));
    const project = resolveProject([...files, holderOf('bearing.stp', asked)]);
    const found = brokenLinks(project).map((link) => {
      const path = clearWinner(rankCandidates(project, link), 0.9)?.path;
      return path === undefined ? 'open' : project.files.get(path)!.sha256;
    });
    expect(found).toEqual(['content 0', 'content 1', 'content 2']);
  });
});

describe('how sure it is', () => {
  const confidences = (contenders: Contender[], count: number) => atOnce(confidenceSteps(contenders, count));
  const file = (n: number, sum: number) => ({ file: n, sum });

  it('is nearly certain for what much speaks for, and little for what nothing does', () => {
    const [[likely, other]] = confidences([{ part: 'a', files: [file(0, 12), file(1, 0)] }], 10) as [
      number[],
    ];
    expect(likely).toBeGreaterThan(0.99);
    expect(other).toBeLessThan(0.01);
    expect(confidences([{ part: 'a', files: [file(0, 0)] }], 10)[0]![0]).toBeLessThan(0.3);
  });

  it('gives a file to the part that it fits better, and the other one what is left', () => {
    const [first, second] = confidences(
      [
        { part: 'a', files: [file(0, 12), file(1, 4)] },
        { part: 'b', files: [file(0, 8), file(1, 6)] },
      ],
      10,
    );
    expect(first![0]).toBeGreaterThan(0.95);
    expect(second![0]).toBeLessThan(0.1);
    expect(second![1]).toBeGreaterThan(0.9);
  });

  it('lets links that ask for the same part have the same file, and others not', () => {
    const both = (parts: [string | null, string | null]) =>
      confidences(
        parts.map((part) => ({ part, files: [file(0, 8)] })),
        10,
      ).map(([belief]) => belief!);
    expect(Math.min(...both(['a', 'a']))).toBeGreaterThan(0.95);
    expect(Math.min(...both([null, null]))).toBeGreaterThan(0.95);
    expect(Math.max(...both(['a', 'b']))).toBeLessThan(0.6);
  });
});

describe('ways of renaming', () => {
  it.each([
    ['lid.stp', 'HX12-lid.stp', '+hx #|'],
    ['lid.stp', 'HX13 lid.stp', '+hx #|'],
    ['cover-left.stp', 'cover-left_rev-b.stp', '+|rev b'],
    ['cover-left_rev-a.stp', 'cover-left_rev-b.stp', 'end a>b'],
    ['housing-upper.stp', 'housing-up.stp', 'cut 10'],
    ['lid_04.stp', 'lid.stp', '-|#'],
    // Another size, and another part.
    ['screw-m6x20.stp', 'screw-m6x25.stp', undefined],
    ['lid.stp', 'cover.stp', undefined],
  ])('%s -> %s: %s', (a, b, way) => expect(wayOf(partsOf(a), partsOf(b))).toBe(way));
});

describe('words of file names', () => {
  it.each([
    ['GearBox_07.stp', 'gear box 7'],
    ['Gehäuse-Größe 2.stp', 'gehause grosse 2'],
    ['m6x20.stp', 'm 6 x 20'],
  ])('%s: %s', (name, words) => expect(splitName(name).join(' ')).toBe(words));

  it('tell the less, the more files have them', () => {
    const names = atOnce(
      NameWords.steps(['part-lid.stp', 'part-cover.stp', 'part-bush.stp', 'part-ring.stp']),
    );
    expect(names.likeness('part-lid', 'x-lid')).toBeGreaterThan(names.likeness('part-lid', 'part-x'));
  });
});
