import type { OpenCascadeInstance } from 'replicad-opencascadejs';

/** Says something of how far a job is. Arrays in it are handed over with their buffers. */
export type Tell<Told> = (told: Told, buffers?: ArrayBuffer[]) => void;

/** One kind of work for the geometry kernel. It runs in the kernel's thread; what goes in and comes out is plain data. */
export interface GeometryJob<Request, Told, Result> {
  /** @throws Error in words, when nothing can be made of the request as a whole */
  run(kernel: OpenCascadeInstance, request: Request, tell: Tell<Told>): Result;
}
