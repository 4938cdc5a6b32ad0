import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { joinPath, relativePath } from '#core/files/links/paths';
import { IDENTITY } from '#core/product/matrix';
import { addSourceLink } from '#core/product/source/tie';
import { writeAssembly } from '#core/product/write-assembly';
import { keepsFormat } from '#core/project/formats/formats';
import { FitChecker } from '#core/project/scan/fit';
import type { Project, ProjectLink } from '#core/project/scan/project';
import { scanFileSet } from '#core/project/scan/scan';
import { gearUnit, testAssembly } from '#core/testing/projects';
import { write } from './change-set';
import { Draft } from './draft';
import { sha256 } from './file-set';
import { MemoryFileSet } from './memory';

const text = (bytes: Uint8Array) => Buffer.from(bytes).toString('latin1');

async function draftOf(files: MemoryFileSet): Promise<{ project: Project; draft: Draft }> {
  const project = await scanFileSet(files);
  return { project, draft: new Draft(files, project) };
}

/** Links as lines: from, what is written, to, state. */
const linesOf = ({ links }: Project) =>
  links.map(({ holder, written, to, state }) => `${holder}: ${written} -> ${to} ${state}`);

describe('a draft', () => {
  it('records each link that was set anew, also where two change places', async () => {
    const files = gearUnit();
    const { draft } = await draftOf(files);
    const [holder, kind] = ['unit.stp', 'component' as const];
    await draft.retarget({ holder, kind, written: 'drive/drive.stp' }, 'parts/base.stp');
    await draft.retarget({ holder, kind, written: 'parts/base.stp' }, 'drive/drive.stp');
    const { rewires } = await draft.finish('Swapped');
    expect(rewires.map(({ written, rewritten, was, to }) => [written, rewritten, was, to])).toEqual([
      ['drive/drive.stp', 'parts/base.stp', 'drive/drive.stp', 'parts/base.stp'],
      ['parts/base.stp', 'drive/drive.stp', 'parts/base.stp', 'drive/drive.stp'],
    ]);
  });

  it('reads what it wrote, and gives each file once, on the version below', async () => {
    const files = new MemoryFileSet([
      ['a.txt', 'old a'],
      ['b.txt', 'old b'],
      ['c.txt', 'old c'],
      ['same.txt', 'same'],
    ]);
    const { draft } = await draftOf(files);
    const say = (path: string, words: string) => draft.write(path, Buffer.from(words));
    draft.write('a.txt', () => Buffer.from('never made'));
    say('a.txt', 'first');
    say('a.txt', 'second');
    say('new.txt', 'made');
    say('gone.txt', 'made and gone');
    say('same.txt', 'same');
    await draft.move('b.txt', 'in/b.txt');
    say('in/b.txt', 'new b');
    await draft.remove('gone.txt');
    await draft.remove('c.txt');
    draft.warn('Mind the gap.');
    expect(text(await draft.read('a.txt'))).toBe('second');
    expect(text(await draft.read('in/b.txt'))).toBe('new b');
    await expect(draft.read('c.txt')).rejects.toThrow('There is no file c.txt.');
    expect((await draft.list()).map(({ path }) => path).sort()).toEqual([
      'a.txt',
      'in/b.txt',
      'new.txt',
      'same.txt',
    ]);

    const change = await draft.finish('Did it');
    expect(change).toMatchObject({ summary: 'Did it', rewires: [], warnings: ['Mind the gap.'] });
    expect(change.changes).toMatchObject([
      { action: 'write', path: 'a.txt', base: sha256(Buffer.from('old a')) },
      { action: 'write', path: 'new.txt', base: null },
      { action: 'move', path: 'b.txt', to: 'in/b.txt', base: sha256(Buffer.from('old b')) },
      { action: 'delete', path: 'c.txt', base: sha256(Buffer.from('old c')) },
    ]);
    const undo = await files.apply(change);
    expect(text(await files.read('in/b.txt'))).toBe('new b');
    await files.apply(undo);
    expect(text(await files.read('b.txt'))).toBe('old b');
    expect((await files.list()).map(({ path }) => path).sort()).toEqual([
      'a.txt',
      'b.txt',
      'c.txt',
      'same.txt',
    ]);
  });

  it('says what it rests on: what was read or is touched, with its version below; what is made, with none', async () => {
    const [a, b, c] = ['a', 'b', 'c'].map((name) => [`${name}.txt`, `old ${name}`] as const);
    const files = new MemoryFileSet([a!, b!, c!, ['d.txt', 'nobody reads it']]);
    const { draft } = await draftOf(files);
    await draft.read('a.txt');
    draft.write('b.txt', Buffer.from('new b'));
    await draft.move('c.txt', 'e.txt');
    draft.write('f.txt', Buffer.from('new'));
    draft.restOn('a.txt');
    const base = ([path, content]: readonly [string, string]) => ({
      path,
      base: sha256(Buffer.from(content)),
    });
    expect(draft.seen()).toEqual([
      base(a!),
      base(b!),
      base(c!),
      { path: 'e.txt', base: null },
      { path: 'f.txt', base: null },
    ]);
  });

  it('rests on the links that follow a move, and not on what else their holder says', async () => {
    const seenIn = async (files: MemoryFileSet, plan: (draft: Draft) => Promise<unknown>) => {
      const { draft } = await draftOf(files);
      await plan(draft);
      await draft.finish('Planned');
      return new Map(draft.seen().map(({ path, base }) => [path, base]));
    };
    const edited = async (more: string) => {
      const files = gearUnit();
      const before = await files.read('unit.stp');
      const after = Buffer.concat([before, Buffer.from(more)]);
      await files.apply({
        summary: 'Edited',
        changes: [write('unit.stp', sha256(before), after)],
        rewires: [],
        warnings: [],
      });
      return files;
    };
    const move = (draft: Draft) => draft.move('parts/base.stp', 'new/base.stp');
    const before = await seenIn(gearUnit(), move);
    expect([...before.keys()]).toEqual(['new/base.stp', 'parts/base.stp', 'unit.stp']);
    expect(await seenIn(await edited('/* by somebody else */'), move)).toEqual(before);
    // Another move writes other links; what is set on purpose or read rests on the whole file.
    const elsewhere = await seenIn(gearUnit(), (draft) => draft.move('parts/base.stp', 'old/base.stp'));
    expect(elsewhere.get('unit.stp')).not.toBe(before.get('unit.stp'));
    const whole = sha256(await gearUnit().read('unit.stp'));
    const read = await seenIn(gearUnit(), async (draft) => {
      await draft.read('unit.stp');
      await move(draft);
    });
    expect(read.get('unit.stp')).toBe(whole);
    const meant = await seenIn(gearUnit(), (draft) =>
      draft.retarget(
        { holder: 'unit.stp', kind: 'component', written: 'parts/base.stp' },
        'parts/left-over.stp',
      ),
    );
    expect(meant.get('unit.stp')).toBe(whole);
  });

  it('lets a file that was removed come back: as it was it is no change, else the next version', async () => {
    const files = new MemoryFileSet([['a.txt', 'old a']]);
    const { draft } = await draftOf(files);
    await draft.remove('a.txt');
    expect(draft.has('a.txt')).toBe(false);
    await expect(draft.read('a.txt')).rejects.toThrow('There is no file a.txt');
    draft.write('a.txt', Buffer.from('new a'));
    expect(text(await draft.read('a.txt'))).toBe('new a');
    const { changes } = await draft.finish('Came back');
    expect(changes).toMatchObject([{ action: 'write', path: 'a.txt', base: sha256(Buffer.from('old a')) }]);
    await files.apply({ summary: '', changes, rewires: [], warnings: [] });
    expect(text(await files.read('a.txt'))).toBe('new a');
  });

  it('makes no content for a sketch that nobody reads, and shows the same files', async () => {
    const files = gearUnit();
    const project = await scanFileSet(files);
    const made: string[] = [];
    const plan = async (isSketch: boolean) => {
      const draft = new Draft(files, project, { isSketch });
      for (const id of ['A', 'B'])
        draft.write(`${id}.stp`, () => {
          made.push(id);
          return testAssembly(id, []);
        });
      await draft.retarget(
        { holder: 'unit.stp', kind: 'component', written: 'parts/base.stp' },
        'parts/left-over.stp',
      );
      const { changes, ...rest } = await draft.finish('Made two');
      return {
        ...rest,
        seen: draft.seen(),
        files: changes.map(({ action, path, base }) => [action, path, base]),
      };
    };
    const sketch = await plan(true);
    expect(made).toEqual([]);
    expect(await plan(false)).toEqual(sketch);
    expect(made).toEqual(['A', 'B']);
  });

  it('finds free names, whatever the case of their letters', async () => {
    const { draft } = await draftOf(
      new MemoryFileSet([
        ['in/Bar.stp', ''],
        ['v1.2/read me', ''],
      ]),
    );
    expect(draft.free('in/bar.stp')).toBe('in/bar-2.stp');
    draft.write('in/bar-2.stp', Buffer.from('x'));
    expect(draft.free('in/BAR.STP')).toBe('in/BAR-3.STP');
    await draft.move('in/Bar.stp', 'in/lid.stp');
    expect(draft.free('in/bar.stp')).toBe('in/bar.stp');
    expect(draft.free('v1.2/read me')).toBe('v1.2/read me-2');
    await expect(draft.move('in/bar-2.stp', 'in/LID.stp')).rejects.toThrow('in/LID.stp exists already.');
    // The same file under another case of its name is no other file.
    await draft.move('in/lid.stp', 'in/Lid.stp');
    expect(draft.has('in/lid.stp')).toBe(false);
  });

  it('lets links follow a file that moves, and a holder its own links', async () => {
    const files = gearUnit();
    const { draft } = await draftOf(files);
    await draft.move('parts/housing.stp', 'cast/body.stp');
    await draft.move('drive/drive.stp', 'deep/er/drive.stp');
    await draft.move('std/screw-m6.stp', 'norm/m6.stp');
    expect(text(await draft.read('unit.stp'))).toContain("'deep/er/drive.stp'");
    const change = await draft.finish('Moved');
    // Words for the preview: each link that reads differently now, once.
    expect(change.rewires).toEqual([
      {
        holder: 'deep/er/drive.stp',
        written: '../parts/housing.stp',
        rewritten: '../../cast/body.stp',
        to: 'cast/body.stp',
        was: 'parts/housing.stp',
      },
      {
        holder: 'deep/er/drive.stp',
        written: 'C:\\work\\std\\screw-m6.stp',
        rewritten: '..\\..\\norm\\m6.stp',
        to: 'norm/m6.stp',
        was: 'std/screw-m6.stp',
      },
      {
        holder: 'unit.stp',
        written: 'drive/drive.stp',
        rewritten: 'deep/er/drive.stp',
        to: 'deep/er/drive.stp',
        was: 'drive/drive.stp',
      },
    ]);
    await files.apply(change);
    expect(linesOf(await scanFileSet(files))).toEqual([
      'deep/er/drive.stp: ../../cast/body.stp -> cast/body.stp sound',
      'deep/er/drive.stp: ..\\parts\\lid.stp -> null missing',
      'deep/er/drive.stp: ..\\..\\norm\\m6.stp -> norm/m6.stp sound',
      'deep/er/drive.stp: ../norm/washer.stp -> null ambiguous',
      'unit.stp: deep/er/drive.stp -> deep/er/drive.stp sound',
      'unit.stp: parts/base.stp -> parts/base.stp sound',
    ]);
  });

  it('writes a holder once, however many of its links are set anew, and none that stays', async () => {
    const files = gearUnit();
    const { draft } = await draftOf(files);
    await draft.retarget(
      { holder: 'drive/drive.stp', kind: 'component', written: '..\\parts\\lid.stp' },
      'parts/lid_rev-b.stp',
    );
    await draft.read('drive/drive.stp');
    await draft.retarget(
      { holder: 'drive/drive.stp', kind: 'component', written: '../norm/washer.stp' },
      'std/washer.stp',
    );
    // Both folders go to another place: whatever lies in them still finds each other as it is written.
    for (const folder of ['drive', 'parts', 'std'])
      for (const { path } of await draft.list())
        if (path.startsWith(`${folder}/`)) await draft.move(path, `all/${path}`);
    const change = await draft.finish('Repaired and moved');
    expect(
      change.rewires.map(({ holder, written, rewritten, to, was }) => [holder, written, rewritten, was, to]),
    ).toEqual([
      [
        'all/drive/drive.stp',
        '..\\parts\\lid.stp',
        '..\\parts\\lid_rev-b.stp',
        null,
        'all/parts/lid_rev-b.stp',
      ],
      [
        'all/drive/drive.stp',
        'C:\\work\\std\\screw-m6.stp',
        '..\\std\\screw-m6.stp',
        'std/screw-m6.stp',
        'all/std/screw-m6.stp',
      ],
      ['all/drive/drive.stp', '../norm/washer.stp', '../std/washer.stp', null, 'all/std/washer.stp'],
      ['unit.stp', 'drive/drive.stp', 'all/drive/drive.stp', 'drive/drive.stp', 'all/drive/drive.stp'],
      ['unit.stp', 'parts/base.stp', 'all/parts/base.stp', 'parts/base.stp', 'all/parts/base.stp'],
    ]);
    await files.apply(change);
    expect((await scanFileSet(files)).links.map(({ state }) => state)).toEqual(Array(6).fill('sound'));
  });

  it('never lets a file that is made here take over a link, but one that arrives from outside', async () => {
    const made = new MemoryFileSet([
      ['top.stp', testAssembly('TOP', [{ written: 'lib/bolt.stp', id: 'BOLT' }])],
      ['store/bolt.stp', testAssembly('BOLT', [])],
      ['x.stp', testAssembly('X', [])],
    ]);
    const bolt = (await scanFileSet(made)).links[0]!;
    expect(bolt).toMatchObject({ to: 'store/bolt.stp', state: 'sound' });
    const { draft } = await draftOf(made);
    await draft.move('x.stp', 'lib/bolt.stp');
    await made.apply(await draft.finish('Renamed'));
    expect(linesOf(await scanFileSet(made))).toEqual(['top.stp: store/bolt.stp -> store/bolt.stp sound']);

    const outside = new MemoryFileSet([
      ['top.stp', testAssembly('TOP', [{ written: 'lib/bolt.stp', id: 'BOLT' }])],
      ['store/bolt.stp', testAssembly('BOLT', [])],
    ]);
    const { draft: incoming } = await draftOf(outside);
    const content = testAssembly('BOLT', []);
    incoming.put('lib/bolt.stp', { sha256: sha256(content), bytes: content.length, content });
    await outside.apply(await incoming.finish('Imported'));
    expect(linesOf(await scanFileSet(outside))).toEqual(['top.stp: lib/bolt.stp -> lib/bolt.stp sound']);
  });

  it('does all of an attempt or nothing of it', async () => {
    const files = gearUnit();
    const { draft } = await draftOf(files);
    draft.write('new.txt', Buffer.from('kept'));
    await draft.move('drive/drive.stp', 'moved/drive.stp');
    draft.warn('Before.');
    const before = await draft.finish('Before');
    await failedAttempt(draft, 'unit.stp', 'parts/other.stp');
    await failedAttempt(draft, 'new.txt', 'moved/new.txt');
    expect(await draft.finish('Before')).toEqual(before);
    expect(draft.isTaken('parts/other.stp')).toBe(false);
    expect(await draft.attempt(async () => draft.write('more.txt', Buffer.from('more')))).toBeUndefined();
    expect((await draft.finish('After')).changes).toHaveLength(before.changes.length + 1);
  });

  it('composes: what a plan wrote follows what another moves', async () => {
    const files = gearUnit();
    const { draft } = await draftOf(files);
    draft.write('made/kit.stp', testAssembly('KIT', [{ written: '../parts/base.stp', id: 'BASE' }]));
    draft.linked(
      { holder: 'made/kit.stp', kind: 'component', written: '../parts/base.stp' },
      'parts/base.stp',
    );
    await draft.move('parts/base.stp', 'base.stp');
    await draft.move('made/kit.stp', 'kit.stp');
    const change = await draft.finish('Made and moved');
    expect(change.rewires).toContainEqual({
      holder: 'kit.stp',
      written: '',
      rewritten: 'base.stp',
      to: 'base.stp',
      was: null,
    });
    await files.apply(change);
    expect(linesOf(await scanFileSet(files))).toContain('kit.stp: base.stp -> base.stp sound');
  });

  it('says a link of which the target went leads nowhere', async () => {
    const files = gearUnit();
    const { draft } = await draftOf(files);
    await draft.retarget(
      { holder: 'unit.stp', kind: 'component', written: 'parts/base.stp' },
      'parts/left-over.stp',
    );
    await draft.read('unit.stp');
    await draft.remove('parts/left-over.stp');
    expect((await draft.finish('Removed')).rewires).toMatchObject([{ to: null, was: 'parts/base.stp' }]);
  });

  it('refuses links and files that are not there', async () => {
    const { draft } = await draftOf(gearUnit());
    const link = { holder: 'unit.stp', kind: 'component', written: 'nothing.stp' } as const;
    await expect(draft.retarget(link, 'parts/base.stp')).rejects.toThrow(
      'unit.stp has no link to nothing.stp.',
    );
    await expect(draft.retarget({ ...link, written: 'parts/base.stp' }, 'nowhere.stp')).rejects.toThrow(
      'There is no file nowhere.stp.',
    );
    await expect(draft.move('nowhere.stp', 'x.stp')).rejects.toThrow('There is no file nowhere.stp.');
  });
});

