import { openPart } from '#core/geometry/bodies/open-part';
import type { SourcePart } from '#core/geometry/bodies/source-part';
import { CutError, type CutPiece, type CutStep } from '#core/geometry/shape/cut';
import { cutBody } from '#core/geometry/shape/cut-body';
import { packGltf } from '#core/geometry/shape/gltf';
import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import { Refusal } from '#core/refusal';
import type { CutBodyChoices } from './choices';
import { kernelUnitOf } from './pieces';
import { planCut, refuseAssembly } from './plan';

/** The pieces of a body, and their picture. */
export interface PiecesOfCut {
  pieces: CutPiece[];
  /** Binary glTF, a node for each piece by its position. */
  gltf: Uint8Array;
}

/** Plans to cut the body that the choices name. */
export async function planCutOf(
  context: PlanContext,
  { file, body: number, steps, ...choices }: CutBodyChoices,
): Promise<Planned<PiecesOfCut>> {
  const { part: source, sha256 } = await openPart(context, file);
  refuseAssembly(source);
  const body = source.bodies.find(({ id }) => id === number);
  if (!body) throw new Refusal(`${file} has no body #${number}.`);
  const made = await context.remember(`pieces ${sha256} ${number} ${JSON.stringify(steps)}`, async () =>
    piecesOf(context, source, number, steps),
  );
  const change = await planCut(context, { source, body, pieces: made.pieces, choices });
  return { change, preview: made };
}

async function piecesOf(
  { kernel, signal, progress }: PlanContext,
  source: SourcePart,
  number: number,
  steps: readonly CutStep[],
): Promise<PiecesOfCut> {
  const body = source.bodies.find(({ id }) => id === number)!;
  const onStep = (done: number, of: number) => void progress('Cutting', done, of).catch(() => {});
  try {
    const pieces = await cutBody(kernel, source.file.bytes, number, steps, kernelUnitOf(source, body), {
      signal,
      onStep,
    });
    const nodes = pieces.map(({ mesh }, n) => ({ body: n, mesh }));
    return { pieces, gltf: await packGltf(nodes) };
  } catch (error) {
    if (error instanceof CutError && error.step !== null && steps.length > 1)
      throw new Refusal(`Cut ${error.step + 1}: ${error.message}`);
    throw error;
  }
}
