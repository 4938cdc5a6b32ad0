import fs from 'node:fs';
import { chromium } from 'playwright-core';

const [steps] = process.argv.slice(2);
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--use-gl=angle', '--use-angle=swiftshader', '--enable-unsafe-swiftshader'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
page.on('console', (m) => {
  if (m.type() === 'error') console.log('console:', m.text().slice(0, 300));
});
page.on('pageerror', (e) => console.log('pageerror:', e.message.slice(0, 300)));
await page.goto('http://localhost:4680/sign-in');
await page
  .getByRole('button', { name: /Sign in/ })
  .first()
  .click();
await page.waitForURL(/projects/);
const href = await page.getByRole('link', { name: /HX-12/ }).first().getAttribute('href');
const P = 'http://localhost:4680' + href!.split('/').slice(0, 3).join('/');
const shot = (name: string) => page.screenshot({ path: `/tmp/w/s-${name}.png` });
const fn = new Function('page', 'P', 'shot', `return (async () => { ${fs.readFileSync(steps!, 'utf8')} })()`);
try {
  await fn(page, P, shot);
} finally {
  await browser.close();
}
