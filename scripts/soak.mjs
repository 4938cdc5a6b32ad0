import { ensureDebian, ensurePackages, withTypeScript } from './bootstrap.mjs';

// A long run of kills, damaged files and load: minutes, and no part of the tests.
ensurePackages();
ensureDebian({ browser: true });
const { soak } = await withTypeScript('scripts/run-soak.ts');
process.exit(await soak(process.argv.slice(2)));
