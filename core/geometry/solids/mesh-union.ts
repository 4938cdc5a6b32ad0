import type { Manifold, ManifoldToplevel } from 'manifold-3d';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { Pin } from '#core/geometry/shape/unite';
import { type Box, isBoxIn } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { across } from '#core/product/vector';
import { grownMesh } from './grown-mesh';
import { boxOfSolid, manifoldLibrary, meshOf, solidOf } from './manifold';

/** What came of uniting meshes. */
export interface MeshUnion {
  /** Closed solids without hollows, the largest first. */
  solids: SolidMesh[];
  /** Hollows that were filled. */
  hollows: number;
  /** Positions of meshes that are not closed, and are left out. */
  refused: number[];
}

/**
 * Unites closed meshes. Hollows that nothing leads to are filled: of what hangs together only the outer shell stays.
 * @param grown how far each of them is grown before, mm, so that what touches overlaps
 * @param guests boxes of what stands in hollows that stay, mm
 */
export async function uniteMeshes(
  meshes: readonly SolidMesh[],
  pins: readonly Pin[],
  grown = 0,
  guests: readonly Box[] = [],
): Promise<MeshUnion> {
  const library = await manifoldLibrary();
  const { Manifold: Solid } = library;
  const solids: Manifold[] = [];
  const refused: number[] = [];
  for (const [n, mesh] of meshes.entries()) {
    const made = solidOf(library, mesh);
    if (made) solids.push(grown > 0 ? grownSolid(library, made, grown) : made);
    else refused.push(n);
  }
  for (const pin of pins) solids.push(pinOf(library, pin));
  const united = Solid.union(solids);
  const pieces = united.decompose().map((part) => ({ part, volume: part.volume() }));
  const parts = pieces.filter(({ volume }) => volume > 0).sort((a, b) => b.volume - a.volume);
  const kept = pieces.flatMap(({ part, volume }) => {
    const isKept = volume <= 0 && guests.some((guest) => isBoxIn(guest, boxOfSolid(part)));
    const hollow = isKept ? solidOf(library, turnedOut(meshOf(part))) : null;
    return hollow ? [hollow] : [];
  });
  const hollows = pieces.length - parts.length - kept.length;
  // What lies inside of another, in a hollow of it that is filled, is part of it now.
  const filled = parts.length > 1 ? Solid.union(parts.map(({ part }) => part)) : parts[0]?.part;
  const result = (filled?.decompose() ?? [])
    .filter((part) => part.volume() > 0)
    .sort((a, b) => b.volume() - a.volume())
    .map((part) => meshOf(kept.reduce((solid, hollow) => solid.subtract(hollow), part)));
  for (const solid of [...solids, united, ...parts.map(({ part }) => part), ...kept]) solid.delete();
  return { solids: result, hollows, refused };
}

/** The same surface seen from its other side: of a hollow what fills it. */
function turnedOut({ positions, triangles }: SolidMesh): SolidMesh {
  return { positions, triangles: Uint32Array.from(triangles).reverse() };
}

/** A solid grown a little; as it is where that does not go well. */
function grownSolid(library: ManifoldToplevel, solid: Manifold, by: number): Manifold {
  const grown = solidOf(library, grownMesh(meshOf(solid), by));
  if (!grown) return solid;
  solid.delete();
  return grown;
}

function pinOf({ Manifold: Solid }: ManifoldToplevel, { at, direction, length, radius }: Pin): Manifold {
  const [x, y] = across(direction);
  const matrix = [...column(x), ...column(y), ...column(direction), at[0], at[1], at[2], 1];
  return Solid.cylinder(length, radius, radius, 24).transform(matrix as Parameters<Manifold['transform']>[0]);
}

function column([x, y, z]: Vector3): [number, number, number, number] {
  return [x, y, z, 0];
}
