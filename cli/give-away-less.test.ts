import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { main } from './main';

let root: string;
let folder: string;
let printed: string;
beforeEach(() => {
  root = mkdtempSync(path.join(os.tmpdir(), 'stonetray-give-'));
  folder = path.join(root, 'project');
  mkdirSync(folder);
  const boxes = (size: [number, number, number], corner: [number, number, number] = [0, 0, 0]) => [
    { name: 'a secret body', size, corner },
  ];
  writeFileSync(path.join(folder, 'plate.stp'), writeBoxPart({ id: 'PLATE', boxes: boxes([100, 100, 10]) }));
  writeFileSync(
    path.join(folder, 'pin.stp'),
    writeBoxPart({ id: 'PIN', boxes: boxes([2, 2, 2], [0, 0, 10]) }),
  );
  writeFileSync(
    path.join(folder, 'top.stp'),
    testAssembly('TOP', [
      { written: 'plate.stp', id: 'PLATE' },
      { written: 'pin.stp', id: 'PIN', times: 3 },
    ]),
  );
  vi.spyOn(process.stdout, 'write').mockImplementation((text) => {
    printed += text;
    return true;
  });
  vi.spyOn(process.stderr, 'write').mockImplementation((text) => {
    printed += text;
    return true;
  });
});
afterEach(() => {
  vi.restoreAllMocks();
  rmSync(root, { recursive: true, force: true });
});

async function run(
  ...args: string[]
): Promise<{ code: number; text: string; json: () => ReturnType<typeof JSON.parse> }> {
  printed = '';
  const code = await main(args);
  const text = printed;
  return { code, text, json: () => JSON.parse(text) };
}
const inFolder = (name: string) => path.join(folder, name);

describe('lite, seal, groups and leaks', () => {
  it('make a light file in the project, which remembers what it was made from', async () => {
    const made = await run(
      'lite',
      inFolder('top.stp'),
      '--out',
      inFolder('light.stp'),
      '--smaller-than',
      '5%',
      '--json',
    );
    expect(made.code).toBe(0);
    expect(made.json()).toMatchObject({
      applied: true,
      before: { occurrences: 4, distinctParts: 2, bodies: 4, faces: 24 },
      after: { occurrences: 1, distinctParts: 1, bodies: 1, faces: 6 },
      removed: { bySize: ['PIN 1', 'PIN 2', 'PIN 3'], holes: 0, pockets: 0, voids: 0 },
      kept: [],
      deviation: { max: expect.any(Number), at: expect.anything() },
    });
    expect((await run('scan', folder, '--json')).text).toContain('"light.stp"');
    const leaks = await run('leaks', inFolder('light.stp'), '--json');
    expect(leaks.code).toBe(1);
    expect((leaks.json().leaks as { kind: string }[]).map(({ kind }) => kind)).toEqual(
      expect.arrayContaining(['names', 'recipe']),
    );
    const twice = await run('lite', inFolder('top.stp'), '--out', inFolder('light.stp'));
    expect([twice.code, twice.text]).toEqual([2, expect.stringContaining('exists already')]);
  });

  it('write outside of the project without a tie, and say what cannot be understood', async () => {
    const out = path.join(root, 'elsewhere', 'light.stp');
    expect(
      (await run('lite', inFolder('top.stp'), '--out', out, '--one-part', '--outside', '--make-folders'))
        .code,
    ).toBe(0);
    expect(readdirSync(folder).sort()).toEqual(['pin.stp', 'plate.stp', 'top.stp']);
    expect((await run('leaks', out)).text).toBe('It tells nothing besides the outside of its bodies.\n');
    const dry = path.join(root, 'dry.stp');
    expect((await run('lite', inFolder('top.stp'), '--out', dry, '--dry-run')).code).toBe(0);
    expect(existsSync(dry)).toBe(false);
    for (const [flags, words] of [
      [['--smaller-than', 'much'], 'such as 2%'],
      [['--fill', 'cracks'], 'holes, pockets, voids'],
      [['--keep-face', 'x'], 'is no face'],
      [['--smaller-than', '100'], 'Nothing would be left'],
    ] as const) {
      const wrong = await run('lite', inFolder('top.stp'), '--out', dry, ...flags);
      expect([wrong.code, wrong.text]).toEqual([2, expect.stringContaining(words)]);
    }
  });

  it('seal into one solid, or refuse with what touches nothing', async () => {
    writeFileSync(
      inFolder('pin.stp'),
      writeBoxPart({ id: 'PIN', boxes: [{ size: [2, 2, 2], corner: [0, 0, 30] }] }),
    );
    const out = path.join(root, 'sealed.stp');
    const refused = await run('seal', inFolder('top.stp'), '--out', out);
    expect([refused.code, refused.text]).toEqual([2, expect.stringContaining('touch')]);
    expect(existsSync(out)).toBe(false);
    const made = await run('seal', inFolder('top.stp'), '--out', out, '--drop-loose', '--json');
    expect(made.json()).toMatchObject({ way: 'exact', solids: 1, isValid: true, leaks: [] });
    expect(readFileSync(out).includes('secret')).toBe(false);
    const both = await run(
      'seal',
      inFolder('top.stp'),
      '--out',
      path.join(root, 'b.stp'),
      '--exact',
      '--within',
      '1',
    );
    expect([both.code, both.text]).toEqual([2, expect.stringContaining('Choose one of --exact')]);
  });

  it('list groups, and make those that a file lists', async () => {
    expect((await run('groups', inFolder('top.stp'), '--json')).json()).toMatchObject({
      groups: [],
      joints: [],
    });
    const list = path.join(root, 'groups.json');
    writeFileSync(
      list,
      JSON.stringify({
        groups: [
          { name: 'Base', members: ['PLATE 1'] },
          { name: 'Pins', members: ['PIN 1', 'PIN 2', 'PIN 3'] },
        ],
        joints: [
          {
            name: 'way',
            between: ['Base', 'Pins'],
            kind: 'prismatic',
            at: [0, 0, 0],
            direction: [0, 0, 1],
            way: [0, 5],
          },
        ],
      }),
    );
    const out = path.join(root, 'moving');
    expect((await run('groups', inFolder('top.stp'), '--set', list, '--out', out, '--urdf')).code).toBe(0);
    expect(readdirSync(out).sort()).toEqual([
      'motion-1-hull.glb',
      'motion-1.glb',
      'motion-2-hull.glb',
      'motion-2.glb',
      'motion.stp',
      'motion.urdf',
    ]);
    expect(readFileSync(path.join(out, 'motion.stp'), 'latin1')).toContain('PRISMATIC_PAIR_WITH_RANGE');
    writeFileSync(list, '{"groups": 7}');
    expect((await run('groups', inFolder('top.stp'), '--set', list)).text).toContain('holds no groups');
  });
});
