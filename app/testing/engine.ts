import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { AxeResults } from 'axe-core';
import { Window } from 'happy-dom';

const ENGINE = createRequire(import.meta.url).resolve('axe-core/axe.min.js');

/** What needs a page that is laid out and painted: the browser's tests look at it. */
const NEEDS_LAYOUT = ['color-contrast', 'target-size', 'scrollable-region-focusable'];

/** Reads pages with an accessibility engine, without a browser: names, roles, landmarks, ids. */
export function accessibilityEngine(): { findings: (html: string) => Promise<string[]>; close: () => void } {
  const window = new Window({
    settings: {
      disableJavaScriptFileLoading: true,
      enableJavaScriptEvaluation: true,
      suppressInsecureJavaScriptEnvironmentWarning: true,
    },
  });
  window.document.documentElement.lang = 'en';
  window.document.title = 'A page';
  window.eval(readFileSync(ENGINE, 'utf8'));
  const { axe } = window as unknown as { axe: typeof import('axe-core') };
  const rules = Object.fromEntries(NEEDS_LAYOUT.map((rule) => [rule, { enabled: false }]));
  return {
    findings: async (html) => {
      window.document.body.innerHTML = html;
      const { violations }: AxeResults = await axe.run(window.document as unknown as Document, {
        resultTypes: ['violations'],
        rules,
      });
      return violations.flatMap(({ id, help, nodes }) =>
        nodes.slice(0, 3).map(({ target }) => `${id}: ${help}: ${target.join(' ')}`),
      );
    },
    close: () => window.close(),
  };
}

/** Of what a page is built: its kinds of elements, by tag, role, class, and which attributes they have. Two alike are read once. */
export function buildOf(html: string): string {
  const kinds = [...html.matchAll(/<[a-z][^>]*>/g)].map(([tag]) =>
    tag.replaceAll(/(?<!role|type|class)="[^"]*"/g, '').replaceAll(/\d+/g, ''),
  );
  return [...new Set(kinds)].sort().join('');
}
