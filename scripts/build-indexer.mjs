// Compiles core/files/part21/fast/index-instances.as.ts to WebAssembly and writes it as a module, so that it is found
// whether the code runs from its sources or from a bundle.
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { ROOT, run } from './bootstrap.mjs';

const folder = path.join(ROOT, 'core/files/part21/fast');
const out = mkdtempSync(path.join(os.tmpdir(), 'stonetray-indexer-'));
const wasm = path.join(out, 'index-instances.wasm');
run('npx', [
  'asc',
  path.join(folder, 'index-instances.as.ts'),
  '-o',
  wasm,
  '-O3',
  '--noAssert',
  '--runtime',
  'stub',
  '--enable',
  'simd',
  '--importMemory',
  '--memoryBase',
  '64',
]);
const lines = readFileSync(wasm)
  .toString('base64')
  .match(/.{1,100}/g)
  .map((line) => `  '${line}',`);
writeFileSync(
  path.join(folder, 'index-instances.wasm.ts'),
  `/** WebAssembly made from index-instances.as.ts by \`npm run build:indexer\`; base64. */\nexport const INDEXER_WASM = [\n${lines.join('\n')}\n].join('');\n`,
);
rmSync(out, { recursive: true });
