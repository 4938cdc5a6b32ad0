import { ensureDebian, ensurePackages, withTypeScript } from './bootstrap.mjs';

try {
  ensurePackages();
  ensureDebian();
  const { demo } = await withTypeScript('scripts/start-demo.ts');
  await demo(process.argv.slice(2));
} catch (error) {
  console.error(`\n${error.message}`);
  process.exit(1);
}
