/** What stands for what cannot be stored: U+FFFD, as for bytes that are no text. */
const REPLACEMENT = '\uFFFD';

/** Text as PostgreSQL takes it: no NUL, and no half of a character. */
export function storedText(text: string): string {
  const whole = text.isWellFormed() ? text : text.toWellFormed();
  return whole.includes('\0') ? whole.replaceAll('\0', REPLACEMENT) : whole;
}

/** What JSON writes of text that cannot be stored; also of a backslash that was meant, so that it is only a reason to look. */
const SUSPECT = /\\u(?:0000|d[89a-f])/i;

/** A value as JSON that PostgreSQL takes. */
export function storedJson(value: unknown): string {
  const json = JSON.stringify(value);
  if (!SUSPECT.test(json)) return json;
  return JSON.stringify(value, (_, inner) => {
    if (typeof inner === 'string') return storedText(inner);
    if (inner === null || typeof inner !== 'object' || Array.isArray(inner)) return inner;
    return Object.fromEntries(Object.entries(inner).map(([key, own]) => [storedText(key), own]));
  });
}
