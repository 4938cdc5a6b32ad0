import { ensureDebian, ensurePackages, tryOutsideReader, withTypeScript } from './bootstrap.mjs';

try {
  ensurePackages();
  ensureDebian({ browser: true });
  tryOutsideReader();
  const { test } = await withTypeScript('scripts/run-tests.ts');
  process.exit(await test(process.argv.slice(2)));
} catch (error) {
  console.error(`\n${error.message}`);
  process.exit(1);
}
