import { z } from 'zod';
import { MOST_CHOSEN, MOST_ENTRIES } from '#core/misfit';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';

const designation = z.string().max(200);

export const MakeComponentsChoices = z.object({
  file: z.string().min(1).max(4000).describe('the part or the assembly that holds the bodies'),
  product: z
    .string()
    .min(1)
    .max(1000)
    .nullable()
    .default(null)
    .describe('only bodies of this product, by its name, its id or its number'),
  bodies: z
    .array(z.int())
    .max(MOST_CHOSEN)
    .nullable()
    .default(null)
    .describe('only these bodies, by their numbers in the file'),
  names: z
    .record(z.string(), designation)
    .refine((names) => Object.keys(names).length <= MOST_ENTRIES, 'names too many')
    .default({})
    .describe('what the parts are called, by the number of the body'),
});
export type MakeComponentsChoices = z.infer<typeof MakeComponentsChoices>;

/** A body that becomes a part. */
export interface MadeComponent {
  body: number;
  id: string;
  name: string;
  /** The product that places it. */
  parent: string;
}

/** Bodies of a part or an assembly become components of it, in the same file. */
export const MAKE_COMPONENTS = operation<
  MakeComponentsChoices,
  { components: MadeComponent[] },
  unknown,
  Planning
>({
  name: 'make-components',
  title: 'Make components of bodies',
  purpose: 'Make bodies that lie loose in a part or an assembly components of it, in the same file.',
  place: 'structure',
  page: 'make-components',
  pageTitle: 'Components of bodies',
  role: 'editor',
  accepts: { what: 'file', parameter: 'file', roles: ['part', 'assembly'], bodies: 2, isUnlisted: true },
  choices: MakeComponentsChoices,
  cost: 'slow',
  plan: async (context, choices) => (await import('./plan')).planMakeComponents(context, choices),
  form: async () => (await import('./command')).MAKE_COMPONENTS_FORM,
});
