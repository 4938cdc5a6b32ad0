import type { BillRow } from './bill';

/** Names of the properties that files state of the parts of a bill, in the order in which they are met. */
export function propertiesIn(rows: readonly BillRow[]): string[] {
  return [...new Set(rows.flatMap(({ properties }) => properties.map(({ name }) => name)))];
}
