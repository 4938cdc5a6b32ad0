import { type SolidMesh, weldedMesh } from '#core/geometry/shape/solid-mesh';
import type { Pin } from '#core/geometry/shape/unite';
import type { Vector3 } from '#core/product/matrix';
import { distance, subtract, unit } from '#core/product/vector';

/** Two ends of an edge. */
export type Edge = [from: Vector3, to: Vector3];

/**
 * Vertices at one place as one, and without triangles that are none any more by that. Each of those leaves behind as many edges one way as the
 * other, so that what was closed is closed.
 */
export function tidiedMesh(mesh: SolidMesh): SolidMesh {
  const { positions, triangles } = weldedMesh(mesh);
  const left: number[] = [];
  for (let n = 0; n < triangles.length; n += 3) {
    const [a, b, c] = [triangles[n]!, triangles[n + 1]!, triangles[n + 2]!];
    if (a !== b && b !== c && c !== a) left.push(a, b, c);
  }
  return { positions, triangles: Uint32Array.from(left) };
}

/** How often triangles go along each edge, by the vertices that it leads from and to. */
function edgesOf({ triangles }: SolidMesh): Map<string, number> {
  const edges = new Map<string, number>();
  for (let n = 0; n < triangles.length; n += 3)
    for (let k = 0; k < 3; k++) {
      const edge = `${triangles[n + k]} ${triangles[n + ((k + 1) % 3)]}`;
      edges.set(edge, (edges.get(edge) ?? 0) + 1);
    }
  return edges;
}

/** Whether a mesh is closed, oriented and manifold: along every edge one triangle goes each way. */
export function isClosed(mesh: SolidMesh): boolean {
  const edges = edgesOf(weldedMesh(mesh));
  for (const [edge, count] of edges) {
    const [a, b] = edge.split(' ');
    if (a === b || count !== 1 || edges.get(`${b} ${a}`) !== 1) return false;
  }
  return true;
}

/** Edges along which a closed mesh touches itself: more than two triangles meet there. */
export function touchingEdges(mesh: SolidMesh): Edge[] {
  const tidied = tidiedMesh(mesh);
  const corner = (vertex: string): Vector3 => {
    const at = 3 * Number(vertex);
    return [tidied.positions[at]!, tidied.positions[at + 1]!, tidied.positions[at + 2]!];
  };
  return [...edgesOf(tidied)].flatMap(([edge, count]): Edge[] => {
    const [a, b] = edge.split(' ') as [string, string];
    return count > 1 && Number(a) < Number(b) ? [[corner(a), corner(b)]] : [];
  });
}

/** Beads along edges, which join what only touches there. @param radius mm */
export function beadsAlong(edges: readonly Edge[], radius: number): Pin[] {
  return edges.map(([from, to]) => ({
    at: from,
    direction: unit(subtract(to, from)),
    length: distance(from, to),
    radius,
  }));
}
