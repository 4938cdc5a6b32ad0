import { KERNEL_VERSION, type Kernel } from '#core/geometry/shape/kernel';
import type { MeasuredBody } from '#core/geometry/shape/placed-shape';
import type { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';
import type { FileSet } from '#core/project/change/file-set';

/** The kernel, and what it finds out about files: loaded and started when something is asked of it. */
export class BodiesOfFiles {
  private started: ThreadedKernel | undefined;
  private readonly made = new Map<string, Promise<unknown>>();

  constructor(private readonly files: Pick<FileSet, 'read'>) {}

  async kernel(): Promise<ThreadedKernel> {
    const { ThreadedKernel: Started } = await import('#core/geometry/shape/threaded-kernel');
    this.started ??= new Started();
    return this.started;
  }

  /** A kernel that starts when it is first asked. */
  readonly lazily: Kernel = {
    version: KERNEL_VERSION,
    shapeBodies: async (...given) => (await this.kernel()).shapeBodies(...given),
    run: async (job, request, options) => (await this.kernel()).run(job, request, options),
    close: () => this.close(),
  };

  measured(path: string, product: string | null = null): Promise<ReadonlyMap<number, MeasuredBody>> {
    return this.remember(`measured ${path} ${product}`, async () => {
      const { measureBodies } = await import('#core/geometry/bodies/measure');
      const { SourcePart } = await import('#core/geometry/bodies/source-part');
      return measureBodies(await this.kernel(), new SourcePart(path, await this.files.read(path), product));
    });
  }

  meshes(path: string) {
    return this.remember(`meshes ${path}`, async () => {
      const { meshBodies } = await import('#core/geometry/bodies/measure');
      return meshBodies(await this.kernel(), await this.files.read(path));
    });
  }

  remember<Made>(key: string, make: () => Promise<Made>): Promise<Made> {
    const known = this.made.get(key) ?? make();
    this.made.set(key, known);
    return known as Promise<Made>;
  }

  async close(): Promise<void> {
    await this.started?.close();
  }
}
