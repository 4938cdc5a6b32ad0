import { type ChangeSet, write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';

/** For tests: a small set of files, a change to all of them, and what it makes of them. */
export const BEFORE = { 'a.stp': 'old a', 'c.stp': 'old c', 'sub/b.stp': 'old b' };
export const AFTER = { 'a.stp': 'new a', 'moved/b.stp': 'old b', 'new/d.stp': 'new d' };

export const bytes = (text: string) => new TextEncoder().encode(text);
export const hash = (text: string) => sha256(bytes(text));

export const changeOfAll = (): ChangeSet => ({
  summary: 'Changed everything',
  rewires: [],
  warnings: [],
  changes: [
    write('a.stp', hash('old a'), bytes('new a')),
    { action: 'move', path: 'sub/b.stp', to: 'moved/b.stp', base: hash('old b') },
    { action: 'delete', path: 'c.stp', base: hash('old c') },
    write('new/d.stp', null, bytes('new d')),
  ],
});
