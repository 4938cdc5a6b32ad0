import type { BodyFacts } from '#core/geometry/shape/body';
import type { PreviewHome } from '#core/planned';
import type { PiecesOfCut } from './plan-body';
import { catchingPoints } from './snaps';

/** A piece of a body that was cut. */
export interface PieceView {
  path: string;
  facts: BodyFacts;
  sliver: string | null;
  /** Corners and middles of edges, mm. */
  snaps: [number, number, number][];
}

/** The pieces of a body that was cut, and the address of their picture. */
export interface CutPreview {
  pieces: PieceView[];
  url: string;
}

export async function cutPreview({ pieces, gltf }: PiecesOfCut, home: PreviewHome): Promise<CutPreview> {
  return {
    pieces: pieces.map(({ path, facts, sliver, features }) => ({
      path,
      facts,
      sliver,
      snaps: catchingPoints(features),
    })),
    url: await home.keepPicture(gltf),
  };
}