/** A file for random projects: components by path as written, and what it came out of. */
function madeFile(
  id: string,
  components: { written: string; id: string }[],
  source: { written: string; sha256: string } | null,
): Uint8Array {
  return writeAssembly({
    id,
    name: '',
    fileName: 'a.stp',
    timeStamp: '2026-01-01T00:00:00',
    components: components.map(({ written, id: component }) => ({
      id: component,
      name: '',
      written,
      placings: [{ name: '', placement: IDENTITY }],
    })),
    also:
      source === null
        ? undefined
        : (builder, definition) =>
            addSourceLink(builder, definition, source.written, {
              relation: 'split',
              sha256: source.sha256,
              bodies: [],
            }),
  });
}

/** Numbers that look like chance and are the same for the same seed: a linear congruential generator. */
function pickerFrom(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return (state >>> 8) % below;
  };
}

const NAMES = ['bolt', 'Bolt', 'lid', 'base', 'gear', 'shaft', 'plate', 'cover'];
const FOLDERS = ['', 'a', 'a/b', 'a/b/c', 'std', 'std/x', 'Std'];

/** Some of many files, under few names in few folders, so that names clash and links are found in every way there is. */
function randomProject(pick: (below: number) => number, isNamed: boolean): MemoryFileSet {
  const files = new Map<string, Uint8Array>();
  const ids = new Map<string, string>();
  for (let n = 0; n < 200; n++) {
    const path = joinPath(FOLDERS[pick(FOLDERS.length)]!, `${NAMES[pick(NAMES.length)]}${pick(24)}.stp`);
    if (files.has(path)) continue;
    const below = [...files.keys()];
    const id = isNamed ? `P${n}` : '';
    const write = (to: string) => {
      const way = relativePath(path, to);
      return [way, way, way.replaceAll('/', '\\'), to.split('/').at(-1)!, `C:\\work\\${to}`][pick(5)]!;
    };
    const components =
      below.length === 0
        ? []
        : Array.from({ length: n < 80 ? 0 : pick(4) }, () => below[pick(below.length)]!);
    const from = below.length > 0 && pick(3) === 0 ? below[pick(below.length)]! : null;
    ids.set(path, id);
    files.set(
      path,
      madeFile(
        id,
        [...new Set(components)].map((to) => ({ written: write(to), id: ids.get(to)! })),
        from === null ? null : { written: write(from), sha256: sha256(files.get(from)!) },
      ),
    );
  }
  // Drawings of some of them, which lead on to one another and take images.
  for (let n = 0; n < 40; n++) {
    const path = joinPath(FOLDERS[pick(FOLDERS.length)]!, `${NAMES[pick(NAMES.length)]}${pick(24)}.svg`);
    if (files.has(path)) continue;
    const below = [...files.keys()];
    const [shown, used] = [below[pick(below.length)]!, below[pick(below.length)]!];
    const [reference, image] = [shown, used].map((to) =>
      pick(2) === 0 ? relativePath(path, to) : to.split('/').at(-1)!,
    );
    const metadata = `<metadata><dcterms:references>${reference}</dcterms:references></metadata>`;
    files.set(path, Buffer.from(`<svg>${metadata}<image href="${image}"/></svg>`));
  }
  return new MemoryFileSet(files);
}

