import contentDisposition from 'content-disposition';

/** What any bytes are that are to be kept, not shown. */
const ANY = 'application/octet-stream';

/** Browsers do not agree on what these are in the short form of a name. */
const NOT_ASCII = /[^ -~]/g;

/**
 * The headers of an answer that is kept as a file under a name, and that no browser shows or runs, whatever is in it (RFC 6266).
 * @param type media type
 */
export function asDownload(name: string, type = ANY): { [header: string]: string } {
  return {
    'Content-Type': type,
    'Content-Disposition': contentDisposition(name, { fallback: name.replaceAll(NOT_ASCII, '?') }),
    'X-Content-Type-Options': 'nosniff',
    'Content-Security-Policy': "sandbox; default-src 'none'",
  };
}
