/** What lies below a row, all placings counted, the row's own included. */
export interface RowTotals {
  bodies: number;
  /** mm³; null while the kernel has not measured all of it. */
  volume: number | null;
  /** g; null unless every body has a volume, and a material whose density is known. */
  mass: number | null;
  /** Distinct files, the row's own included. */
  files: number;
}

interface CountedRow {
  /** Index of the parent's row, which stands before; -1 at the top. */
  parent: number;
  /** Placings below one parent. */
  quantity: number;
  file: string;
  bodies: number;
  /** Of the own bodies, mm³; null while it is not known. */
  volume: number | null;
  /** kg/m³; null where it is not known. */
  density: number | null;
}

/** Totals of every row, in the order of the rows. Linear in rows and their depth. */
export function totalsOf(rows: readonly CountedRow[]): RowTotals[] {
  const files = rows.map(() => new Set<string>());
  const totals = rows.map(({ bodies, volume, density }): RowTotals => {
    const own = bodies === 0 ? 0 : volume;
    const mass = bodies === 0 ? 0 : own === null || density === null ? null : (own * density) / 1e6;
    return { bodies, volume: own, mass, files: 0 };
  });
  for (let n = rows.length - 1; n >= 0; n--) {
    const { parent, quantity, file } = rows[n]!;
    for (let at = n; at >= 0; at = rows[at]!.parent) files[at]!.add(file);
    if (parent < 0) continue;
    const [whole, part] = [totals[parent]!, totals[n]!];
    whole.bodies += quantity * part.bodies;
    whole.volume = sum(whole.volume, quantity, part.volume);
    whole.mass = sum(whole.mass, quantity, part.mass);
  }
  return totals.map((total, n) => ({ ...total, files: files[n]!.size }));
}

function sum(whole: number | null, quantity: number, part: number | null): number | null {
  return whole === null || part === null ? null : whole + quantity * part;
}
