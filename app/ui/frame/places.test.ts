import { describe, expect, it } from 'vitest';
import type { RegistryEntry } from '#core/entry';
import { registryEntries } from '#core/operations';
import { PLACES } from '#core/places';
import routes from '../../routes';
import { isOwnPage } from '../operation/operations';
import { placeOf, placesOf } from './places';

const entries = registryEntries();

describe('the places', () => {
  it('hold every page that stands alone, once, in the order of the work', () => {
    const places = placesOf(entries, 'files');
    expect(places.map(({ place }) => place)).toEqual([...PLACES]);
    for (const { place, pages } of places) {
      const own = entries.filter(
        (entry) =>
          entry.place === place &&
          isOwnPage(entry) &&
          !entry.accepts.isUnlisted &&
          entry.accepts.what !== 'change',
      );
      const listed = pages.map(({ page }) => page).filter((page) => own.some((entry) => entry.page === page));
      expect(listed).toEqual([...new Set(own.map(({ page }) => page))]);
      expect(pages.length, `${place} is a row, not a list`).toBeLessThan(9);
    }
  });

  it('name a page as its first entry does, or as that says', () => {
    const made = (page: string, more: Partial<RegistryEntry>): RegistryEntry => ({
      ...entries.find(({ accepts }) => accepts.what === 'project' && !accepts.isUnlisted)!,
      page,
      place: 'make',
      ...more,
    });
    const [, , , make] = placesOf(
      [
        made('a', { title: 'A' }),
        made('a', { title: 'Also A' }),
        made('b', { title: 'B', pageTitle: 'Bees' }),
      ],
      '',
    );
    expect(make!.pages.map(({ title }) => title)).toEqual(['A', 'Bees']);
  });

  it('say where one is, also on a page that is opened from a selection only', () => {
    const at = (current: string) => {
      const place = placeOf(placesOf(entries, current), current);
      return place && [place.place, place.visited?.title];
    };
    const listed = entries.find(({ accepts: { what, isUnlisted } }) => what === 'file' && !isUnlisted)!;
    const stands = new Set(
      entries.flatMap(({ page, accepts: { what } }) => (what === 'files' ? [] : [page])),
    );
    const opened = entries.filter(({ page }) => !stands.has(page));
    expect(at(listed.page)).toEqual([listed.place, undefined]);
    for (const { page, place, pageTitle, title } of opened)
      expect(at(page)).toEqual([place, pageTitle ?? title]);
    expect(at('people')).toBeUndefined();
    expect(at('activity')).toBeUndefined();
  });

  it('lead to pages that are there', () => {
    type Entry = { path?: string; children?: Entry[] };
    const paths = (some: readonly Entry[]): string[] =>
      some.flatMap(({ path, children = [] }) => [...(path === undefined ? [] : [path]), ...paths(children)]);
    const there = paths(routes as Entry[]);
    const pages = placesOf(entries, '').flatMap((place) => place.pages.map(({ page }) => page));
    for (const page of [...pages, ...entries.map((entry) => entry.page)]) expect(there).toContain(page);
  });
});
