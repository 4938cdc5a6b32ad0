import { Worker } from 'node:worker_threads';
import { Refusal } from '#core/refusal';
import type { BodyShape } from './body-shape';
import type { JobName, RequestOf, ResultOf, ToldBy } from './jobs/geometry-jobs';
import type { ShapeTold } from './jobs/shape-bodies';
import { KERNEL_VERSION, type Kernel, KernelTrouble, type RunOptions, type ShapeOptions } from './kernel';
import type { ThreadAnswer, ThreadData, ThreadRequest } from './kernel-thread';
import { compiledOcct } from './occt-module';

export interface ThreadOptions {
  /** A body that takes longer is given up, and its thread ended. */
  secondsPerBody?: number;
  /** A thread whose WebAssembly memory has grown past this is replaced before the next file. */
  memoryBytes?: number;
  /** For tests: another script in place of the real kernel. */
  script?: URL;
}

/** How a job ended: what came of it, or why nothing did. */
interface Ended<Name extends JobName> {
  result?: ResultOf<Name>;
  trouble?: { error: string; isUnreadable?: boolean };
}

/**
 * The kernel in a worker thread. A thread that dies or hangs on a body is replaced; that body gets an error, and the
 * work goes on with the next one. One file at a time; start several for more. A thread that is idle does not keep the
 * process from ending.
 */
export class ThreadedKernel implements Kernel {
  readonly version = KERNEL_VERSION;
  private worker: Worker | undefined;
  private queue: Promise<unknown> = Promise.resolve();
  private listener: { onAnswer(answer: ThreadAnswer): void; onDeath(reason: string): void } | undefined;

  constructor(private readonly options: ThreadOptions = {}) {}

  shapeBodies(step: Uint8Array, bodies: readonly number[], options: ShapeOptions = {}): Promise<BodyShape[]> {
    const run = this.queue.then(() => this.shapeAll(step, bodies, options));
    this.queue = run.catch(() => {});
    return run;
  }

  run<Name extends JobName>(
    job: Name,
    request: RequestOf<Name>,
    options: RunOptions<ToldBy<Name>> = {},
  ): Promise<ResultOf<Name>> {
    const run = this.queue.then(() => this.runAlone(job, request, options));
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

  private async runAlone<Name extends JobName>(
    job: Name,
    request: RequestOf<Name>,
    { onTold, signal }: RunOptions<ToldBy<Name>>,
  ): Promise<ResultOf<Name>> {
    signal?.throwIfAborted();
    const { result, trouble } = await this.converse(job, request, { onTold, signal });
    if (trouble === undefined) return result!;
    await this.stop();
    signal?.throwIfAborted();
    throw new KernelTrouble(trouble.error);
  }

  /** One request to one thread. Ends when all is done, or with the body at which the thread died or hung. */
  private async runOnce(
    step: Uint8Array,
    bodies: readonly number[],
    onShape: (shape: BodyShape) => void,
    { mesh, details, check, signal }: ShapeOptions,
  ): Promise<{ done: Set<number>; trouble?: { body?: number; error: string } }> {
    const done = new Set<number>();
    let current: number | undefined;
    const onTold = (told: ShapeTold) => {
      if ('start' in told) current = told.start;
      else {
        done.add(told.shape.body);
        current = undefined;
        onShape(told.shape);
      }
    };
    const { trouble } = await this.converse(
      'shapeBodies',
      { step, bodies, mesh, details, check },
      { onTold, signal },
    );
    if (trouble === undefined) return { done };
    const isOfBody = !trouble.isUnreadable && !signal?.aborted;
    return { done, trouble: { body: isOfBody ? current : undefined, error: trouble.error } };
  }

  /**
   * Has the thread do a job, and passes on what it tells.
   * @returns what came of it, or why nothing did: the thread died, was silent too long, could not read the file, was cancelled
   */
  private async converse<Name extends JobName>(
    job: Name,
    request: RequestOf<Name>,
    { onTold, signal }: RunOptions<ToldBy<Name>>,
  ): Promise<Ended<Name>> {
    const worker = await this.start();
    worker.ref();
    const limit = (this.options.secondsPerBody ?? 120) * 1000;
    return new Promise((resolve) => {
      let timer: NodeJS.Timeout | undefined;
      const finish = (ended: {
        result?: ResultOf<Name>;
        trouble?: { error: string; isUnreadable?: boolean };
      }) => {
        clearTimeout(timer);
        worker.unref();
        this.listener = undefined;
        signal?.removeEventListener('abort', onAbort);
        resolve(ended);
      };
      const fail = (error: string) => finish({ trouble: { error } });
      const watch = () => {
        clearTimeout(timer);
        timer = setTimeout(
          () => fail(`Computing this geometry took longer than ${limit / 1000} s and was stopped.`),
          limit,
        );
      };
      const onAbort = () => fail('Cancelled.');
      signal?.addEventListener('abort', onAbort);
      this.listener = {
        onAnswer: (answer) => {
          watch();
          if (answer.type === 'told') onTold?.(answer.told as ToldBy<Name>);
          else if (answer.type === 'failed') finish({ trouble: { error: answer.error, isUnreadable: true } });
          else if (answer.type === 'done') {
            if (answer.memory > (this.options.memoryBytes ?? 1536 * 1024 * 1024)) void this.stop();
            finish({ result: answer.result as ResultOf<Name> });
          }
        },
        onDeath: fail,
      };
      watch();
      const asked: ThreadRequest = { job, request };
      worker.postMessage(asked);
    });
  }

  /** Starts a thread unless one is there, and waits until its kernel is ready. */
  private async start(): Promise<Worker> {
    if (this.worker) return this.worker;
    const data: ThreadData = { occt: await compiledOcct() };
    const script = this.options.script ?? new URL('./kernel-thread.mjs', import.meta.url);
    const worker = new Worker(script, { workerData: data });
    this.worker = worker;
    return new Promise((resolve, reject) => {
      const die = (reason: string) => {
        if (this.worker !== worker) return;
        this.worker = undefined;
        this.listener?.onDeath(reason);
        reject(new Refusal(reason));
      };
      worker.on('message', (answer: ThreadAnswer) =>
        answer.type === 'ready' ? resolve(worker) : this.worker === worker && this.listener?.onAnswer(answer),
      );
      worker.on('error', (error) => die(crashInWords(error)));
      worker.on('exit', () => die('Computing this geometry crashed.'));
    });
  }

  private async stop(): Promise<void> {
    const { worker } = this;
    this.worker = undefined;
    await worker?.terminate();
  }
}

/** What WebAssembly says when its memory is gone or broken, in words for whoever works with the file. */
function crashInWords({ message }: Error): string {
  const isMemory = /memory|out of bounds|unreachable|table index|null function|signature mismatch/i.test(
    message,
  );
  return isMemory
    ? 'Computing this geometry crashed: the memory was not enough, or the shape is badly broken.'
    : `Computing this geometry crashed: ${message}`;
}
