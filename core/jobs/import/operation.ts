import { z } from 'zod';
import { ON_CONFLICT } from '#core/jobs/handoff/on-conflict';
import type { PackageProblem } from '#core/jobs/handoff/open-package';
import type { UnpackPlan } from '#core/jobs/handoff/unpack';
import { MOST_CHOSEN } from '#core/misfit';
import { operation } from '#core/operation';
import { Refusal } from '#core/refusal';
import type { ImportOutline } from './plan';

const onConflict = z
  .enum(ON_CONFLICT)
  .describe('what happens to a file of the same name that is there already');

export const ImportChoices = z.object({
  from: z.array(z.string().min(1)).min(1).max(MOST_CHOSEN).describe('what arrived'),
  onConflict: onConflict.default('replace'),
  withoutHistory: z
    .boolean()
    .default(false)
    .describe('of an exported project take the files only, where its history could come along'),
});
export type ImportChoices = z.infer<typeof ImportChoices>;

/** Takes in files, folders, zips and packages from outside. */
export const IMPORT = operation<ImportChoices, ImportOutline>({
  name: 'import',
  title: 'Import',
  purpose: 'Take in files, folders, zips and packages from outside.',
  place: 'files',
  page: 'import',
  role: 'editor',
  accepts: { what: 'received' },
  choices: ImportChoices,
  cost: 'slow',
  async plan(context, { from, onConflict: choice, withoutHistory }) {
    const { planImport } = await import('./plan');
    const received = (await Promise.all(from.map((name) => context.received(name)))).flat();
    const { outline, ...planned } = await planImport(context, {
      received,
      onConflict: choice,
      withoutHistory,
    });
    return { ...planned, preview: outline };
  },
  form: async () => (await import('./command')).IMPORT_FORM,
});

export const UnpackChoices = z.object({
  package: z.string().min(1).describe('the package'),
  onConflict: onConflict.default('keep'),
});
export type UnpackChoices = z.infer<typeof UnpackChoices>;

/** What a package lays out, and what is wrong with it. */
export interface UnpackPreview extends Pick<UnpackPlan, 'laidOut' | 'conflicts'> {
  problems: PackageProblem[];
}

/** Lays the files of a package out. */
export const UNPACK = operation<UnpackChoices, UnpackPreview>({
  name: 'unpack',
  title: 'Unpack',
  purpose: 'Lay the files of a package out in a folder.',
  place: 'files',
  page: 'files',
  role: 'editor',
  accepts: { what: 'received' },
  choices: UnpackChoices,
  cost: 'slow',
  async plan(context, { package: name, onConflict: choice }) {
    const { isDamaged, openPackage } = await import('#core/jobs/handoff/open-package');
    const { planUnpack } = await import('#core/jobs/handoff/unpack');
    const [zip, ...more] = await context.received(name);
    if (!zip || more.length > 0) throw new Refusal(`${name} is no package.`);
    const opened = await openPackage(await context.unpacked(zip), context.scansOf);
    const { problems } = opened;
    if (isDamaged(opened))
      return {
        change: await context.draft.finish('Nothing yet'),
        preview: { laidOut: [], conflicts: [], problems },
        hindrance: `${name} is damaged, so nothing was unpacked. Ask for it again.`,
      };
    const { change, laidOut, conflicts } = await planUnpack(context, {
      opened,
      into: '',
      onConflict: choice,
    });
    return { change, preview: { laidOut, conflicts, problems } };
  },
  form: async () => (await import('./command')).UNPACK_FORM,
});
