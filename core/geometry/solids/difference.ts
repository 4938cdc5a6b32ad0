import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { manifoldLibrary, meshOf, solidOf } from './manifold';

/** What one closed mesh has more than another, in pieces that hang together; nothing where one of them is not closed. */
export async function differencePieces(from: SolidMesh, less: SolidMesh): Promise<SolidMesh[]> {
  const library = await manifoldLibrary();
  const [one, other] = [solidOf(library, from), solidOf(library, less)];
  const rest = one && other ? one.subtract(other) : null;
  const pieces = rest?.decompose() ?? [];
  const meshes = pieces.filter((piece) => piece.volume() > 0).map(meshOf);
  for (const solid of [one, other, rest, ...pieces]) solid?.delete();
  return meshes;
}
