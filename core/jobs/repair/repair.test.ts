import { describe, expect, it } from 'vitest';
import { reportOf } from '#core/jobs/scan/scan-report';
import { splitChoices } from '#core/jobs/split/choices';
import { openSource, outlineSplit, planSplit } from '#core/jobs/split/plan';
import { planningOn } from '#core/planning';
import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
import { MemoryFileSet } from '#core/project/change/memory';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { scanFileSet } from '#core/project/scan/scan';
import { Refusal } from '#core/refusal';
import { atOnce } from '#core/steps';
import { type BoxToWrite, writeBoxPart } from '#core/testing/box-part';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { nameDifference } from './name-difference';
import { brokenLinks, linksWrittenAlike, planRepair } from './plan';
import { clearWinner, rankCandidates, rankSteps } from './rank';
import type { LastTarget, Memory } from './together/sum-of-evidence';
import { NameWords } from './together/words-of-files';

const add = async (files: MemoryFileSet, path: string, content: Uint8Array) =>
  files.apply({ summary: '', changes: [write(path, null, content)], rewires: [], warnings: [] });
/** Ranked with what is remembered of the link's last target. */
const rankedWith = (
  project: Project,
  link: ProjectLink,
  last: LastTarget,
  boxes: Memory['boxes'] = new Map(),
) => atOnce(rankSteps(project, { lastTargets: new Map([[link, last]]), boxes })).get(link)!;
const linkTo = (project: Awaited<ReturnType<typeof scanFileSet>>, name: string) =>
  brokenLinks(project).find(({ written }) => written.includes(name))!;

