/** Materials that parts are given, with what they weigh: kg/m³. The new files name the material. */
export const MATERIALS: readonly { name: string; density: number }[] = [
  { name: 'Steel', density: 7850 },
  { name: 'Stainless steel', density: 7900 },
  { name: 'Cast iron', density: 7200 },
  { name: 'Aluminium', density: 2700 },
  { name: 'Brass', density: 8500 },
  { name: 'Bronze', density: 8800 },
  { name: 'Glass', density: 2500 },
  { name: 'Polyamide', density: 1140 },
  { name: 'Rubber', density: 1200 },
];

/** kg/m³; null for a material that is not known here, or none. */
export function densityOf(material: string | null | undefined): number | null {
  return MATERIALS.find(({ name }) => name === material)?.density ?? null;
}

/** kg/m³ of what a part is made of: as its file says it, else that of a material that is known here; null for neither. */
export function densityOfPart({ density, material }: { density?: number; material?: string }): number | null {
  return density ?? densityOf(material);
}
