import type { Accepts } from './accepts';
import type { Place } from './places';

/** An operation or a report as menus, places and the palette show it: plain data. */
export interface RegistryEntry {
  /** Its name in addresses, in records and on the command line. */
  name: string;
  /** Whether it changes anything. */
  kind: 'operation' | 'report';
  title: string;
  /** One sentence. */
  purpose: string;
  place: Place;
  /** The page's address under the project's. */
  page: string;
  /** What the page is called, where that is another word. */
  pageTitle?: string;
  /** The role that applying it needs. Everybody may see what it would do. */
  role: 'viewer' | 'editor';
  accepts: Accepts;
  /** The key that opens it from a table of files with what is selected. */
  key?: string;
}

/** What an entry looks like, without anything that cannot be sent to a browser. */
export function plainEntry(entry: RegistryEntry): RegistryEntry {
  const { name, kind, title, purpose, place, page, pageTitle, role, accepts, key } = entry;
  return { name, kind, title, purpose, place, page, pageTitle, role, accepts, key };
}
