// Makes the command line, the web process, the job worker and the kernel's thread into plain JavaScript: what starts often
// shall not be translated each time.
import { readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { build } from 'esbuild';
import { ROOT } from './bootstrap.mjs';

export const NODE_BUILD = path.join(ROOT, 'build/node');

/** By the names under which they are started. */
const ENTRIES = {
  stonetray: 'cli/main.ts',
  web: 'server/web/web.ts',
  worker: 'server/worker/worker.ts',
  'kernel-thread': 'core/geometry/shape/kernel-thread.ts',
};

/**
 * Packages that stay as they are: the kernel by its licence; those that look for files of their own, start threads of their own, or hold
 * something that there must be once in a process.
 */
const LEFT_ALONE = [
  'replicad-opencascadejs',
  'manifold-3d',
  'pg',
  'pg-boss',
  'knex',
  'pino',
  'express',
  'compression',
  'sirv',
  'prom-client',
  'react-router',
  '@react-router/*',
];

/** Some packages are written for `require`. */
const BANNER =
  "import { createRequire as makeRequire } from 'node:module';const require = makeRequire(import.meta.url);";

/** @param folder where the result goes, in place of what is there */
export async function buildNode(folder = NODE_BUILD) {
  rmSync(folder, { recursive: true, force: true });
  const { metafile } = await build({
    absWorkingDir: ROOT,
    entryPoints: ENTRIES,
    outdir: folder,
    outExtension: { '.js': '.mjs' },
    chunkNames: 'part-[hash]',
    bundle: true,
    splitting: true,
    platform: 'node',
    mainFields: ['module', 'main'],
    format: 'esm',
    target: 'node20',
    minifySyntax: true,
    minifyWhitespace: true,
    sourcemap: true,
    sourcesContent: false,
    legalComments: 'linked',
    external: LEFT_ALONE,
    banner: { js: BANNER },
    metafile: true,
    logLevel: 'warning',
  });
  return metafile;
}

/** For tests: what a package needs beside itself. */
export function packagesLeftAlone() {
  const { dependencies } = JSON.parse(readFileSync(path.join(ROOT, 'package.json'), 'utf8'));
  return { leftAlone: LEFT_ALONE, dependencies };
}

if (process.argv[1] === import.meta.filename) await buildNode();
