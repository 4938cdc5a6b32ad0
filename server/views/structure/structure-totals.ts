import type { Steps } from '#core/steps';

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

/** What is known of one placing of a product by itself. */
export interface OwnFacts {
  file: string;
  bodies: number;
  /** Of the own bodies, mm³; null while it is not known. */
  volume: number | null;
  /** kg/m³; null where it is not known. */
  density: number | null;
}

/**
 * Totals of every product with all that it places, in whatever order they are placed. Linear in the placings as they are written and in
 * the files below each product.
 * @param nodes each after what it places
 */
export function* totalSteps<Node extends { below: Node[] }>(
  nodes: readonly Node[],
  ownOf: (node: Node) => OwnFacts,
): Steps<Map<Node, RowTotals>> {
  const totals = new Map<Node, RowTotals>();
  const filesBelow = new Map<Node, Set<string>>();
  for (const [n, node] of nodes.entries()) {
    if (n % 64 === 0) yield;
    const { file, bodies, volume, density } = ownOf(node);
    const own = bodies === 0 ? 0 : volume;
    const total = {
      bodies,
      volume: own,
      mass: bodies === 0 ? 0 : own === null || density === null ? null : (own * density) / 1e6,
    };
    const files = new Set([file]);
    for (const [inner, quantity] of quantities(node.below)) {
      const part = totals.get(inner);
      // The circle is closed there.
      if (!part) continue;
      total.bodies += quantity * part.bodies;
      total.volume = sum(total.volume, quantity, part.volume);
      total.mass = sum(total.mass, quantity, part.mass);
      for (const other of filesBelow.get(inner)!) files.add(other);
    }
    filesBelow.set(node, files);
    totals.set(node, { ...total, files: files.size });
  }
  return totals;
}

function quantities<Node>(placed: readonly Node[]): Map<Node, number> {
  const counts = new Map<Node, number>();
  for (const node of placed) counts.set(node, (counts.get(node) ?? 0) + 1);
  return counts;
}

function sum(whole: number | null, quantity: number, part: number | null): number | null {
  return whole === null || part === null ? null : whole + quantity * part;
}
