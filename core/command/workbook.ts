import type { ReportTable } from '#core/report';

/** Letters of a sheet's name that programs take, and their number (ECMA-376, 18.2.19). */
const NOT_IN_NAMES = /[[\]:*?/\\]/g;
const LONGEST_NAME = 31;
/** A string cell holds no more; what is beyond it is cut. */
const LONGEST_TEXT = 32_767;
/** Characters: a column is as wide as what is in it, within reason. */
const [NARROWEST, WIDEST] = [8, 60];

/**
 * Tables as a workbook of Office Open XML, a sheet each: heads stay in view, numbers are numbers, and no text is ever a formula.
 * Runs in browsers, too.
 */
export async function workbookOf(tables: readonly ReportTable[]): Promise<Blob> {
  const { default: writeWorkbook } = await import('write-excel-file/universal');
  return writeWorkbook(
    tables.map(({ title, columns, rows }) => ({
      sheet: title.replace(NOT_IN_NAMES, ' ').slice(0, LONGEST_NAME),
      stickyRowsCount: 1,
      columns: columns.map((column, n) => ({
        width: Math.min(
          WIDEST,
          rows.reduce(
            (widest, row) => Math.max(widest, String(row[n] ?? '').length),
            Math.max(NARROWEST, column.title.length),
          ) + 1,
        ),
      })),
      data: [
        columns.map((column) => ({
          value: column.title,
          type: String,
          fontWeight: 'bold' as const,
          ...(column.kind === 'number' && { align: 'right' as const }),
        })),
        ...rows.map((row) => row.map(cellOf)),
      ],
    })),
  ).toBlob();
}

function cellOf(value: string | number | null) {
  if (value === null || value === '') return null;
  return typeof value === 'number'
    ? { value, type: Number }
    : { value: withoutControls(value).slice(0, LONGEST_TEXT), type: String };
}

/** XML 1.0 cannot say most control characters. */
function withoutControls(text: string): string {
  return text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, ' ').toWellFormed();
}
