/** Hands a text to the person as a file. */
export function saveText(name: string, text: string): void {
  // Spreadsheets take a file for Unicode by the mark at its beginning.
  const address = URL.createObjectURL(new Blob(['\ufeff', text], { type: 'text/csv;charset=utf-8' }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 1000);
}
