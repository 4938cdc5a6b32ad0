import Papa from 'papaparse';
import type { LedgerColumn } from './useLedgerColumns';

/**
 * Rows as a table of texts for other programs: the columns that have a value of their own, numbers bare, their unit in the heading.
 * @param delimiter a tab for spreadsheets that paste, a comma for files
 */
export function tableText<Row>(
  columns: readonly LedgerColumn<Row>[],
  rows: readonly Row[],
  delimiter: '\t' | ',',
): string {
  const fields = columns.flatMap(({ title, name, unit, sort, text = sort }) =>
    text ? [{ heading: [name ?? title, unit].filter(Boolean).join(', '), value: text }] : [],
  );
  return Papa.unparse(
    {
      fields: fields.map(({ heading }) => heading),
      data: rows.map((row) => fields.map(({ value }) => value(row))),
    },
    // A name that begins like a formula is a name.
    { delimiter, escapeFormulae: true },
  );
}
