import { isPattern, type NamePattern, NO_PATTERN } from '#core/name-pattern';

/** Flags by which many get other names at once. @param what gets them: "ids and names" */
export const patternFlags = (what: string) => [
  { flag: '--find <TEXT>', words: `in ${what}, in either case` },
  { flag: '--replace <TEXT>', words: 'what stands there instead' },
  { flag: '--prefix <TEXT>', words: `before ${what}` },
  { flag: '--suffix <TEXT>', words: `behind ${what}` },
];

/** The pattern that flags say; null where they say none. */
export function patternOf(given: Readonly<Record<string, unknown>>): NamePattern | null {
  const pattern: NamePattern = { ...NO_PATTERN };
  for (const part of Object.keys(NO_PATTERN) as (keyof NamePattern)[])
    if (given[part] !== undefined) pattern[part] = String(given[part]);
  return isPattern(pattern) ? pattern : null;
}
