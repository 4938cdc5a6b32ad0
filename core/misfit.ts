import type { z } from 'zod';

/** Entries that a record in what was chosen may have: so many bodies or files have names of their own at most. */
export const MOST_ENTRIES = 200_000;

/** Files, folders or bodies that a choice may name. */
export const MOST_CHOSEN = 200_000;

/** Where a value does not fit its schema, and why. */
export interface Misfit {
  path: (string | number)[];
  message: string;
}

/**
 * The first place of a value that is too long for its schema, or an element of a list that is not as it should be. A schema by itself reads
 * a list to its end and says what is wrong with each element; of five million wrong ones that costs minutes and gigabytes. Here the first
 * ends it, and how long a list is comes before what is in it.
 * @example firstMisfit(z.array(z.string()).max(2), ['a', 'b', 'c']) // { path: [], message: 'has 3 entries, and may have 2' }
 */
export function firstMisfit(
  schema: z.ZodType,
  value: unknown,
  path: Misfit['path'] = [],
): Misfit | undefined {
  const { def } = schema as unknown as { def: SchemaDefinition };
  if (value === null || typeof value !== 'object') return undefined;
  if (def.innerType) return firstMisfit(def.innerType, value, path);
  if (def.type === 'pipe') return firstMisfit(def.in!, value, path);
  if (def.type === 'object') {
    for (const [name, field] of Object.entries(def.shape!)) {
      const misfit = firstMisfit(field, (value as { [name: string]: unknown })[name], [...path, name]);
      if (misfit) return misfit;
    }
    return undefined;
  }
  if (def.type === 'array' && Array.isArray(value)) {
    const most = mostElements(schema);
    if (value.length > most) return tooMany(path, value.length, most);
    return firstOfElements(value.entries(), def.element!, path);
  }
  if (def.type === 'record') {
    const names = Object.keys(value);
    if (names.length > MOST_ENTRIES) return tooMany(path, names.length, MOST_ENTRIES);
    return firstOfElements(Object.entries(value), def.valueType!, path);
  }
  return undefined;
}

/** How many elements the schema of a list allows; endless where it does not say. */
export function mostElements(schema: z.ZodType): number {
  const { def } = schema as unknown as { def: SchemaDefinition };
  const limits = (def.checks ?? []).flatMap(({ _zod: { def: check } }) =>
    check.check === 'max_length' ? [check.maximum!] : check.check === 'length_equals' ? [check.length!] : [],
  );
  return Math.min(Number.POSITIVE_INFINITY, ...limits);
}

/** Every schema of a list that stands in a schema, with where it stands. */
export function listsIn(schema: z.ZodType, path = ''): { path: string; schema: z.ZodType }[] {
  const { def } = schema as unknown as { def: SchemaDefinition };
  const parts: [string, z.ZodType | undefined][] = [
    ['', def.innerType],
    ['', def.in],
    ['', def.out],
    ['[]', def.element],
    ['{}', def.valueType],
    ...(def.options ?? []).map((option): [string, z.ZodType] => ['', option]),
    ...Object.entries(def.shape ?? {}).map(([name, field]): [string, z.ZodType] => [`.${name}`, field]),
  ];
  const below = parts.flatMap(([name, part]) => (part ? listsIn(part, path + name) : []));
  return def.type === 'array' ? [{ path, schema }, ...below] : below;
}

/** What is read of the definition of a schema. */
interface SchemaDefinition {
  type: string;
  /** Of what may be left out, or null, or has a default. */
  innerType?: z.ZodType;
  in?: z.ZodType;
  out?: z.ZodType;
  shape?: { [name: string]: z.ZodType };
  element?: z.ZodType;
  valueType?: z.ZodType;
  options?: z.ZodType[];
  checks?: { _zod: { def: { check: string; maximum?: number; length?: number } } }[];
}

function firstOfElements(
  elements: Iterable<[string | number, unknown]>,
  schema: z.ZodType,
  path: Misfit['path'],
): Misfit | undefined {
  for (const [at, element] of elements) {
    const misfit = firstMisfit(schema, element, [...path, at]);
    if (misfit) return misfit;
    const read = schema.safeParse(element);
    const [issue] = read.error?.issues ?? [];
    if (issue) return { path: [...path, at, ...(issue.path as (string | number)[])], message: issue.message };
  }
  return undefined;
}

const tooMany = (path: Misfit['path'], count: number, most: number): Misfit => ({
  path,
  message: `has ${count} entries, and may have ${most}`,
});
