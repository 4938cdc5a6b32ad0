/** Where an operation is found, in the order of the work. */
export const PLACES = ['files', 'structure', 'links', 'make', 'give'] as const;
export type Place = (typeof PLACES)[number];
