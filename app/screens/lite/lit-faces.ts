import type { KeptFace } from '#core/geometry/reduce/choices';
import type { LitePreview } from '#core/jobs/lite/view';

/** None: one value, so that nothing is drawn anew. */
export const NO_FACES: { row: number; face: number }[] = [];

/** Kept faces on the stage, at every place of their bodies. */
export function litFaces(
  kept: readonly KeptFace[],
  preview: LitePreview | null,
): { row: number; face: number }[] {
  if (!preview || kept.length === 0) return NO_FACES;
  return preview.facesOf.flatMap((at, row) => {
    const known = preview.faces[at];
    if (!known) return [];
    return kept.flatMap(({ file, face }) => {
      const position = file === known.file ? known.ids.indexOf(face) : -1;
      return position < 0 ? [] : [{ row, face: position }];
    });
  });
}
