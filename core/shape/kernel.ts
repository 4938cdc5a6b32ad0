import type { BodyFacts, BodyMesh } from './body';
import type { CutPiece, CutStep } from './cut';
import type { ShapeFeature } from './features';

/** Version of the kernel package and of what is done with it here; raised when results change. */
export const KERNEL_VERSION = 'occt-1.1.0/5';

/** How finely bodies are meshed. */
export type MeshQuality = 'display';

/** What the kernel made of one body, or why it could not; a body that is impossible may have a mesh all the same. */
export type BodyShape =
  | { body: number; mesh: BodyMesh | null; facts: BodyFacts; features: ShapeFeature[] }
  | { body: number; error: string; mesh?: BodyMesh | null };

export interface ShapeOptions {
  quality?: MeshQuality;
  /** False when only facts and features are wanted. */
  mesh?: boolean;
  /** Told after each body. */
  onBody?: (done: number, of: number) => void;
  signal?: AbortSignal;
}

export interface CutOptions {
  /** Told after each step. */
  onStep?: (done: number, of: number) => void;
  signal?: AbortSignal;
}

/** The geometry kernel: the only door to exact geometry. */
export interface Kernel {
  /** Part of every cache key: results of another version are made anew. */
  readonly version: string;
  /**
   * Meshes and measures bodies of a STEP file, one by one. A body that the kernel refuses or crashes on gets an
   * error and the others go on.
   * @param bodies numbers of the body entities in the file
   */
  shapeBodies(step: Uint8Array, bodies: readonly number[], options?: ShapeOptions): Promise<BodyShape[]>;
  /**
   * Cuts one body of a STEP file step by step.
   * @param unit of length for the pieces' text, as the kernel names it (`MM`, `INCH`, ...)
   * @throws CutError for a cut that cannot be made, in words for the engineer
   */
  cutBody(
    step: Uint8Array,
    body: number,
    steps: readonly CutStep[],
    unit: string,
    options?: CutOptions,
  ): Promise<CutPiece[]>;
  close(): Promise<void>;
}
