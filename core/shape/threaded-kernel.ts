import { Worker } from 'node:worker_threads';
import { Refusal } from '#core/refusal';
import { CutError, type CutPiece, type CutStep } from './cut';
import { type BodyShape, type CutOptions, KERNEL_VERSION, type Kernel, type ShapeOptions } from './kernel';
import type { CutRequest, ShapeAnswer, ShapeRequest } from './kernel-thread';

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

  cutBody(
    step: Uint8Array,
    body: number,
    steps: readonly CutStep[],
    unit: string,
    options: CutOptions = {},
  ): Promise<CutPiece[]> {
    const run = this.queue.then(() => this.cutOnce({ step, cut: { body, steps, unit } }, options));
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

  private async cutOnce(request: CutRequest, { onStep, signal }: CutOptions): Promise<CutPiece[]> {
    signal?.throwIfAborted();
    let pieces: CutPiece[] | undefined;
    let refused: CutError | undefined;
    const trouble = await this.converse(request, signal, (answer) => {
      if (answer.type === 'cut') onStep?.(answer.done, request.cut.steps.length);
      else if (answer.type === 'pieces') pieces = answer.pieces;
      else if (answer.type === 'uncut') refused = new CutError(answer.error, answer.step);
    });
    if (trouble !== undefined) await this.stop();
    signal?.throwIfAborted();
    if (refused) throw refused;
    if (trouble !== undefined || !pieces)
      throw new CutError(trouble ?? 'The geometry kernel gave no pieces.');
    return pieces;
  }

  /** One request to one thread. Ends when all is done, or with the body at which the thread died or hung. */
  private async runOnce(
    step: Uint8Array,
    bodies: readonly number[],
    onShape: (shape: BodyShape) => void,
    { mesh = true, signal }: ShapeOptions,
  ): Promise<{ done: Set<number>; trouble?: { body?: number; error: string } }> {
    const done = new Set<number>();
    let current: number | undefined;
    let isUnreadable = false;
    const error = await this.converse({ step, bodies, mesh }, signal, (answer) => {
      if (answer.type === 'start') current = answer.body;
      else if (answer.type === 'unreadable') isUnreadable = true;
      else if (answer.type === 'body') {
        done.add(answer.shape.body);
        current = undefined;
        onShape(answer.shape);
      }
    });
    if (error === undefined) return { done };
    return { done, trouble: { body: isUnreadable || signal?.aborted ? undefined : current, error } };
  }

  /**
   * Sends a request and passes on what the thread answers until it is done.
   * @returns why it did not end well: the thread died, was silent too long, could not read the file, was cancelled
   */
  private async converse(
    request: ShapeRequest | CutRequest,
    signal: AbortSignal | undefined,
    onAnswer: (answer: ShapeAnswer) => void,
  ): Promise<string | undefined> {
    const worker = await this.start();
    const limit = (this.options.secondsPerBody ?? 120) * 1000;
    return new Promise((resolve) => {
      let timer: NodeJS.Timeout | undefined;
      const finish = (trouble?: string) => {
        clearTimeout(timer);
        this.listener = undefined;
        signal?.removeEventListener('abort', onAbort);
        resolve(trouble);
      };
      const watch = () => {
        clearTimeout(timer);
        timer = setTimeout(
          () => finish(`The geometry kernel took longer than ${limit / 1000} s and was stopped.`),
          limit,
        );
      };
      const onAbort = () => finish('Cancelled.');
      signal?.addEventListener('abort', onAbort);
      this.listener = {
        onAnswer: (answer) => {
          watch();
          onAnswer(answer);
          if (answer.type === 'unreadable') finish(answer.error);
          else if (answer.type === 'done') {
            if (answer.memory > (this.options.memoryBytes ?? 1536 * 1024 * 1024)) void this.stop();
            finish();
          }
        },
        onDeath: finish,
      };
      watch();
      worker.postMessage(request);
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
        reject(new Refusal(reason));
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
