import type { PlanContext } from '#core/planning';
import { Refusal } from '#core/refusal';
import type { KeptFace, ReduceChoices } from './choices';
import { gapOf } from './decide';
import { findAgain, SURE, traceOf } from './face-trace';
import { openingsOf, openingsOfWhole } from './filled-parts';
import { proposeMounting } from './mounting';
import { reachOfWhole, wholeOf } from './read-whole';

/**
 * The faces that shall stay, as the files have them now: with what they are found again by; a face that was chosen on an older version is
 * looked for.
 * @param isAgain the choices come from a recipe: numbers may mean other faces now
 * @throws Refusal for a face that is not there
 */
export async function keptFacesNow(
  context: PlanContext,
  root: string,
  kept: readonly KeptFace[],
  isAgain: boolean,
): Promise<KeptFace[]> {
  const faces: KeptFace[] = [];
  for (const asked of kept) {
    const wanted = { ...asked, file: asked.file || root };
    const { file, face, name, trace } = wanted;
    if (!context.project.files.has(file))
      throw new Refusal(
        `${file}, which holds the face “${name || `#${face}`}” that shall stay, is not there.`,
      );
    const part = await openingsOf(context, file);
    const meshes = await context.meshes(file);
    if (isAgain && trace) {
      let best: { face: number; likeness: number } | null = null;
      for (const [body, { topology }] of part.bodies) {
        const found = findAgain(trace, topology, meshes.get(body)!);
        if (found && found.likeness > (best?.likeness ?? 0)) best = found;
      }
      if (!best || best.likeness < SURE / 2)
        throw new Refusal(
          `The face “${name || `#${face}`}” of ${file} that shall stay is not there any more. Open the lite model’s page and choose it anew.`,
        );
      if (best.likeness < SURE)
        context.draft.warn(
          `The face “${name || `#${face}`}” of ${file} has changed much: ${Math.round(100 * best.likeness)} % alike. Look whether it is the right one.`,
        );
      faces.push(await withTrace({ ...wanted, face: best.face, trace: null }));
    } else faces.push(await withTrace(wanted));
    async function withTrace(wanted: KeptFace): Promise<KeptFace> {
      for (const [body, { topology }] of part.bodies) {
        const position = topology.faces.findIndex(({ id }) => id === wanted.face);
        if (position >= 0) return { ...wanted, trace: traceOf(topology, position, meshes.get(body)!) };
      }
      if (part.odd.size > 0 && context.project.files.get(file)) return { ...wanted, trace: null };
      throw new Refusal(`${file} has no face #${wanted.face}.`);
    }
  }
  return faces;
}

/**
 * The faces that shall stay, and where that is chosen those that the whole is probably mounted by: patterns of holes, and ends of shafts, as
 * far as they are reached from outside.
 */
export async function withMountingFaces(
  context: PlanContext,
  root: string,
  { gap, keepFaces, keepMounting }: Pick<ReduceChoices, 'gap' | 'keepFaces'> & { keepMounting: boolean },
): Promise<KeptFace[]> {
  if (!keepMounting) return [...keepFaces];
  const whole = await wholeOf(context, root);
  const reach = await reachOfWhole(context, whole, gapOf({ gap }, whole));
  const parts = await openingsOfWhole(context, whole);
  const isKept = new Set(keepFaces.map(({ file, face }) => `${file} ${face}`));
  const found = proposeMounting(whole, reach, (path) => parts.get(path)).flatMap(
    ({ file, face, name, kind }): KeptFace[] =>
      kind === 'flat end' || isKept.has(`${file} ${face}`) ? [] : [{ file, face, name, trace: null }],
  );
  return [...keepFaces, ...(await keptFacesNow(context, root, found, false))];
}