/** Much is done, and then something goes wrong: it is as if nothing had been done. */
async function failedAttempt(draft: Draft, one: string, place: string): Promise<void> {
  const attempt = draft.attempt(async () => {
    await draft.move(one, draft.free(place));
    draft.write(one, () => madeFile('', [{ written: place, id: '' }], null));
    for (const { path } of (await draft.list()).slice(0, 3)) if (path !== one) await draft.remove(path);
    draft.warn('This was tried.');
    await draft.finish('Tried');
    throw new Error('It went wrong.');
  });
  await expect(attempt).rejects.toThrow('It went wrong.');
}

describe('random drafts over random projects', () => {
  it('keep every sound link sound, and go back to the same bytes', async () => {
    let checked = 0;
    let drawn = 0;
    await fc.assert(
      fc.asyncProperty(fc.nat(), fc.boolean(), async (seed, isNamed) => {
        const pick = pickerFrom(seed);
        const files = randomProject(pick, isNamed);
        const before = await scanFileSet(files);
        const bytesBefore = new Map((await files.list()).map(({ path, sha256: hash }) => [path, hash]));
        const draft = new Draft(files, before);

        // 1. What is done, and where every file is after it.
        const now = new Map([...before.files.keys()].map((path) => [path, path as string | null]));
        const spoilt = new Set<ProjectLink>();
        for (let n = 1 + pick(12); n > 0; n--) {
          const present = (await draft.list()).map(({ path }) => path);
          const one = present[pick(present.length)]!;
          const origin = [...now].find(([, path]) => path === one)?.[0];
          const place = joinPath(
            FOLDERS[pick(FOLDERS.length)]!,
            `${NAMES[pick(NAMES.length)]}${pick(24)}.stp`,
          );
          if (pick(6) === 0) await failedAttempt(draft, one, place);
          switch (pick(isNamed ? 5 : 7)) {
            case 0:
            case 1: {
              const to = draft.free(place);
              await draft.move(one, to);
              if (origin !== undefined) now.set(origin, to);
              break;
            }
            case 2: {
              // A whole folder.
              const folder = FOLDERS[1 + pick(FOLDERS.length - 1)]!;
              for (const path of present.filter((file) => file.startsWith(`${folder}/`))) {
                const to = draft.free(`moved-${n}/${path}`);
                const was = [...now].find(([, at]) => at === path)?.[0];
                await draft.move(path, to);
                if (was !== undefined) now.set(was, to);
              }
              break;
            }
            case 3:
              {
                const content = madeFile('', [{ written: one, id: '' }], null);
                draft.write(draft.free(place), pick(2) === 0 ? content : () => content);
              }
              break;
            case 4:
              await draft.read(one);
              break;
            case 5:
              await draft.remove(one);
              if (origin !== undefined) now.set(origin, null);
              break;
            case 6: {
              const links = origin === undefined ? [] : (before.uses.get(origin) ?? []);
              const link = links[pick(links.length || 1)];
              // Something that places nothing, so that no loop comes of it.
              const leaf = [...now].find(([path, at]) => at !== null && !before.uses.has(path));
              if (link?.kind !== 'component' || !leaf || spoilt.has(link)) break;
              const known = (await draft.finish('')).rewires.find(
                ({ holder, written }) => holder === one && written === link.written,
              );
              await draft.retarget(
                { holder: one, kind: link.kind, written: known?.rewritten ?? link.written },
                leaf[1]!,
              );
              spoilt.add(link);
              break;
            }
          }
        }
        const change = await draft.finish('Did much');
        const undo = await files.apply(change);

        // 2. The draft said the truth, and wrote each file once.
        const drafted = (await draft.list()).sort((a, b) => (a.path < b.path ? -1 : 1));
        expect(drafted).toEqual((await files.list()).sort((a, b) => (a.path < b.path ? -1 : 1)));
        // Where one was removed another may come to lie.
        const arriving = change.changes.flatMap((one) =>
          one.action === 'delete' ? [] : [one.action === 'move' ? one.to : one.path],
        );
        expect(new Set(arriving).size).toBe(arriving.length);

        // 3. Every link that was sound still is, and leads to the same file.
        const after = await scanFileSet(files);
        const fit = new FitChecker(before.files);
        // Where a file went that a link may have meant, the one that is left is meant now: that can close a circle.
        const origins = new Map([...now].map(([origin, at]) => [at, origin]));
        const wasSound = (link: ProjectLink) =>
          before.links.some(
            ({ holder, state, definitions }) =>
              state === 'sound' &&
              holder === origins.get(link.holder) &&
              definitions.join() === link.definitions.join(),
          );
        const hasNewCircle = after.links.some((link) => link.state === 'loop' && !wasSound(link));
        const state = hasNewCircle ? expect.stringMatching(/^(sound|loop)$/) : 'sound';
        for (const link of before.links) {
          const [holder, target] = [now.get(link.holder), link.to === null ? null : now.get(link.to)];
          if (link.state !== 'sound' || spoilt.has(link) || !holder || !target) continue;
          if (!keepsFormat(link.holder, holder)) continue;
          // One that leads to another part than is asked for may be doubted once its neighbours are found.
          if (fit.fits(link) === false) continue;
          const [definition] = link.definitions;
          const same = after.uses
            .get(holder)!
            .filter(({ kind, to, definitions }) =>
              definition === undefined
                ? kind === link.kind && to === target
                : kind === link.kind && definitions.includes(definition),
            );
          expect(same[0], `${link.holder} ${link.written}`).toMatchObject({ state, to: target });
          if (definition === undefined) drawn++;
          checked++;
        }

        // 4. Undone, every byte is back.
        await files.apply(undo);
        expect(new Map((await files.list()).map(({ path, sha256: hash }) => [path, hash]))).toEqual(
          bytesBefore,
        );
      }),
      { numRuns: 12 },
    );
    expect(checked).toBeGreaterThan(200);
    expect(drawn).toBeGreaterThan(50);
  });
});
