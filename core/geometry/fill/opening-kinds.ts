/** What an opening of a solid is, as a machinist would say. */
export const OPENING_KINDS = ['hole', 'counterbore', 'pocket', 'void'] as const;
export type OpeningKind = (typeof OPENING_KINDS)[number];

/** What can be filled: openings by what they are, what is open over edges, and openings by how shallow or how many they are. */
export const FILL_KINDS = [...OPENING_KINDS, 'slot', 'engraving', 'perforation'] as const;
export type FillKind = (typeof FILL_KINDS)[number];