describe('ranking candidates', () => {
  it('puts the renamed file first, with its evidence in words', async () => {
    const project = await scanFileSet(gearUnit());
    const candidates = rankCandidates(project, linkTo(project, 'lid'));
    expect(candidates[0]).toMatchObject({ path: 'parts/lid_rev-b.stp', unusable: null });
    expect(candidates[0]!.score).toBeGreaterThan(0.9);
    expect(candidates[0]!.evidence.map(({ words }) => words)).toEqual(
      expect.arrayContaining([
        'Product id LID is the one that the assembly asks for',
        'Same name with _rev-b added',
        'In a folder named parts, as written',
      ]),
    );
    expect(clearWinner(candidates, 0.9)?.path).toBe('parts/lid_rev-b.stp');
  });

  it('tells two files of one name apart by the product inside', async () => {
    const project = await scanFileSet(gearUnit());
    const [first, second] = rankCandidates(project, linkTo(project, 'washer'));
    expect(first!.path).toBe('std/washer.stp');
    expect(second!.path).toBe('bought/washer.stp');
    expect(second!.evidence.map(({ words }) => words)).toContain('Is W-WIDE; the assembly asks for WASHER');
  });

  it('trusts the same content more than any name', async () => {
    const files = gearUnit();
    await add(files, 'elsewhere/zzz.stp', writeBoxPart({ id: 'QQ', boxes: [{ size: [1, 2, 3] }] }));
    const project = await scanFileSet(files);
    const sha256 = project.files.get('elsewhere/zzz.stp')!.sha256;
    const [first] = rankedWith(project, linkTo(project, 'washer'), { sha256 });
    expect(first!.path).toBe('elsewhere/zzz.stp');
  });

  describe('of a link to a source', () => {
    const weld = (boxes: BoxToWrite[]) => writeBoxPart({ id: 'W', name: 'Weldment', boxes });
    const BOXES: BoxToWrite[] = [
      { name: 'plate' },
      { name: 'bar', corner: [30, 0, 0], size: [10, 10, 60] },
      { name: 'lug', corner: [60, 0, 0], size: [10, 20, 30] },
    ];
    /** A weldment that was split twice, then moved away: as it was, or in a newer version. */
    async function movedAway(now: Uint8Array) {
      const files = new MemoryFileSet([
        ['weld.stp', weld(BOXES)],
        ['other.stp', writeBoxPart({ id: 'O', name: 'Other', boxes: [{ name: 'plate 9' }, { name: 'x' }] })],
      ]);
      for (const folder of ['one', 'two']) {
        const source = await openSource(files, 'weld.stp');
        const choices = splitChoices({ folder });
        const project = await scanFileSet(files);
        const outline = outlineSplit(project, source, choices, new Map());
        await files.apply(await planSplit(planningOn(project, files), { outline, choices }));
      }
      const gone = sha256(await files.read('weld.stp'));
      await files.apply({
        summary: '',
        changes: [{ action: 'delete', path: 'weld.stp', base: gone }, write('old/part r2.stp', null, now)],
        rewires: [],
        warnings: [],
      });
      return files;
    }

    it('finds the very version that was taken, whatever it is called now', async () => {
      const files = await movedAway(weld(BOXES));
      const project = await scanFileSet(files);
      const links = brokenLinks(project);
      expect(links).toHaveLength(8);
      const choices = links.map((link) => {
        const winner = clearWinner(rankCandidates(project, link), 0.9);
        expect(winner?.path, link.holder).toBe('old/part r2.stp');
        return { holder: link.holder, written: link.written, target: winner!.path };
      });
      await files.apply(await planRepair(planningOn(project, files), choices));
      expect(reportOf(await scanFileSet(files)).totals).toMatchObject({ missing: 0, behind: 0, sound: 14 });
    });

    it('knows a newer version by its bodies, and no other file', async () => {
      const project = await scanFileSet(
        await movedAway(
          weld(BOXES.map((box) => (box.name === 'bar' ? { ...box, size: [10, 10, 70] } : box))),
        ),
      );
      for (const link of brokenLinks(project)) {
        const [first, second] = rankCandidates(project, link);
        expect(first!.path, link.holder).toBe('old/part r2.stp');
        expect(first!.score - (second?.score ?? 0), link.holder).toBeGreaterThan(0.2);
      }
      const link = brokenLinks(project).find(({ holder }) => holder === 'one/plate.stp')!;
      const words = rankCandidates(project, link)[0]!.evidence.map((one) => one.words);
      expect(words).toContain('Has the body plate that the file was taken from');
    });
  });

  it('counts bodies, unit and box of what was there before', async () => {
    const project = await scanFileSet(gearUnit());
    const link = linkTo(project, 'washer');
    const boxes = new Map([[project.files.get('std/washer.stp')!.sha256, [12, 12, 1] as const]]);
    const last = { sha256: 'gone', bodies: 1, unit: 'in', box: [12, 12, 1] as const };
    const [first] = rankedWith(project, link, last, boxes);
    expect(first!.evidence.map(({ words }) => words)).toEqual(
      expect.arrayContaining(['1 body, as before', 'Unit is mm, was in', 'Box of the same size as before']),
    );
  });

  it('offers what fits the kind: images for an image, and for a drawing the part that an assembly misses, too', async () => {
    const files = new MemoryFileSet([
      ...(await Promise.all(
        (await gearUnit().list()).map(async ({ path }) => [path, await gearUnit().read(path)] as const),
      )),
      [
        'papers/lid.svg',
        Buffer.from(
          '<svg><metadata><dcterms:references>../parts/lid.stp</dcterms:references></metadata><image href="logo.png"/></svg>',
        ),
      ],
      ['papers/logo-2.jpg', Buffer.from('x')],
      ['papers/other.obj', Buffer.from('v 0 0 0')],
    ]);
    const project = await scanFileSet(files);
    const [shown, image] = project.uses.get('papers/lid.svg')!;
    const [best] = rankCandidates(project, shown!);
    expect(best!.path).toBe('parts/lid_rev-b.stp');
    expect(best!.score).toBeGreaterThan(0.9);
    expect(best!.evidence.map(({ words }) => words)).toContain(
      'Product id LID is the one that the assembly asks for',
    );
    expect(rankCandidates(project, image!).map(({ path }) => path)).toEqual(['papers/logo-2.jpg']);
  });

  it('does not decide between two that are equally good', async () => {
    const files = gearUnit();
    await add(files, 'parts/lid_rev-c.stp', writeBoxPart({ id: 'LID', boxes: [{ size: [60, 40, 5] }] }));
    const project = await scanFileSet(files);
    expect(clearWinner(rankCandidates(project, linkTo(project, 'lid')), 0.9)).toBeUndefined();
  });

  it('shows a candidate that would make a loop as not usable', async () => {
    const files = gearUnit();
    await add(
      files,
      'parts/lid.stp.stp',
      testAssembly('LID', [{ written: '../drive/drive.stp', id: 'DRIVE' }]),
    );
    const project = await scanFileSet(files);
    const looping = rankCandidates(project, linkTo(project, 'lid')).find(
      ({ path }) => path === 'parts/lid.stp.stp',
    );
    expect(looping!.unusable).toContain('Would make a loop');
    await expect(
      planRepair(planningOn(project, files), [
        { holder: 'drive/drive.stp', written: '..\\parts\\lid.stp', target: 'parts/lid.stp.stp' },
      ]),
    ).rejects.toThrow(Refusal);
  });
});

