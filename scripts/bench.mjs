import { ensurePackages, withTypeScript } from './bootstrap.mjs';

ensurePackages();
const { runBench } = await withTypeScript('scripts/run-bench.ts');
process.exit(await runBench());
