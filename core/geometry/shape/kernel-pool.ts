import type { BodyShape } from './body-shape';
import type { JobName, RequestOf, ResultOf, ToldBy } from './jobs/geometry-jobs';
import { KERNEL_VERSION, type Kernel, type RunOptions, type ShapeOptions } from './kernel';

/** Several kernels as one: what is asked goes to the one that has least to do. */
export class KernelPool implements Kernel {
  readonly version = KERNEL_VERSION;
  private readonly waiting: number[];

  /** @param kernels at least one; each does one thing at a time */
  constructor(private readonly kernels: readonly Kernel[]) {
    this.waiting = kernels.map(() => 0);
  }

  shapeBodies(step: Uint8Array, bodies: readonly number[], options?: ShapeOptions): Promise<BodyShape[]> {
    return this.ask((kernel) => kernel.shapeBodies(step, bodies, options));
  }

  run<Name extends JobName>(
    job: Name,
    request: RequestOf<Name>,
    options?: RunOptions<ToldBy<Name>>,
  ): Promise<ResultOf<Name>> {
    return this.ask((kernel) => kernel.run(job, request, options));
  }

  async close(): Promise<void> {
    await Promise.all(this.kernels.map((kernel) => kernel.close()));
  }

  private async ask<Made>(work: (kernel: Kernel) => Promise<Made>): Promise<Made> {
    const least = this.waiting.indexOf(Math.min(...this.waiting));
    this.waiting[least]!++;
    try {
      return await work(this.kernels[least]!);
    } finally {
      this.waiting[least]!--;
    }
  }
}