describe('file names', () => {
  it.each([
    ['lid.stp', 'LID.stp', 'Name differs in upper and lower case only'],
    ['clevis pin 20x90.stp', 'clevis-pin_20x90.stp', 'Name differs in separators only'],
    ['lid.stp', 'lid_rev-b.stp', 'Same name with _rev-b added'],
    ['lid.stp', 'lid (copy).stp', 'Same name with (copy) added'],
    ['lid_rev-a.stp', 'lid_rev-b.stp', 'Same name with _rev-b instead of _rev-a'],
    ['lid.stp', 'hx_lid.stp', 'Same name with hx before it'],
    ['housing.stp', 'houssing.stp', 'Name is 1 letter apart'],
  ])('%s ~ %s: %s', (a, b, words) => expect(nameDifference(a, b)).toBe(words));

  it('are alike by their words: a small slip is near, another size is far', () => {
    const all = [
      'housing.stp',
      'worm.stp',
      'screw-m6x20.stp',
      'screw-m6x25.stp',
      'screw-m8x20.stp',
      'lid.stp',
    ];
    const names = atOnce(NameWords.steps(all));
    const likeness = (a: string, b: string) => names.likeness(`${a}.stp`, `${b}.stp`);
    expect(likeness('housing', 'Housing')).toBe(1);
    expect(likeness('housing', 'houssing')).toBeGreaterThan(0.75);
    expect(likeness('output-shaft', 'ShaftOutput')).toBeGreaterThan(0.95);
    expect(likeness('cover-07', 'cover_7')).toBe(1);
    expect(likeness('lid', 'lid_rev-b')).toBeGreaterThan(0.8);
    expect(likeness('screw-m6x20', 'screw-m6x25')).toBeLessThan(0.7);
    expect(likeness('screw-m6x20', 'screw-m8x20')).toBeLessThan(0.7);
    expect(likeness('housing', 'worm')).toBeLessThan(0.3);
  });
});

describe('planning a repair', () => {
  it('rewrites the holder, keeps its style, and can be taken back', async () => {
    const files = gearUnit();
    const project = await scanFileSet(files);
    const plan = await planRepair(planningOn(project, files), [
      { holder: 'drive/drive.stp', written: '..\\parts\\lid.stp', target: 'parts/lid_rev-b.stp' },
      { holder: 'drive/drive.stp', written: '../norm/washer.stp', target: 'std/washer.stp' },
    ]);
    expect(plan.summary).toBe('Repaired 2 links in drive/drive.stp');
    expect(plan.rewires.map(({ rewritten }) => rewritten)).toEqual([
      '..\\parts\\lid_rev-b.stp',
      '../std/washer.stp',
    ]);
    const before = await files.read('drive/drive.stp');
    const undo = await files.apply(plan);
    expect(reportOf(await scanFileSet(files)).totals).toMatchObject({ missing: 0, ambiguous: 0, sound: 6 });
    await files.apply(undo);
    expect(Buffer.from(await files.read('drive/drive.stp')).equals(Buffer.from(before))).toBe(true);
  });

  it('is refused when the holder changed in between, and changes nothing', async () => {
    const files = gearUnit();
    const project = await scanFileSet(files);
    const plan = await planRepair(planningOn(project, files), [
      { holder: 'drive/drive.stp', written: '../norm/washer.stp', target: 'std/washer.stp' },
    ]);
    await files.apply({
      summary: '',
      changes: [
        write('drive/drive.stp', project.files.get('drive/drive.stp')!.sha256, testAssembly('DRIVE', [])),
      ],
      rewires: [],
      warnings: [],
    });
    const listed = await files.list();
    await expect(files.apply(plan)).rejects.toThrow('drive/drive.stp has changed since');
    expect(await files.list()).toEqual(listed);
  });

  it('offers one choice for all links written with the same name', async () => {
    const files = gearUnit();
    await add(files, 'other.stp', testAssembly('OTHER', [{ written: 'x/LID.stp', id: 'LID' }]));
    const project = await scanFileSet(files);
    expect(
      linksWrittenAlike(project, linkTo(project, 'lid'))
        .map(({ holder }) => holder)
        .sort(),
    ).toEqual(['drive/drive.stp', 'other.stp']);
  });

  it.each([
    [
      { holder: 'drive/drive.stp', written: 'nothing.stp', target: 'parts/base.stp' },
      'no link written nothing.stp',
    ],
    [
      { holder: 'drive/drive.stp', written: '../norm/washer.stp', target: 'nowhere.stp' },
      'no file nowhere.stp',
    ],
  ])('says what is wrong with a choice', async (choice, words) => {
    const files = gearUnit();
    await expect(planRepair(planningOn(await scanFileSet(files), files), [choice])).rejects.toThrow(words);
  });
});
