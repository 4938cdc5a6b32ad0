import { Worker } from 'node:worker_threads';
import { type BodyShape, KERNEL_VERSION, type Kernel, type ShapeOptions } from './kernel';
import type { ShapeAnswer, ShapeRequest } from './kernel-thread';

export interface ThreadOptions {
  /** A body that takes longer is given up, and its thread ended. */
  secondsPerBody?: number;
  /** A thread whose WebAssembly memory has grown past this is replaced before the next file. */
  memoryBytes?: number;
  /** For tests: another script in place of the real kernel. */
  script?: URL;
}

/**
 * The kernel in a worker thread. A thread that dies or hangs on a body is replaced; that body gets an error, and the
 * work goes on with the next one. One file at a time; start several for more.
 */
export class ThreadedKernel implements Kernel {
  readonly version = KERNEL_VERSION;
  private worker: Worker | undefined;
  private queue: Promise<unknown> = Promise.resolve();
  private listener: { onAnswer(answer: ShapeAnswer): void; onDeath(reason: string): void } | undefined;

  constructor(private readonly options: ThreadOptions = {}) {}

  shapeBodies(step: Uint8Array, bodies: readonly number[], options: ShapeOptions = {}): Promise<BodyShape[]> {
    const run = this.queue.then(() => this.shapeAll(step, bodies, options));
    this.queue = run.catch(() => {});
    return run;
  }

  async close(): Promise<void> {
    await this.queue;
    await this.stop();
  }

  private async shapeAll(
    step: Uint8Array,
    bodies: readonly number[],
    options: ShapeOptions,
  ): Promise<BodyShape[]> {
    const shapes: BodyShape[] = [];
    let left = [...bodies];
    while (left.length > 0) {
      options.signal?.throwIfAborted();
      const { done, trouble } = await this.runOnce(
        step,
        left,
        (shape) => {
          shapes.push(shape);
          options.onBody?.(shapes.length, bodies.length);
        },
        options,
      );
      left = left.filter((body) => !done.has(body));
      if (trouble === undefined) continue;
      await this.stop();
      options.signal?.throwIfAborted();
      if (trouble.body === undefined) {
        shapes.push(...left.map((body) => ({ body, error: trouble.error })));
        break;
      }
      shapes.push({ body: trouble.body, error: trouble.error });
      left = left.filter((body) => body !== trouble.body);
    }
    return shapes;
  }

  /** One request to one thread. Ends when all is done, or with the body at which the thread died or hung. */
  private async runOnce(
    step: Uint8Array,
    bodies: readonly number[],
    onShape: (shape: BodyShape) => void,
    options: ShapeOptions,
  ) {
    const { signal } = options;
    const worker = await this.start();
    const done = new Set<number>();
    const limit = (this.options.secondsPerBody ?? 120) * 1000;
    return new Promise<{ done: Set<number>; trouble?: { body?: number; error: string } }>((resolve) => {
      let current: number | undefined;
      let timer: NodeJS.Timeout | undefined;
      const finish = (trouble?: { body?: number; error: string }) => {
        clearTimeout(timer);
        this.listener = undefined;
        signal?.removeEventListener('abort', onAbort);
        resolve({ done, trouble });
      };
      const watch = () => {
        clearTimeout(timer);
        timer = setTimeout(
          () =>
            finish({
              body: current,
              error: `The geometry kernel took longer than ${limit / 1000} s and was stopped.`,
            }),
          limit,
        );
      };
      const onAbort = () => finish({ error: 'Cancelled.' });
      signal?.addEventListener('abort', onAbort);
      this.listener = {
        onAnswer: (answer) => {
          watch();
          if (answer.type === 'start') current = answer.body;
          else if (answer.type === 'body') {
            done.add(answer.shape.body);
            current = undefined;
            onShape(answer.shape);
          } else if (answer.type === 'unreadable') finish({ error: answer.error });
          else if (answer.type === 'done') {
            if (answer.memory > (this.options.memoryBytes ?? 1536 * 1024 * 1024)) void this.stop();
            finish();
          }
        },
        onDeath: (reason) => finish({ body: current, error: reason }),
      };
      watch();
      worker.postMessage({ step, bodies, mesh: options.mesh ?? true } satisfies ShapeRequest);
    });
  }

  /** Starts a thread unless one is there, and waits until its kernel is ready. */
  private start(): Promise<Worker> {
    if (this.worker) return Promise.resolve(this.worker);
    const worker = new Worker(this.options.script ?? new URL('./kernel-thread.mjs', import.meta.url));
    this.worker = worker;
    return new Promise((resolve, reject) => {
      const die = (reason: string) => {
        if (this.worker !== worker) return;
        this.worker = undefined;
        this.listener?.onDeath(reason);
        reject(new Error(reason));
      };
      worker.on('message', (answer: ShapeAnswer) =>
        answer.type === 'ready' ? resolve(worker) : this.worker === worker && this.listener?.onAnswer(answer),
      );
      worker.on('error', (error) => die(`The geometry kernel crashed: ${error.message}`));
      worker.on('exit', () => die('The geometry kernel crashed.'));
    });
  }

  private async stop(): Promise<void> {
    const { worker } = this;
    this.worker = undefined;
    await worker?.terminate();
  }
}
