import { describe, expect, it } from 'vitest';
import { canStartFrom, type FileToWorkOn } from '#core/accepts';
import { registryEntries } from '#core/operations';
import { addressOf, operationsFor } from './operations';

const file = (path: string, more: Partial<FileToWorkOn> = {}): FileToWorkOn => ({
  path,
  role: 'part',
  bodies: 1,
  derived: 0,
  ...more,
});
const entries = registryEntries();
const offered = (files: FileToWorkOn[], mayEdit = true) => operationsFor(entries, files, mayEdit);
const names = (files: FileToWorkOn[], mayEdit = true) => offered(files, mayEdit).map(({ name }) => name);

describe('what can be done with files', () => {
  const kinds = [
    file('a.stp'),
    file('many.stp', { bodies: 52, derived: 3 }),
    file('top.stp', { role: 'assembly', bodies: 0 }),
    file('lite.stp', { isLighter: true }),
    file('original.stp', { hasLighter: true }),
    file('out.stp', { isForOutside: true }),
    file('a.svg', { role: 'drawing', bodies: 0 }),
    file('a.png', { role: 'image', bodies: 0 }),
  ];

  it('is what starts from just them, one entry for a page', () => {
    for (const one of kinds) {
      const found = offered([one]);
      expect(
        found.every(({ accepts }) => canStartFrom(accepts, [one])),
        one.path,
      ).toBe(true);
      const pages = entries.filter(({ accepts }) => canStartFrom(accepts, [one])).map(({ page }) => page);
      expect(found.map(({ page }) => page)).toEqual([...new Set(pages)]);
    }
    expect(names([])).toEqual([]);
  });

  it('goes by what they are', () => {
    // What is said of parts holds for what takes several files, too.
    const needsParts = entries.filter(({ accepts }) => accepts.roles?.includes('part'));
    expect(needsParts.length).toBeGreaterThan(3);
    expect(names([file('a.svg', { role: 'drawing', bodies: 0 })])).not.toEqual(
      expect.arrayContaining([needsParts[0]!.name]),
    );
    expect(canStartFrom({ what: 'files', roles: ['part'] }, [kinds[0]!, kinds[6]!])).toBe(false);
    expect(canStartFrom({ what: 'files', bodies: 2 }, [kinds[1]!])).toBe(true);
    expect(canStartFrom({ what: 'files', bodies: 2 }, [kinds[0]!])).toBe(false);
    expect(canStartFrom({ what: 'file' }, [kinds[0]!, kinds[1]!])).toBe(false);
    expect(canStartFrom({ what: 'file', isForOutside: true }, [kinds[0]!])).toBe(false);
    expect(canStartFrom({ what: 'file', isForOutside: true }, [kinds[5]!])).toBe(true);
  });

  it('is that something lighter takes a place only where there is something lighter', () => {
    const takesPlace = (one: FileToWorkOn) =>
      offered([one]).some(({ accepts: { what } }) => what === 'lighter');
    expect(kinds.filter(takesPlace).map(({ path }) => path)).toEqual(['lite.stp', 'original.stp']);
  });

  it('is bringing up to date only where something is behind', () => {
    const follows = (behind?: number) =>
      canStartFrom({ what: 'source', isBehind: true }, [file('many.stp', { derived: 3, behind })]);
    expect([follows(), follows(0), follows(2)]).toEqual([false, false, true]);
    expect(names([file('many.stp', { derived: 3, behind: 1 })])).toContain('follow');
    expect(names([file('many.stp', { derived: 3 })])).not.toContain('follow');
  });

  it('is what changes nothing, for somebody who may only look', () => {
    for (const one of kinds)
      expect(offered([one], false)).toEqual(offered([one]).filter(({ role }) => role === 'viewer'));
    expect(entries.filter(({ kind }) => kind === 'report').every(({ role }) => role === 'viewer')).toBe(true);
  });

  it('leads to the page, filled in', () => {
    const one = entries.find(({ accepts }) => accepts.what === 'file' && accepts.parameter === 'file')!;
    const several = entries.find(({ accepts }) => accepts.what === 'files')!;
    expect(addressOf('p', one, ['a b.stp'])).toBe(`/projects/p/${one.page}?file=a%20b.stp`);
    expect(addressOf('p', several, ['a', 'b'])).toBe(
      `/projects/p/${several.page}?${several.accepts.parameter}=%5B%22a%22%2C%22b%22%5D`,
    );
    expect(addressOf('p', several, [])).toBe(`/projects/p/${several.page}`);
  });
});
