/** What happens to a file of the package when another of the same name is already there. */
export const ON_CONFLICT = ['keep', 'replace', 'both'] as const;
export type OnConflict = (typeof ON_CONFLICT)[number];
