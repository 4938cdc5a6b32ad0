/*
 * Files named by a relative reference (RFC 3986, 4.2): percent-encoded, with a query or a fragment behind the path.
 */

/** The path of a reference to a file, decoded, without query and fragment; undefined when it names none. */
export function pathInReference(reference: string): string | undefined {
  // An address of the web and data in place are no files; a drive's letter and `file:` are, on some other computer.
  if (/^(?!file:)[a-z][a-z0-9+.-]+:/i.test(reference)) return undefined;
  const raw = /^[^?#]*/.exec(reference)![0];
  const path = decodedPercent(raw);
  return path.trim() === '' ? undefined : path;
}

/** A path as a reference says it. Separators stay; everything else that may have a meaning where one stands is percent-encoded. */
export function pathAsReference(path: string): string {
  const encoded = path.split('/').map((segment) => encodeURIComponent(segment).replaceAll('%5C', '\\'));
  return encoded.join('/').replace(/[!'()*]/g, (sign) => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`);
}

function decodedPercent(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
