import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';

const ROOT = path.join(import.meta.dirname, '..');
/** What only runs in the browser; routes are taken apart by the framework, which leaves their loaders on the server. */
const STARTS = ['app/screens', 'app/stage', 'app/ui'];
const IMPORT = /^(?:import|export) (?!type\b)(?:([^'"]*?) from )?'([^']+)';/gms;

function sourcesIn(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const file = path.join(folder, name);
    if (statSync(file).isDirectory()) return sourcesIn(file);
    return /\.tsx?$/.test(name) && !name.includes('.test.') ? [file] : [];
  });
}

/** Files of ours that one imports for more than their types. */
function importsOf(file: string): string[] {
  return [...readFileSync(file, 'utf8').matchAll(IMPORT)].flatMap(([, names, from]) => {
    const listed = /^\{(.*)\}$/s.exec(names ?? '')?.[1]?.split(',');
    if (listed?.every((name) => name.trim() === '' || name.trim().startsWith('type '))) return [];
    const target = from!.startsWith('#')
      ? path.join(ROOT, from!.slice(1))
      : from!.startsWith('.')
        ? path.join(path.dirname(file), from!)
        : null;
    if (target === null) return [];
    return ['.ts', '.tsx', '']
      .map((end) => target + end)
      .filter((found) => /\.tsx?$/.test(found) && existsSync(found))
      .slice(0, 1);
  });
}

describe('code that runs in the browser', () => {
  it('reaches nothing that needs Node.js', () => {
    const cameFrom = new Map<string, string>();
    const queue = STARTS.flatMap((folder) => sourcesIn(path.join(ROOT, folder)));
    for (const file of queue) cameFrom.set(file, '');
    const wrong: string[] = [];
    for (const file of queue) {
      if (/\bBuffer\b|from 'node:|\bprocess\.env\b/.test(readFileSync(file, 'utf8'))) {
        const way = [file];
        for (let at = cameFrom.get(file); at; at = cameFrom.get(at)) way.push(at);
        wrong.push(
          way
            .reverse()
            .map((step) => path.relative(ROOT, step))
            .join(' > '),
        );
      }
      for (const next of importsOf(file)) {
        if (cameFrom.has(next) || next.includes(`${path.sep}routes${path.sep}`)) continue;
        cameFrom.set(next, file);
        queue.push(next);
      }
    }
    expect(wrong).toEqual([]);
    expect(queue.some((file) => file.endsWith('core/jobs/split/choices.ts'))).toBe(true);
  });
});
