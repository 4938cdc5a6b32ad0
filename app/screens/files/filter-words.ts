import type { FileRow } from '#server/views/packed/packed-rows';
import type { FilterWords } from '../../ui/ledger/filter-rows';

/** What a filter knows of files besides their texts. */
export const WORDS: FilterWords<FileRow> = {
  missing: ({ links }) => links.missing > 0,
  ambiguous: ({ links }) => links.ambiguous > 0,
  behind: ({ links }) => links.behind > 0,
  loop: ({ links }) => links.loop > 0,
  unused: (file) => file.unused,
  root: ({ role, usedBy, unused, about }) => role === 'assembly' && usedBy === 0 && !unused && about === null,
  unreadable: ({ error }) => error !== null,
  damaged: ({ error, damage }) => error === null && damage !== null,
  assembly: ({ role }) => role === 'assembly',
  drawing: ({ role }) => role === 'drawing',
};

/** Words, and sizes as they are typed. */
export const SHOWN_WORDS = [...Object.keys(WORDS), '>1MB'];
