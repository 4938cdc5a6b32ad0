import { ensureDebian, ensurePackages, withTypeScript } from './bootstrap.mjs';

// Renews the pictures in docs/screenshots from a fresh demo.
ensurePackages();
ensureDebian({ browser: true });
const { screenshots } = await withTypeScript('scripts/take-screenshots.ts');
await screenshots();
process.exit(0);
