import { KERNEL_VERSION, type Kernel } from '#core/geometry/shape/kernel';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import type { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import type { FileSet } from '#core/project/change/file-set';

let started: Promise<ThreadedKernel> | undefined;

/** The kernel of this process. */
function kernel(): Promise<ThreadedKernel> {
  started ??= import('#core/geometry/shape/threaded-kernel').then(
    ({ ThreadedKernel }) => new ThreadedKernel(),
  );
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
      const { measureBodies } = await import('#core/geometry/bodies/measure');
      const { SourcePart } = await import('#core/geometry/bodies/source-part');
      return measureBodies(LAZY_KERNEL, new SourcePart(path, await this.files.read(path), product));
    });
  }

  meshes(path: string) {
    return this.remember(`meshes ${path}`, async () => {
      const { meshBodies } = await import('#core/geometry/bodies/measure');
      return meshBodies(LAZY_KERNEL, await this.files.read(path));
    });
  }

  remember<Made>(key: string, make: () => Promise<Made>): Promise<Made> {
    const known = this.made.get(key) ?? make();
    this.made.set(key, known);
    return known as Promise<Made>;
  }
}
