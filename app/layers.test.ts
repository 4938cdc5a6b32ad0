import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';

const ROOT = path.join(import.meta.dirname, '..');
const PARTS = ['core', 'server', 'app', 'cli', 'demo', 'bench', 'soak', 'scripts'];

interface Floors {
  /** The row of the table that a folder or file stands in, by the first name of that row. */
  rowOf: ReadonlyMap<string, string>;
  /** What a row may import, with all that those rows may. */
  below: ReadonlyMap<string, ReadonlySet<string>>;
}

/** Reads the table of floors in docs/architecture.md. */
function floorsOf(markdown: string): Floors {
  const namesIn = (cell: string) => [...cell.matchAll(/`([^`]+)`/g)].map(([, name]) => name!);
  const rows = [...markdown.matchAll(/^\| (`[^|]+) \| [^|]* \| ?([^|]*)\|$/gm)].map(([, names, allowed]) => ({
    names: namesIn(names!),
    allowed: namesIn(allowed!),
  }));
  const rowOf = new Map(rows.flatMap(({ names }) => names.map((name) => [name, names[0]!] as const)));
  const direct = new Map(
    rows.map(({ names, allowed }) => [names[0]!, allowed.map((name) => rowOf.get(name)!)]),
  );
  const whole = (row: string, seen = new Set<string>()): Set<string> => {
    for (const next of direct.get(row) ?? [])
      if (next !== row && !seen.has(next)) {
        seen.add(next);
        whole(next, seen);
      }
    return seen;
  };
  return { rowOf, below: new Map([...direct.keys()].map((row) => [row, whole(row)])) };
}

function sourcesIn(folder: string): string[] {
  return readdirSync(path.join(ROOT, folder)).flatMap((name) => {
    const file = `${folder}/${name}`;
    if (/^testing(\.ts)?$/.test(name)) return [];
    if (statSync(path.join(ROOT, file)).isDirectory()) return sourcesIn(file);
    return /\.tsx?$/.test(name) && !name.includes('.test.') && !name.includes('.as.') ? [file] : [];
  });
}

