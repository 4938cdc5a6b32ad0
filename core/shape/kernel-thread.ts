import { parentPort } from 'node:worker_threads';
import { CutError, type CutPiece, type CutStep } from './cut';
import type { BodyShape } from './kernel';
import { OcctStepFile, startOcct } from './occt';

/** What the pool asks of a thread. */
export interface ShapeRequest {
  step: Uint8Array;
  bodies: readonly number[];
  mesh: boolean;
}

/** Another thing that is asked of a thread: to cut a body. */
export interface CutRequest {
  step: Uint8Array;
  cut: { body: number; steps: readonly CutStep[]; unit: string };
}

/**
 * What a thread answers: it is ready; it starts on a body; a body is done; a cut is made; the pieces; a cut that cannot
 * be made; all are done; the file cannot be read.
 */
export type ShapeAnswer =
  | { type: 'ready' }
  | { type: 'cut'; done: number }
  | { type: 'pieces'; pieces: CutPiece[] }
  | { type: 'uncut'; error: string; step: number | null }
  | { type: 'start'; body: number }
  | { type: 'body'; shape: BodyShape }
  | { type: 'done'; memory: number }
  | { type: 'unreadable'; error: string };

const port = parentPort;
if (!port) throw new Error('The kernel runs in a worker thread only.');
const oc = await startOcct();
const answer = (message: ShapeAnswer, transfer: ArrayBuffer[] = []) => port.postMessage(message, transfer);

function shape({ step, bodies, mesh }: ShapeRequest): void {
  using file = new OcctStepFile(oc, step, new Set(bodies));
  for (const body of bodies) {
    answer({ type: 'start', body });
    const shape = file.shape(body, mesh);
    const buffers =
      'mesh' in shape && shape.mesh
        ? Object.values(shape.mesh).flatMap((values) =>
            typeof values === 'number' ? [] : [values.buffer as ArrayBuffer],
          )
        : [];
    answer({ type: 'body', shape }, buffers);
  }
}

function cut({ step, cut: { body, steps, unit } }: CutRequest): void {
  const faces = steps.flatMap(({ cutter }) =>
    cutter.kind === 'face'
      ? [cutter.of]
      : cutter.kind === 'line' && 'of' in cutter.along
        ? [cutter.along.of]
        : [],
  );
  const wanted = [body, ...faces.filter((of) => typeof of === 'number')];
  using file = new OcctStepFile(oc, step, new Set(wanted));
  try {
    const pieces = file.cut(body, steps, unit, (done) => answer({ type: 'cut', done }));
    answer({ type: 'pieces', pieces });
  } catch (error) {
    if (!(error instanceof CutError)) throw error;
    answer({ type: 'uncut', error: error.message, step: error.step });
  }
}

port.on('message', (request: ShapeRequest | CutRequest) => {
  try {
    if ('cut' in request) cut(request);
    else shape(request);
    answer({ type: 'done', memory: oc.wasmMemory.buffer.byteLength });
  } catch (error) {
    answer({
      type: 'unreadable',
      error: error instanceof Error ? error.message : 'The geometry kernel failed on this file.',
    });
  }
});
answer({ type: 'ready' });
