export const LENGTH_UNITS = ['mm', 'cm', 'm', 'in'] as const;
export type LengthUnit = (typeof LENGTH_UNITS)[number];

/** `by size` is grams for what is light, else kilograms. */
export const MASS_UNITS = ['by size', 'g', 'kg', 'lb'] as const;
export type MassUnit = (typeof MASS_UNITS)[number];

export const DECIMAL_SIGNS = ['.', ','] as const;
export type DecimalSign = (typeof DECIMAL_SIGNS)[number];

/** How somebody reads and writes numbers and times. Files and what is counted in them stay in millimetres and grams. */
export interface Preferences {
  length: LengthUnit;
  mass: MassUnit;
  decimal: DecimalSign;
  /** By its name in the IANA database; null for the one that the browser is in. */
  zone: string | null;
}

/** Until somebody chooses otherwise. */
export const USUAL: Preferences = { length: 'mm', mass: 'by size', decimal: '.', zone: null };