/** What a file imports, as it is written, types included; what it loads later is another matter. */
function specifiersOf(file: string): string[] {
  const text = readFileSync(path.join(ROOT, file), 'utf8');
  return [...text.matchAll(/^(?:import|export) (?:[^'"]*? from )?'([^']+)';$/gm)].map(([, from]) => from!);
}

/** What a file of ours imports of ours, as paths from the root. */
function importsOf(file: string): string[] {
  return specifiersOf(file).flatMap((from) => {
    if (from.startsWith('#')) return [`${from.slice(1)}.ts`];
    return from.startsWith('.') ? [path.posix.join(path.posix.dirname(file), from)] : [];
  });
}

/** The file that an import names with or without its ending. */
function fileOf(target: string, known: ReadonlySet<string>): string[] {
  const bare = target.replace(/\.tsx?$/, '');
  return [`${bare}.ts`, `${bare}.tsx`].filter((file) => known.has(file));
}

/** Floors that have rooms: the folders in them. */
const ROOMS = /^(?:core\/(?:files|project|geometry|jobs)|server\/(?:projects|views)|app\/ui)\/[^/]+(?=\/)/;

/** Ways that lead back to where they began. */
function circlesIn(next: ReadonlyMap<string, Iterable<string>>): string {
  const state = new Map<string, 'open' | 'done'>();
  const circles: string[] = [];
  const visit = (at: string, way: readonly string[]) => {
    if (state.get(at) === 'open') circles.push([...way.slice(way.indexOf(at)), at].join(' → '));
    if (state.has(at)) return;
    state.set(at, 'open');
    for (const to of next.get(at) ?? []) visit(to, [...way, at]);
    state.set(at, 'done');
  };
  for (const at of next.keys()) visit(at, []);
  return circles.join('\n');
}

describe('imports', () => {
  it('go down only, as the table of floors in docs/architecture.md says', () => {
    const { rowOf, below } = floorsOf(readFileSync(path.join(ROOT, 'docs/architecture.md'), 'utf8'));
    expect(below.size).toBeGreaterThan(20);
    // The longest name that fits: a room may stand on another floor than the rest of its folder.
    const names = [...rowOf.keys()].sort((a, b) => b.length - a.length);
    const floorOf = (file: string) => {
      const bare = file.replace(/\.tsx?$/, '');
      const name = names.find((one) => bare === one.replace(/\.tsx?$/, '') || file.startsWith(`${one}/`));
      return name && rowOf.get(name);
    };
    const wrong: string[] = [];
    for (const file of ['core', 'server', 'app', 'cli', 'demo'].flatMap(sourcesIn)) {
      const from = floorOf(file);
      if (from === undefined) wrong.push(`${file} is in no folder of the table`);
      for (const target of importsOf(file)) {
        const to = floorOf(target);
        if (from === undefined || to === undefined || to === from || below.get(from)!.has(to)) continue;
        wrong.push(`${file} imports ${target}, which is not below it`);
      }
    }
    expect(wrong.join('\n')).toBe('');
    for (const [row, rows] of below) expect(rows.has(row), `${row} is below itself`).toBe(false);
  });

  it('go in no circle, neither of files nor of the rooms of a floor', () => {
    const files = PARTS.flatMap(sourcesIn);
    const known = new Set(files);
    const imports = new Map(files.map((file) => [file, importsOf(file).flatMap((to) => fileOf(to, known))]));
    expect(imports.size).toBeGreaterThan(500);
    expect([...imports.values()].flat().length).toBeGreaterThan(imports.size);
    expect(circlesIn(imports)).toBe('');

    const roomOf = (file: string) => ROOMS.exec(file)?.[0];
    const rooms = new Map<string, Set<string>>();
    for (const [file, targets] of imports)
      for (const target of targets) {
        const [from, to] = [roomOf(file), roomOf(target)];
        if (from && to && from !== to) rooms.set(from, (rooms.get(from) ?? new Set()).add(to));
      }
    expect(rooms.size).toBeGreaterThan(20);
    expect(circlesIn(rooms)).toBe('');
  });

  it('leave it to the formats which format a file has: nobody else knows endings, or one format from inside', () => {
    // Measurements look at one format from inside.
    const outside = PARTS.flatMap(sourcesIn).filter(
      (file) => !/^(core\/project\/formats|bench)\//.test(file),
    );
    const inside = outside.flatMap((file) =>
      importsOf(file).flatMap((to) =>
        to.startsWith('core/project/formats/step/') ? [`${file}: ${to}`] : [],
      ),
    );
    expect(inside).toEqual([]);
    const ending = /\.(?:stp|step|p21)\b['"`]|['"](?:stp|p21)['"]|\bstp\|step\b|format [!=]== 'step'/;
    const endings = outside
      // The demo's own files and what the kernel calls its scratch files have names of their own.
      .filter((file) => !/^(demo|bench|soak|scripts|core\/geometry\/shape)\//.test(file))
      .flatMap((file) =>
        readFileSync(path.join(ROOT, file), 'utf8')
          .split('\n')
          .flatMap((line, n) =>
            ending.test(line) && !/^\s*(\/\/|\/?\*)/.test(line) ? [`${file}:${n + 1} ${line.trim()}`] : [],
          ),
      );
    expect(endings).toEqual([]);
  });
});

describe('routes', () => {
  it('touch neither the database nor bytes: they hand on what the server gives', () => {
    const routes = sourcesIn('app/routes');
    expect(routes.length).toBeGreaterThan(40);
    const wrong = routes.flatMap((file) => [
      ...specifiersOf(file)
        .filter((from) => /^#server\/db\/(?!connection$)|^knex|^pg$/.test(from))
        .map((from) => `${file} imports ${from}`),
      ...(/\bdb\(|\bdb\s*\.\s*(raw|transaction)\b|Buffer\b/.test(readFileSync(path.join(ROOT, file), 'utf8'))
        ? [`${file} asks the database, or takes bytes apart`]
        : []),
    ]);
    expect(wrong).toEqual([]);
  });
});

describe('styles', () => {
  it('take from styles that are there: only the build would say otherwise', () => {
    const styles = readdirSync(path.join(ROOT, 'app'), { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.css'))
      .map((name) => path.join(ROOT, 'app', name));
    const taken = styles.flatMap((file) =>
      [...readFileSync(file, 'utf8').matchAll(/\bfrom ['"](\.[^'"]+)['"]/g)].map(([, from]) =>
        path.join(path.dirname(file), from!),
      ),
    );
    expect(taken.length).toBeGreaterThan(0);
    expect(taken.filter((file) => !existsSync(file))).toEqual([]);
  });
});
