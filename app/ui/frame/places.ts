import type { RegistryEntry } from '#core/entry';
import { PLACES, type Place } from '#core/places';
import { isOwnPage } from '../operation/operations';

/** A page of a place. */
export interface PlacePage {
  /** Its address under the project's. */
  page: string;
  title: string;
}

/** A place with its pages, in the order of the work. */
export interface PlaceEntry {
  place: Place;
  title: string;
  pages: PlacePage[];
  /** A page that is opened from a selection only, while one is on it. */
  visited: PlacePage | null;
}

const TITLES: { readonly [place in Place]: string } = {
  files: 'Files',
  structure: 'Structure',
  links: 'Links',
  make: 'Make',
  give: 'Give',
};

/** Pages that show and change nothing. */
const VIEWS: readonly (PlacePage & { place: Place })[] = [
  { place: 'files', page: 'files', title: 'All files' },
];

/**
 * The places with their pages, from the registry of operations.
 * @param current the page that is shown
 */
export function placesOf(operations: readonly RegistryEntry[], current: string): PlaceEntry[] {
  const pages = [
    ...VIEWS.map((view) => ({ ...view, stands: true })),
    // What is done with a change is found where changes are listed, which is in no place.
    ...operations
      .filter(({ accepts }) => accepts.what !== 'change')
      .map((entry) => ({
        place: entry.place,
        page: entry.page,
        title: entry.pageTitle ?? entry.title,
        stands: isOwnPage(entry) && !entry.accepts.isUnlisted,
      })),
  ].filter(({ page }, n, all) => all.findIndex((other) => other.page === page) === n);
  return PLACES.map((place) => {
    const here = pages.filter((page) => page.place === place);
    const visited = here.find(({ page, stands }) => page === current && !stands);
    return {
      place,
      title: TITLES[place],
      pages: here.filter(({ stands }) => stands).map(({ page, title }) => ({ page, title })),
      visited: visited ? { page: visited.page, title: visited.title } : null,
    };
  });
}

/** The place that a page is in, if it is in one. */
export function placeOf(places: readonly PlaceEntry[], current: string): PlaceEntry | undefined {
  return places.find(({ pages, visited }) => visited !== null || pages.some(({ page }) => page === current));
}
