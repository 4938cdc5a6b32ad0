import { readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { operationEntries } from '#core/operations';
import { placeOf, placesOf } from './places';

const titles = (current: string) =>
  placesOf(operationEntries(), current).map(({ title, pages }) => [
    title,
    ...pages.map((page) => page.title),
  ]);

describe('the places', () => {
  it('hold every page that stands alone, in the order of the work', () => {
    expect(titles('files')).toEqual([
      ['Files', 'All files'],
      ['Structure', 'Structure'],
      ['Links', 'Repair desk', 'Renew how links are written', 'Behind'],
      ['Make', 'Split', 'Cut a body'],
      ['Give', 'Hand-off', 'Lite model', 'Moving groups', 'Sealed solid', 'Catalogue'],
    ]);
  });

  it('say where one is, also on a page that is opened from a selection only', () => {
    const at = (current: string) => {
      const place = placeOf(placesOf(operationEntries(), current), current);
      return place && [place.place, place.visited?.title];
    };
    expect(at('sources')).toEqual(['links', undefined]);
    expect(at('move')).toEqual(['files', 'Rename or move']);
    expect(at('import')).toEqual(['files', 'Import']);
    expect(at('people')).toBeUndefined();
    expect(at('activity')).toBeUndefined();
  });

  it('lead to pages that are there', () => {
    const routes = readFileSync(path.join(import.meta.dirname, '../routes.ts'), 'utf8');
    const pages = placesOf(operationEntries(), '').flatMap((place) => place.pages.map(({ page }) => page));
    for (const page of [...pages, ...operationEntries().map((entry) => entry.page)])
      expect(routes, page).toContain(`route('${page}', `);
  });
});
