import type { z } from 'zod';
import { readChoices } from './choices';
import type { CommandForm } from './command/form';
import type { RegistryEntry } from './entry';
import type { Planned, PreviewHome } from './planned';
import type { PlanContext, Planning } from './planning';
import type { SeenVersion } from './project/change/seen';
import type { ProjectLink } from './project/scan/project';

/** What is chosen about files that are made again: about bodies that are gone, and files with changes of their own. */
export interface RemakeRules {
  /** Whether bodies that the source no longer has leave the assembly. */
  removeGone: boolean;
  /** Files that are taken from the source although they have changes of their own. */
  take: readonly string[];
}

/** Files that were made from one source by the same operation, to be made again from its newest version. */
export interface Remaking extends RemakeRules {
  source: string;
  /** Their links to the source, each with what the file remembers: digest, items, recipe. */
  links: readonly ProjectLink[];
}

/** What came of making files again. */
export interface Remade {
  /** What became of them, in a few words; null where all of them are at the newest version. */
  words: string | null;
  /** For a page that goes through the source body by body. */
  outline?: unknown;
}

/**
 * How files that an operation made are made again. By their recipes: the same plan is run with the choices that stand in the file, with
 * `remadeFile` in its context; all it takes is a word for them. Or in a way of its own.
 */
export type MadeAgain =
  | { what: readonly [one: string, several: string] }
  /** Writes the files on the draft. @throws Refusal that says which step no longer fits, and why */
  | { remake(context: PlanContext, asked: Remaking): Promise<Remade> };

export type Cost = 'quick' | 'slow';

/**
 * Everything that the interface, the command line and the job worker have to know of one operation. What belongs to it stands here, or
 * beside it in its folder: nothing else lists operations by name.
 */
export interface Operation<
  Choices extends object = object,
  Preview = unknown,
  View = unknown,
  Context extends Planning = PlanContext,
> extends RegistryEntry {
  kind: 'operation';
  /** What its command is called, where that is another word. */
  command?: string;
  choices: z.ZodType<Choices>;
  /** Quick: planned while the page waits, in less than 100 ms. Slow: planned by the job worker. Some depend on what is chosen. */
  cost: Cost | ((choices: Choices) => Cost);
  /** With no more in its context than it uses. @throws Refusal in words for the person who asked */
  plan(context: Context, choices: Choices): Promise<Planned<Preview>>;
  /** How a preview that is more than plain data reaches its page. */
  view?(preview: Preview, home: PreviewHome): Promise<View>;
  /** What is particular to its command; without it flags come from the choices, and what is printed from the change. */
  form?(): Promise<CommandForm<Choices, Preview>>;
  /** For an operation that makes derived files. */
  madeAgain?: MadeAgain;
  /** For an operation whose choices can be kept under a name: of some choices those that are for any file. */
  forAnyFile?(choices: Choices): object;
}

/** What planning costs with some choices. Those that cannot be read are refused at once. */
export function costOf<Choices extends object>(
  { cost, choices }: Pick<Operation<Choices>, 'cost' | 'choices'>,
  asked: unknown,
): Cost {
  if (typeof cost === 'string') return cost;
  const read = choices.safeParse(asked);
  return read.success ? cost(read.data) : 'quick';
}

/**
 * Describes an operation.
 * @example operation({ name: 'detach', title: 'Detach from the source', ..., plan: async (context, choices) => ... })
 */
export function operation<
  Choices extends object,
  Preview,
  View = unknown,
  Context extends Planning = PlanContext,
>(
  described: Omit<Operation<Choices, Preview, View, Context>, 'kind'>,
): Operation<Choices, Preview, View, Context> {
  return { kind: 'operation', ...described };
}

/**
 * Plans an operation.
 * @param asked choices as somebody wrote them
 * @returns the plan with its operation and choices, and what it rests on
 * @throws Refusal also for choices that cannot be read
 */
export async function planOperation<Choices extends object, Preview, Context extends Planning>(
  { name, choices: schema, plan }: Operation<Choices, Preview, unknown, Context>,
  context: Context,
  asked: unknown,
): Promise<Planned<Preview> & { seen: SeenVersion[] }> {
  const choices = readChoices(name, schema, asked);
  const { change, ...rest } = await plan(context, choices);
  const made = { operation: name, choices };
  return { ...rest, change: { ...change, made }, seen: context.draft.seen() };
}
