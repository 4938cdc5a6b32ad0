import { availableParallelism } from 'node:os';
import type { BodyShape } from '#core/geometry/shape/body-shape';
import { KERNEL_VERSION, type Kernel } from '#core/geometry/shape/kernel';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import type { FileSet } from '#core/project/change/file-set';

/** Each takes 140 MB and more. */
const MOST_KERNELS = 2;

let started: Promise<Kernel> | undefined;

/** The kernels of this process. */
function kernel(): Promise<Kernel> {
  started ??= (async () => {
    const { KernelPool } = await import('#core/geometry/shape/kernel-pool');
    const { ThreadedKernel } = await import('#core/geometry/shape/threaded-kernel');
    const count = Math.min(MOST_KERNELS, availableParallelism());
    return new KernelPool(Array.from({ length: count }, () => new ThreadedKernel()));
  })();
  return started;
}

/** A kernel that is loaded and started when it is first asked, and ends with the process. */
export const LAZY_KERNEL: Kernel = {
  version: KERNEL_VERSION,
  shapeBodies: async (...given) => (await kernel()).shapeBodies(...given),
  run: async (job, request, options) => (await kernel()).run(job, request, options),
  close: async () => {},
};

/** What the kernel finds out about files, once each. */
export class BodiesOfFiles {
  private readonly made = new Map<string, Promise<unknown>>();

  constructor(private readonly files: Pick<FileSet, 'read'>) {}

  measured(path: string, product: string | null = null): Promise<ReadonlyMap<number, MeasuredBody>> {
    return this.remember(`measured ${path} ${product}`, async () => {
      const { measureBodies, measuredOf } = await import('#core/geometry/bodies/measure');
      if (product === null) return measuredOf(await this.shapes(path));
      const { SourcePart } = await import('#core/geometry/bodies/source-part');
      return measureBodies(LAZY_KERNEL, new SourcePart(path, await this.files.read(path), product), {
        details: 'features',
      });
    });
  }

  meshes(path: string) {
    return this.remember(`meshes ${path}`, async () => {
      const { meshesOf } = await import('#core/geometry/bodies/measure');
      return meshesOf(await this.shapes(path));
    });
  }

  /** Nobody measures on the command line: without the surfaces and curves that this would need. */
  private shapes(path: string): Promise<BodyShape[]> {
    return this.remember(`shapes ${path}`, async () => {
      const { shapeAll } = await import('#core/geometry/bodies/measure');
      return shapeAll(LAZY_KERNEL, await this.files.read(path), { details: 'features' });
    });
  }

  remember<Made>(key: string, make: () => Promise<Made>): Promise<Made> {
    const known = this.made.get(key) ?? make();
    this.made.set(key, known);
    return known as Promise<Made>;
  }
}
