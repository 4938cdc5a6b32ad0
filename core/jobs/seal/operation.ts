import { baseName } from '#core/files/links/paths';
import { operation } from '#core/operation';
import { SealFileChoices, WAY_WORDS } from './choices';
import type { SealOutline } from './plan';
import type { SealPreview } from './view';

/** Makes one sealed solid. */
export const SEAL = operation<SealFileChoices, SealOutline, SealPreview>({
  name: 'seal',
  title: 'Sealed solid',
  purpose: 'Make one solid of a whole assembly, without components, names or history.',
  place: 'give',
  page: 'seal',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly', 'part'] },
  choices: SealFileChoices,
  cost: 'slow',
  async plan(context, { file, ...choices }) {
    const { planSeal } = await import('./plan');
    const outline = await planSeal(context, file, choices);
    const { loose, way } = outline.report;
    const change = await context.draft.finish(`Made ${baseName(outline.file)}: one solid, ${WAY_WORDS[way]}`);
    if (loose.length === 0 || choices.loose === 'drop') return { change, preview: outline };
    const names = loose.map(({ names: own }) => own.slice(0, 3).join(', ') || 'a body without a name');
    const hindrance = `${loose.length === 1 ? 'One piece touches' : `${loose.length} pieces touch`} nothing else: ${names.slice(0, 4).join('; ')}. Leave them out, or widen the gap.`;
    return { change, preview: outline, hindrance };
  },
  view: async (outline, home) => (await import('./view')).sealPreview(outline, home),
  form: async () => (await import('./command')).SEAL_FORM,
  madeAgain: { what: ['sealed solid', 'sealed solids'] },
  forAnyFile: ({ file: _file, folder: _folder, keepFaces: _faces, ...choices }) => choices,
});
