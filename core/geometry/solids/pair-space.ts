import { LRUCache } from 'lru-cache';
import type { Manifold, ManifoldToplevel } from 'manifold-3d';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { Matrix4 } from '#core/product/matrix';
import { columnsOf, manifoldLibrary, solidOf } from './manifold';

/** So many solids are kept at a time. */
const KEPT = 200;

/** What two bodies have in common. */
export interface PairSpace {
  /** mm³ */
  volume: number;
  /** How thick it is on the whole, mm: a layer that is as thick has that volume and surface. */
  thickness: number;
}

/** Looks what bodies have in common, pair by pair. What it holds is given back with `close`. */
export class PairSpaces {
  private readonly solids = new LRUCache<string, { solid: Manifold | null }>({
    max: KEPT,
    dispose: ({ solid }) => solid?.delete(),
  });

  private constructor(private readonly library: ManifoldToplevel) {}

  static async open(): Promise<PairSpaces> {
    return new PairSpaces(await manifoldLibrary());
  }

  /**
   * @param placement of the other, as the one sees it
   * @returns null where one of them is no closed mesh
   */
  async between(
    one: { key: string; mesh: () => Promise<SolidMesh | undefined> },
    other: { key: string; mesh: () => Promise<SolidMesh | undefined> },
    placement: Matrix4,
  ): Promise<PairSpace | null> {
    const [a, b] = [await this.solidOf(one), await this.solidOf(other)];
    if (!a || !b) return null;
    const placed = b.transform(columnsOf(placement));
    const common = a.intersect(placed);
    const [volume, area] = [common.volume(), common.surfaceArea()];
    common.delete();
    placed.delete();
    return { volume, thickness: area > 0 ? (2 * volume) / area : 0 };
  }

  close(): void {
    this.solids.clear();
  }

  private async solidOf({ key, mesh }: { key: string; mesh: () => Promise<SolidMesh | undefined> }) {
    let kept = this.solids.get(key);
    if (!kept) {
      const found = await mesh();
      kept = { solid: found ? solidOf(this.library, found) : null };
      this.solids.set(key, kept);
    }
    return kept.solid;
  }
}
