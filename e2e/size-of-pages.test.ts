import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { ROOT } from '../scripts/bootstrap.mjs';

const ASSETS = path.join(ROOT, 'build/client/assets');

/** What a page needs before anything is painted by its scripts: 250 kB as they are sent. What draws on the stage comes after. */
const MOST_BYTES = 250_000;

/** Pages that read choices by the schemas of their operations fetch what reads schemas, too. */
const MOST_WITH_SCHEMAS = 300_000;
const WITH_SCHEMAS = ['routes/split', 'routes/cut', 'routes/lite', 'routes/groups', 'routes/seal'];

interface Route {
  parentId?: string;
  path?: string;
  module: string;
  imports?: string[];
}

/** What the build says of pages and their scripts. */
function manifest(): { entry: { module: string; imports: string[] }; routes: { [id: string]: Route } } {
  const name = readdirSync(ASSETS).find((file) => /^manifest-.*\.js$/.test(file))!;
  const text = readFileSync(path.join(ASSETS, name), 'utf8');
  return JSON.parse(text.slice(text.indexOf('{'), text.lastIndexOf('}') + 1));
}

/** Bytes of a script on its way: pressed, where it was worth it. */
function sentBytes(address: string): number {
  const file = path.join(ASSETS, path.basename(address));
  return statSync(existsSync(`${file}.br`) ? `${file}.br` : file).size;
}

describe('the scripts of a page', () => {
  const { entry, routes } = manifest();
  const pages = Object.entries(routes).filter(
    ([id, { path: at }]) => at !== undefined && /routes|report/.test(id),
  );

  it.each(pages.map(([id]) => id))('of %s are no more than somebody waits for', (id) => {
    const scripts = new Set([entry.module, ...entry.imports]);
    for (let route: Route | undefined = routes[id]; route; route = routes[route.parentId ?? ''])
      for (const script of [route.module, ...(route.imports ?? [])]) scripts.add(script);
    const bytes = [...scripts].reduce((sum, script) => sum + sentBytes(script), 0);
    expect(bytes).toBeGreaterThan(50_000);
    expect(bytes).toBeLessThan(WITH_SCHEMAS.includes(id) ? MOST_WITH_SCHEMAS : MOST_BYTES);
  });

  it('leave what draws the model for later', () => {
    const drawing = readdirSync(ASSETS).filter(
      (file) => /^(stage-view|three)/.test(file) && file.endsWith('.js'),
    );
    expect(drawing.length).toBeGreaterThan(0);
    const first = new Set(
      Object.values(routes).flatMap(({ module, imports = [] }) =>
        [module, ...imports].map((name) => path.basename(name)),
      ),
    );
    expect(drawing.filter((file) => first.has(file))).toEqual([]);
  });
});
