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

/** @param volume mm³ @param density kg/m³ @returns mass with its unit */
export function massInWords(volume: number, density: number): string {
  const kilograms = (volume * density) / 1e9;
  if (kilograms >= 100) return `${Math.round(kilograms).toLocaleString('en')} kg`;
  return kilograms >= 0.1 ? `${kilograms.toPrecision(3)} kg` : `${(kilograms * 1000).toPrecision(3)} g`;
}

/** kg/m³; null for a material that is not known here, or none. */
export function densityOf(material: string | undefined): number | null {
  return MATERIALS.find(({ name }) => name === material)?.density ?? null;
}
