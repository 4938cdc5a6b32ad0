import { baseName } from '#core/files/links/paths';
import { operation } from '#core/operation';
import type { Amount, FoundWithin } from './budget';
import { LiteFileChoices, ofAnyFile } from './choices';
import type { LiteOutline } from './plan';
import type { LitePreview } from './view';

const AMOUNT_WORDS = { faces: 'faces', triangles: 'triangles', bytes: 'bytes' } as const;

function outOfReach({ budget: { what, most } }: FoundWithin, after: Amount): string {
  const inWords = (value: number) => `${value.toLocaleString('en')} ${AMOUNT_WORDS[what]}`;
  return `It comes to ${inWords(after[what])} at least, and ${inWords(most)} were asked for. Let go of faces and components that stay, or make a sealed solid or an envelope of it.`;
}

/** Makes a lite model. */
export const LITE = operation<LiteFileChoices, LiteOutline, LitePreview>({
  name: 'lite',
  title: 'Lite model',
  purpose: 'Make a light model of an assembly that others can mount and plan with, and not copy.',
  place: 'give',
  page: 'lite',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly', 'part'] },
  choices: LiteFileChoices,
  cost: 'slow',
  async plan(context, { file, ...choices }) {
    const { planLite } = await import('./plan');
    const outline = await planLite(context, file, choices);
    const { before, after } = outline.report;
    const change = await context.draft.finish(
      `Made ${baseName(outline.file)}: ${after.faces.toLocaleString('en')} of ${before.faces.toLocaleString('en')} faces`,
    );
    const { found } = outline;
    if (!found || found.isReached) return { change, preview: outline };
    return { change, preview: outline, hindrance: outOfReach(found, after) };
  },
  view: async (outline, home) => (await import('./view')).litePreview(outline, home),
  form: async () => (await import('./command')).LITE_FORM,
  madeAgain: { what: ['lite model', 'lite models'] },
  forAnyFile: ofAnyFile,
});
