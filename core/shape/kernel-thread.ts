import { parentPort } from 'node:worker_threads';
import type { BodyShape } from './kernel';
import { OcctStepFile, startOcct } from './occt';

/** What the pool asks of a thread. */
export interface ShapeRequest {
  step: Uint8Array;
  bodies: readonly number[];
  mesh: boolean;
}

/** What a thread answers: it is ready; it starts on a body; a body is done; all are done; the file cannot be read. */
export type ShapeAnswer =
  | { type: 'ready' }
  | { type: 'start'; body: number }
  | { type: 'body'; shape: BodyShape }
  | { type: 'done'; memory: number }
  | { type: 'unreadable'; error: string };

const port = parentPort;
if (!port) throw new Error('The kernel runs in a worker thread only.');
const oc = await startOcct();
const answer = (message: ShapeAnswer, transfer: ArrayBuffer[] = []) => port.postMessage(message, transfer);

port.on('message', ({ step, bodies, mesh }: ShapeRequest) => {
  try {
    using file = new OcctStepFile(oc, step, new Set(bodies));
    for (const body of bodies) {
      answer({ type: 'start', body });
      const shape = file.shape(body, mesh);
      const buffers =
        'mesh' in shape && shape.mesh
          ? Object.values(shape.mesh).map(({ buffer }) => buffer as ArrayBuffer)
          : [];
      answer({ type: 'body', shape }, buffers);
    }
    answer({ type: 'done', memory: oc.wasmMemory.buffer.byteLength });
  } catch (error) {
    answer({
      type: 'unreadable',
      error: error instanceof Error ? error.message : 'The geometry kernel failed on this file.',
    });
  }
});
answer({ type: 'ready' });
