import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';

const ROOT = path.join(import.meta.dirname, '..');

interface Layers {
  /** The row of the table that a name stands in, by the first name of that row. */
  rowOf: ReadonlyMap<string, string>;
  /** What a row may import, with all that those rows may. */
  below: ReadonlyMap<string, ReadonlySet<string>>;
}

/** Reads the table of folders in docs/architecture.md. */
function layersOf(markdown: string): Layers {
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

/** What a file of ours imports, as paths from the root, types included. */
function importsOf(file: string): string[] {
  const text = readFileSync(path.join(ROOT, file), 'utf8');
  return [...text.matchAll(/^(?:import|export) [^'"]*?(?:from )?'([^']+)';$/gm)].flatMap(([, from]) => {
    if (from!.startsWith('#')) return [`${from!.slice(1)}.ts`];
    return from!.startsWith('.') ? [path.posix.join(path.posix.dirname(file), from!)] : [];
  });
}

/** The file that an import names with or without its ending. */
function fileOf(target: string, known: ReadonlySet<string>): string[] {
  const bare = target.replace(/\.tsx?$/, '');
  return [`${bare}.ts`, `${bare}.tsx`].filter((file) => known.has(file));
}

describe('imports', () => {
  it('go down only, as the table of folders in docs/architecture.md says', () => {
    const { rowOf, below } = layersOf(readFileSync(path.join(ROOT, 'docs/architecture.md'), 'utf8'));
    expect(below.size).toBeGreaterThan(25);
    const names = [...rowOf.keys()];
    const layerOf = (file: string) => {
      const bare = file.replace(/\.tsx?$/, '');
      const name = names.find((one) => bare === one.replace(/\.tsx?$/, '') || file.startsWith(`${one}/`));
      return name && rowOf.get(name);
    };
    const wrong: string[] = [];
    for (const file of ['core', 'server', 'app', 'cli', 'demo'].flatMap(sourcesIn)) {
      const from = layerOf(file);
      if (from === undefined) wrong.push(`${file} is in no folder of the table`);
      for (const target of importsOf(file)) {
        const to = layerOf(target);
        if (from === undefined || to === undefined || to === from || below.get(from)!.has(to)) continue;
        wrong.push(`${file} imports ${target}, which is not below it`);
      }
    }
    expect(wrong.join('\n')).toBe('');
    for (const [row, rows] of below) expect(rows.has(row), `${row} is below itself`).toBe(false);
  });

  it('go in no circle', () => {
    const files = ['core', 'server', 'app', 'cli', 'demo', 'bench', 'soak', 'scripts'].flatMap(sourcesIn);
    const known = new Set(files);
    const imports = new Map(files.map((file) => [file, importsOf(file).flatMap((to) => fileOf(to, known))]));
    expect(imports.size).toBeGreaterThan(500);
    expect([...imports.values()].flat().length).toBeGreaterThan(imports.size);
    const state = new Map<string, 'open' | 'done'>();
    const circles: string[] = [];
    const visit = (file: string, path: readonly string[]) => {
      if (state.get(file) === 'open') circles.push([...path.slice(path.indexOf(file)), file].join(' → '));
      if (state.has(file)) return;
      state.set(file, 'open');
      for (const next of imports.get(file)!) visit(next, [...path, file]);
      state.set(file, 'done');
    };
    for (const file of files) visit(file, []);
    expect(circles.join('\n')).toBe('');
  });
});
