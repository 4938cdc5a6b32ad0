import type { KeptFace } from '#core/geometry/reduce/choices';

/** Whether a face is among those that stay. */
export function isKept(kept: readonly KeptFace[], { file, face }: Pick<KeptFace, 'file' | 'face'>): boolean {
  return kept.some((other) => other.file === file && other.face === face);
}

/** The faces that stay with one more, or without one that was among them. */
export function toggledFace(kept: readonly KeptFace[], face: KeptFace): KeptFace[] {
  return isKept(kept, face) ? kept.filter((other) => !isKept([other], face)) : [...kept, face];
}
