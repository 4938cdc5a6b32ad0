import { Refusal } from '#core/refusal';
import type { BodyShape, WantedOfBody } from './body-shape';
import type { JobName, RequestOf, ResultOf, ToldBy } from './jobs/geometry-jobs';

/** Version of the kernel package and of what is done with it here; raised when results change. */
export const KERNEL_VERSION = 'occt-1.1.0/6';

/** How finely bodies are meshed. */
export type MeshQuality = 'display';

export interface ShapeOptions extends WantedOfBody {
  quality?: MeshQuality;
  /** Told after each body. */
  onBody?: (done: number, of: number) => void;
  signal?: AbortSignal;
}

export interface RunOptions<Told> {
  /** Told how far the job is. */
  onTold?: (told: Told) => void;
  signal?: AbortSignal;
}

/** The kernel could not do a job at all: it crashed, was silent too long, or could not read the file. */
export class KernelTrouble extends Refusal {}

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
   * Has one job of the registry done.
   * @throws KernelTrouble when it could not be done at all
   */
  run<Name extends JobName>(
    job: Name,
    request: RequestOf<Name>,
    options?: RunOptions<ToldBy<Name>>,
  ): Promise<ResultOf<Name>>;
  close(): Promise<void>;
}
