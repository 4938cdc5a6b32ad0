/** What an opening of a solid is, as a machinist would say. */
export const OPENING_KINDS = ['hole', 'counterbore', 'pocket', 'void'] as const;
export type OpeningKind = (typeof OPENING_KINDS)[number];
