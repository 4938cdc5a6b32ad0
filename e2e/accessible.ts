import { createRequire } from 'node:module';
import type { AxeResults } from 'axe-core';
import type { Page } from 'playwright-core';

const ENGINE = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

/** WCAG 2.2 on levels A and AA, and what the engine's makers hold to be good besides. */
const RULES = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];

/** What opens above a page stands outside of its landmarks. */
export const ABOVE = RULES.filter((tag) => tag !== 'best-practice');

/** What an engine finds wrong with a page as it is: one line a rule, with the places. */
async function findings(page: Page, rules = RULES): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) {
    // The page lets in no script from outside: it is handed to the browser itself.
    const session = await page.context().newCDPSession(page);
    const { readFileSync } = await import('node:fs');
    await session.send('Runtime.evaluate', { expression: readFileSync(ENGINE, 'utf8') });
    await session.detach();
  }
  const { violations } = await page.evaluate(
    async (tags): Promise<AxeResults> =>
      (window as unknown as { axe: typeof import('axe-core') }).axe.run(document, {
        runOnly: tags,
        resultTypes: ['violations'],
      }),
    rules,
  );
  const moving = await page.evaluate(() =>
    document
      .getAnimations()
      .filter(({ effect }) => effect?.getComputedTiming().iterations !== Number.POSITIVE_INFINITY)
      .map(
        ({ effect }) =>
          `moves though less motion is asked for: ${(effect as KeyframeEffect).target?.className}`,
      ),
  );
  const wrong = violations.map(
    ({ id, help, nodes }) =>
      `${id}: ${help}: ${nodes
        .slice(0, 4)
        .map(
          ({ target, failureSummary }) =>
            `${target.join(' ')} (${failureSummary?.split('\n').slice(1, 2).join('').trim()})`,
        )
        .join('; ')}`,
  );
  return [...wrong, ...moving];
}

/** The same in light and in dark colours. */
export async function inBothColours(page: Page, rules = RULES): Promise<string[]> {
  const scheme = (colours: string) =>
    page.evaluate(
      (value) => document.documentElement.setAttribute('data-mantine-color-scheme', value),
      colours,
    );
  await scheme('light');
  const light = await findings(page, rules);
  await scheme('dark');
  const dark = await findings(page, ['color-contrast']);
  await scheme('light');
  return [...light, ...dark.map((finding) => `dark: ${finding}`)];
}
