import type { SceneData } from '#core/geometry/scene';
import type { CutPreview } from '#core/jobs/cut/view';

/** Colours that tell pieces apart while a cut is looked at; the files keep the colour of the body. */
export const PIECE_COLOURS = ['#6f98a8', '#c9a45c', '#8f9f6a', '#b07f6f', '#8a82a8', '#6fa394'] as const;

/** The stage with the pieces in the place of the body that was cut. Rows of pieces follow those of the bodies. */
export function sceneWithPieces(
  scene: SceneData,
  target: number | null,
  current: CutPreview | null,
  nameOf: (piece: string) => string,
): SceneData {
  if (!current) return scene;
  const { url } = current;
  const first = scene.bodies.length;
  return {
    bodies: [
      ...scene.bodies,
      ...current.pieces.map((_, n) => ({
        url,
        node: String(n),
        colour: PIECE_COLOURS[n % PIECE_COLOURS.length]!,
      })),
    ],
    instances: [
      ...scene.instances.filter(({ row }) => row !== target),
      ...current.pieces.map(({ path }, n) => ({
        row: first + n,
        body: first + n,
        placement: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
        name: nameOf(path),
      })),
    ],
  };
}
