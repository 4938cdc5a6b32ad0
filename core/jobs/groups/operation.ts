import { baseName } from '#core/files/links/paths';
import { operation } from '#core/operation';
import { GroupsFileChoices } from './choices';
import type { GroupsOutline } from './plan';
import type { GroupsPreview } from './view';

/** Gathers components into rigid groups with joints between them. */
export const GROUPS = operation<GroupsFileChoices, GroupsOutline, GroupsPreview>({
  name: 'groups',
  title: 'Moving groups',
  purpose: 'Gather the components of an assembly into a few rigid groups that still move against each other.',
  place: 'give',
  page: 'groups',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['assembly'] },
  choices: GroupsFileChoices,
  cost: 'slow',
  async plan(context, { file, ...choices }) {
    const { planGroups } = await import('./plan');
    const outline = await planGroups(context, file, choices);
    const { made, groups, joints, loose } = outline;
    const change = await context.draft.finish(
      made
        ? `Made ${baseName(made.file)}: ${groups.length} groups, ${joints.length} joints`
        : 'Groups are proposed',
    );
    if (!made || loose.length === 0) return { change, preview: outline };
    return {
      change,
      preview: outline,
      hindrance: `No joint leads to ${loose.join(', ')}. Add one; a fixed one will do.`,
    };
  },
  view: async (outline) => (await import('./view')).groupsPreview(outline),
  form: async () => (await import('./command')).GROUPS_FORM,
  madeAgain: { what: ['file with moving groups', 'files with moving groups'] },
});
