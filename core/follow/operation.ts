import { z } from 'zod';
import { operation, type Planned } from '#core/operation';
import { planDetach } from './detach';
import type { FollowOutline } from './outline';
import { planFollow } from './plan';
import { readOutline } from './read-outline';

const source = z.string().min(1).describe('the file that others came out of');

export const FollowChoices = z.object({
  source,
  removeGone: z.boolean().default(true).describe('bodies that the source no longer has stay in the assembly'),
  take: z
    .array(z.string())
    .default([])
    .describe('files that are taken from the source although they have changes of their own'),
});
export type FollowChoices = z.infer<typeof FollowChoices>;

/** Brings the files of a source up to its newest version. */
export const FOLLOW = operation({
  name: 'follow',
  title: 'Bring up to date',
  purpose: 'Bring the files that came out of a source up to its newest version.',
  place: 'links',
  page: 'sources',
  role: 'editor',
  accepts: 'source',
  choices: FollowChoices,
  cost: 'slow',
  async plan(context, { source: path, removeGone, take }): Promise<Planned<FollowOutline>> {
    const outline = await readOutline(context, path);
    const isBehind = (context.project.usedBy.get(path) ?? []).some(({ state }) => state === 'behind');
    const change = isBehind
      ? await planFollow(context, { outline, removeGone, overwrite: new Set(take) })
      : await context.draft.finish('Every file is at the newest version of its source');
    return { change, preview: outline };
  },
});

export const DetachChoices = z.object({
  source,
  files: z
    .array(z.string())
    .nullable()
    .default(null)
    .describe('only these files; all that came out of the source unless it is said'),
});
export type DetachChoices = z.infer<typeof DetachChoices>;

/** Detaches files from their source. */
export const DETACH = operation({
  name: 'detach',
  title: 'Detach from the source',
  purpose: 'Let files that came out of a source no longer follow it.',
  place: 'links',
  page: 'sources',
  role: 'editor',
  accepts: 'source',
  choices: DetachChoices,
  cost: 'quick',
  async plan(context, { source: path, files }): Promise<Planned<null>> {
    return { change: await planDetach(context, { source: path, paths: files }), preview: null };
  },
});
