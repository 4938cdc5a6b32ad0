import { parentPort, workerData } from 'node:worker_threads';
import { isBreakdown } from './breakdown';
import type { GeometryJob } from './jobs/geometry-job';
import { GEOMETRY_JOBS, type JobName } from './jobs/geometry-jobs';
import { startOcct } from './occt';

/** What a thread is started with. */
export interface ThreadData {
  occt: WebAssembly.Module;
}

/** What the kernel's owner asks of its thread: a job by its name. */
export interface ThreadRequest {
  job: JobName;
  request: unknown;
}

/** What a thread answers: it is ready; how far the job is; what came of it; that it could not be done at all. */
export type ThreadAnswer =
  | { type: 'ready' }
  | { type: 'told'; told: unknown }
  | { type: 'done'; result: unknown; memory: number }
  | { type: 'failed'; error: string };

const port = parentPort;
if (!port) throw new Error('The kernel runs in a worker thread only.');
const kernel = await startOcct((workerData as ThreadData).occt);
const answer = (message: ThreadAnswer, buffers: ArrayBuffer[] = []) => port.postMessage(message, buffers);

port.on('message', ({ job, request }: ThreadRequest) => {
  try {
    const { run } = GEOMETRY_JOBS[job] as GeometryJob<unknown, unknown, unknown>;
    const result = run(kernel, request, (told, buffers) => answer({ type: 'told', told }, buffers));
    answer({ type: 'done', result, memory: kernel.wasmMemory.buffer.byteLength });
  } catch (error) {
    // It ends this thread: its owner starts another.
    if (isBreakdown(error)) throw error;
    answer({
      type: 'failed',
      error: error instanceof Error ? error.message : 'The geometry of this file could not be computed.',
    });
  }
});
answer({ type: 'ready' });
