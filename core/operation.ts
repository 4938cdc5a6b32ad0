import type { Readable } from 'node:stream';
import type { z } from 'zod';
import type { Accepts } from './accepts';
import type { Place } from './places';
import type { PlanContext } from './planning';
import type { ChangeSet } from './project/change/change-set';
import type { SeenVersion } from './project/change/seen';
import { Refusal } from './refusal';

/** What an operation would do. */
export interface Planned<Preview> {
  change: ChangeSet;
  /** What a page or a program wants to know besides. */
  preview: Preview;
  /** Why it cannot be carried out as it is chosen, although there is something to look at. */
  hindrance?: string;
  /** A file that it makes for the person, outside the project. */
  product?: Product;
}

/** A file that is made for the person who asked. */
export interface Product {
  name: string;
  /** Makes it. @returns its bytes as a stream, and what it holds, for programs */
  write(): Promise<{ stream: Readable; contents: unknown }>;
}

/** An operation as menus and the palette show it. */
export interface OperationEntry {
  /** Its name in addresses, in records and on the command line. */
  name: string;
  title: string;
  /** One sentence. */
  purpose: string;
  place: Place;
  /** The page's address under the project's. */
  page: string;
  /** What the page is called, where that is another word. */
  pageTitle?: string;
  /** The role that applying it needs. Everybody may see what it would do. */
  role: 'viewer' | 'editor';
  accepts: Accepts;
}

/** Everything that the interface, the command line and the job worker have to know of one operation. */
export interface Operation<Choices extends object = object, Preview = unknown> extends OperationEntry {
  /** What its command is called, where that is another word. */
  command?: string;
  choices: z.ZodType<Choices>;
  /** Quick: planned while the page waits, in less than 100 ms. Slow: planned by the job worker. */
  cost: 'quick' | 'slow';
  /** @throws Refusal in words for the person who asked */
  plan(context: PlanContext, choices: Choices): Promise<Planned<Preview>>;
}

/** Describes an operation. */
export function operation<Choices extends object, Preview>(
  described: Operation<Choices, Preview>,
): Operation<Choices, Preview> {
  return described;
}

/**
 * Plans an operation.
 * @param asked choices as somebody wrote them
 * @returns the plan with its operation and choices, and what it rests on
 * @throws Refusal also for choices that cannot be read
 */
export async function planOperation<Choices extends object, Preview>(
  { name, choices: schema, plan }: Operation<Choices, Preview>,
  context: PlanContext,
  asked: unknown,
): Promise<Planned<Preview> & { seen: SeenVersion[] }> {
  const read = schema.safeParse(asked);
  if (!read.success) throw new Refusal(`The choices for ${name} cannot be read: ${inWords(read.error)}.`);
  const { change, ...rest } = await plan(context, read.data);
  const made = { operation: name, choices: read.data };
  return { ...rest, change: { ...change, made }, seen: context.draft.seen() };
}

function inWords({ issues }: z.ZodError): string {
  return issues
    .slice(0, 3)
    .map(({ path, message }) => `${path.join('.') || 'all of them'}: ${message}`)
    .join('; ');
}
