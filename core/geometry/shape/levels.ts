import { MeshoptSimplifier } from 'meshoptimizer';
import type { BodyMesh } from './body';

/** A mesh of fewer triangles over the vertices of the whole one. */
export interface CoarserLevel {
  triangles: Uint32Array;
  /** How far it may lie off the whole mesh, mm. */
  error: number;
}

/** How far each level may lie off, as part of the size of the mesh. */
const ERRORS = [0.004, 0.016, 0.06];
/** A level is kept when it has at most this part of the triangles of the one before. */
const WORTH = 0.6;
/** Triangles of the coarsest, and how far it may lie off. */
const ROUGH = 48;
const ERROR_OF_ROUGH = 0.2;
/** A mesh of fewer triangles is drawn as it is. */
const FEW = 64;

/**
 * The levels of detail of a mesh, from fine to coarse; none where fewer triangles would not look the same. What is small on the screen
 * is drawn with one of them.
 */
export async function coarserLevels({ positions, triangles }: BodyMesh): Promise<CoarserLevel[]> {
  await MeshoptSimplifier.ready;
  const levels: CoarserLevel[] = [];
  const scale = MeshoptSimplifier.getScale(positions, 3);
  let last = triangles;
  for (const most of ERRORS) {
    if (last.length < 3 * FEW) break;
    // Each begins with the one before, whose error adds to its own.
    const before = levels.at(-1)?.error ?? 0;
    const [simpler, error] = MeshoptSimplifier.simplify(last, positions, 3, 3 * Math.ceil(FEW / 4), most, [
      'Prune',
    ]);
    if (simpler.length === 0 || simpler.length > WORTH * last.length) continue;
    levels.push({ triangles: simpler, error: before + error * scale });
    last = simpler;
  }
  if (last.length > 3 * FEW) {
    // Holes and gaps hold the others up; this one does not keep them.
    const [rough, error] = MeshoptSimplifier.simplifySloppy(
      last,
      positions,
      3,
      null,
      3 * ROUGH,
      ERROR_OF_ROUGH,
    );
    if (rough.length > 0 && rough.length <= WORTH * last.length)
      levels.push({ triangles: rough, error: (levels.at(-1)?.error ?? 0) + error * scale });
  }
  return levels;
}
