import { create } from 'content-disposition';

/** What any bytes are that are to be kept, not shown. */
const ANY = 'application/octet-stream';

/** What an answer is called that a page shows, and under which it is kept from there (RFC 6266). */
export function shownUnder(name: string): string {
  return create(name, { type: 'inline' });
}

/**
 * The headers of an answer that is kept as a file under a name, and that no browser shows or runs, whatever is in it (RFC 6266).
 * @param type media type
 */
export function asDownload(name: string, type = ANY): { [header: string]: string } {
  return {
    'Content-Type': type,
    'Content-Disposition': create(name.split(/[\\/]/).at(-1)),
    'X-Content-Type-Options': 'nosniff',
    'Content-Security-Policy': "sandbox; default-src 'none'",
  };
}
