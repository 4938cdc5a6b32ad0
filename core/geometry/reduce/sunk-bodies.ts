import { meshVolume } from '#core/geometry/shape/doubt';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { type Sunk, sunkSolids } from '#core/geometry/solids/sunk';
import { filledBodies, type Left, meshLeft } from './left';

/**
 * Bodies that are left and lie in others that are left, wholly or in part. Of two bodies the one that was filled holds the other, else the
 * larger one.
 * @param holders what may hold others: only what was filled, or everything
 */
export function sunkBodies(left: Left, holders: 'filled' | 'all'): Promise<Map<number, Sunk>> {
  const { whole } = left;
  const filledOf = filledBodies(left);
  const meshOf = meshLeft(left);
  const volumes = new Map<unknown, number>();
  const ranked = whole.bodies.map(({ placement }, n) => {
    const body = meshOf(n);
    if (!body) return undefined;
    const mesh = finestMesh(body);
    if (!volumes.has(mesh.positions)) volumes.set(mesh.positions, meshVolume(mesh));
    const anew = left.remade.get(n);
    const isFilled =
      filledOf(n) !== undefined ||
      (anew?.rounded ?? 0) > 0 ||
      (anew?.coarser?.slots ?? 0) > 0 ||
      anew?.isEnvelope === true;
    return { mesh, placement, isFilled, volume: volumes.get(mesh.positions)! };
  });
  return sunkSolids(ranked, (host, guest) => {
    const [a, b] = [ranked[host]!, ranked[guest]!];
    if (holders === 'filled' && !a.isFilled) return false;
    if (a.isFilled !== b.isFilled) return a.isFilled;
    return a.volume !== b.volume ? a.volume > b.volume : host < guest;
  });
}
