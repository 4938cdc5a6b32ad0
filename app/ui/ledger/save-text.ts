import { saveFile } from '../save-file';

/** Hands a text to the person as a file. */
export function saveText(name: string, text: string): void {
  // Spreadsheets take a file for Unicode by the mark at its beginning.
  saveFile(name, new Blob(['\ufeff', text], { type: 'text/csv;charset=utf-8' }));
}
