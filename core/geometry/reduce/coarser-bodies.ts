import { createHash } from 'node:crypto';
import { geometryOf } from '#core/geometry/bodies/measure';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { type Coarsened, type Coarser, coarsen } from '#core/geometry/coarser/coarsen';
import { readTopology } from '#core/geometry/fill/read-topology';
import { OddTopology, type Topology } from '#core/geometry/fill/topology';
import type { BodyFacts } from '#core/geometry/shape/body';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { trianglesByFace } from '#core/geometry/shape/solid-mesh';
import { meshOfBody } from '#core/geometry/whole/whole';
import { groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import type { Body } from '#core/product/structure';
import { lengthUnitOfContext } from '#core/product/units';
import type { ReduceChoices } from './choices';
import { bodiesLeft } from './decide';
import { isSameBox, type PartWithOpenings, reachedIn } from './filled-parts';
import type { RemadeBody } from './left';
import type { ReducedWhole } from './reduced-whole';
import { singleBody } from './single-body';

/** What of the choices is done in the text of bodies; nothing where none of it is chosen, or it is switched off. */
export function coarserIn({
  sharpEdges,
  joinFaces,
  fill,
  fillBelow,
  off,
}: Pick<ReduceChoices, 'sharpEdges' | 'joinFaces' | 'fill' | 'fillBelow' | 'off'>): Coarser | null {
  const isOn = !off.includes('round');
  const isFilling = fill.includes('slot') && !off.includes('fill');
  const coarser: Coarser = {
    edges: isOn ? sharpEdges : null,
    slots: isFilling ? (fillBelow ?? 'all') : null,
    join: isOn && joinFaces,
  };
  return coarser.edges === null && coarser.slots === null && !coarser.join ? null : coarser;
}

/** The same with less, where the kernel refuses what came of all of it: the most useful first. */
function withLess({ edges, slots, join }: Coarser): Coarser[] {
  const ways: Coarser[] = [
    { edges, slots, join },
    { edges, slots, join: false },
    { edges, slots: null, join: false },
    { edges: null, slots, join: false },
    { edges: null, slots: null, join },
  ];
  const told = ways.map((way) => JSON.stringify(way));
  return ways.filter(
    (way, n) => told.indexOf(told[n]!) === n && (way.edges !== null || way.slots !== null || way.join),
  );
}

/** A body in its text, and as a mesh with the same faces. */
interface BodyToCoarsen {
  part: SourcePart;
  body: Body;
  topology: Topology;
  mesh: GeometryOfBody;
  millimetres: number;
}

/** Makes bodies that stay coarser. What the kernel refuses is named by a warning, and stays. */
export async function coarsenLeft(
  context: PlanContext,
  reduced: ReducedWhole,
  choices: ReduceChoices,
): Promise<Map<number, RemadeBody>> {
  const remade = new Map<number, RemadeBody>();
  const coarser = coarserIn(choices);
  if (!coarser) return remade;
  const { whole, decision, filled, openings, originals, reachLeft } = reduced;
  const isReached = reachedIn(whole, reachLeft);
  const placings = groupBy(bodiesLeft(decision), (n) => whole.bodies[n]!.shape);
  const digests = new Map<SourcePart, string>();
  const digestOf = (part: SourcePart) => {
    const digest = digests.get(part) ?? createHash('sha256').update(part.file.bytes).digest('hex');
    digests.set(part, digest);
    return digest;
  };
  let done = 0;
  for (const [shape, numbers] of placings) {
    const { file: path, body } = whole.shapes[shape]!;
    await context.progress(`Making ${path} coarser`, done++, placings.size);
    context.signal.throwIfAborted();
    const own = openings.get(path)?.bodies.get(body.id);
    if (!own) continue;
    const anew = filled.get(path)?.bodies.get(body.id);
    const part = filled.get(path)?.source ?? originals.get(path)!;
    const mesh = anew?.geometry ?? meshOfBody(whole, numbers[0]!);
    const facts = anew?.facts ?? (await context.measured(path)).get(body.id)?.facts;
    if (!mesh || !facts) continue;
    const kept = choices.keepFaces.flatMap(({ file, face }) => (file === path ? [face] : []));
    const { faces } = own.topology;
    const reached = faces.flatMap(({ id }, n) =>
      choices.fillHidden && coarser.slots !== null && isReached(shape, n) ? [id] : [],
    );
    const key = JSON.stringify([digestOf(part), path, body.id, coarser, kept, reached]);
    const made = await context.remember(`coarser ${key}`, () =>
      coarsenBody(context, { part, body, mesh, facts }, coarser, {
        kept: new Set(kept),
        reached: new Set(reached),
      }),
    );
    if (typeof made === 'string')
      context.draft.warn(`${path}: body #${body.id} stays as fine as it is. ${made}`);
    else if (made) for (const n of numbers) remade.set(n, made);
  }
  return remade;
}

/** @returns nothing where there is nothing to do, a sentence where the kernel refuses what would come of it */
async function coarsenBody(
  { kernel, signal }: Pick<PlanContext, 'kernel' | 'signal'>,
  { part, body, mesh, facts }: Pick<BodyToCoarsen, 'part' | 'body' | 'mesh'> & { facts: BodyFacts },
  coarser: Coarser,
  { kept, reached }: { kept: ReadonlySet<number>; reached: ReadonlySet<number> },
): Promise<RemadeBody | string | null> {
  const readable = readBody(part, body, mesh);
  if (!readable) return null;
  const { topology } = readable;
  const ids = topology.faces.map(({ id }) => id);
  const free = {
    mayGo: (face: number) => !kept.has(ids[face]!),
    mayFill: (face: number) => !reached.has(ids[face]!),
  };
  for (const way of withLess(coarser)) {
    const made = coarsened(readable, way, free);
    if (!made) continue;
    const single = singleBody(new SourcePart(part.path, made.bytes), body);
    const [id] = single.bodies.map((one) => one.id);
    const [shape] = await kernel.shapeBodies(single.file.bytes, [id!], {
      details: 'none',
      check: true,
      signal,
    });
    if (!shape || !('facts' in shape) || !shape.mesh || shape.isValid !== true || shape.facts.doubt) continue;
    // A sharp corner of a body that lies askew reaches further than its round did.
    if (!isSameBox(shape.facts, facts, made.off) || !isPlausible(made, shape.facts.volume / facts.volume))
      continue;
    const { edges, off, slots, joined } = made;
    return {
      source: single,
      coarser: { edges, off, slots, joined },
      rounded: 0,
      isEnvelope: false,
      isCut: false,
      mesh: shape.mesh,
      geometry: await geometryOf(shape.mesh),
      volume: shape.facts.volume,
    };
  }
  // That faces could be one, and are not, is no loss.
  const isWanted = coarsened(readable, { ...coarser, join: false }, free) !== undefined;
  return isWanted ? 'The kernel finds no whole body in what would come of it.' : null;
}

/** Part of a volume that numbers leave open. */
const OPEN = 1e-6;

/** Slots that are filled add to a volume, and faces that become one leave it. */
function isPlausible({ edges, slots }: Coarsened, ratio: number): boolean {
  if (edges > 0) return ratio > 0.5 && (slots > 0 || ratio < 2);
  return slots > 0 ? ratio > 1 : Math.abs(ratio - 1) < OPEN;
}

/** A body with its text; undefined where that is no plain closed boundary, or the mesh has other faces. */
function readBody(part: SourcePart, body: Body, mesh: GeometryOfBody): BodyToCoarsen | undefined {
  try {
    const millimetres = lengthUnitOfContext(part.file, part.textOf(body).context)?.millimetres ?? 1;
    const topology = readTopology(part.file, body, millimetres);
    if (topology.faces.length !== mesh.faceGroups.length / 2) return undefined;
    return { part, body, topology, mesh, millimetres };
  } catch (error) {
    if (error instanceof OddTopology) return undefined;
    throw error;
  }
}

function coarsened(
  { part, topology, mesh, millimetres }: BodyToCoarsen,
  coarser: Coarser,
  free?: Parameters<typeof coarsen>[3],
): Coarsened | undefined {
  try {
    const text = { file: part.file, topology, millimetres };
    return coarsen(text, trianglesByFace(mesh), coarser, free);
  } catch (error) {
    if (error instanceof OddTopology) return undefined;
    throw error;
  }
}

/** What could be made coarser in a body, as reckoned from its text. */
export interface Reckoned {
  /** Faces of rounds and bevels, and those that would become one with others. */
  edges: number;
  joined: number;
  slots: number;
  /** Faces that would go with slots. */
  slotFaces: number;
}

/** What could be made coarser in the bodies of a file, by number of the body. Remembered by content. */
export function coarserInPart(
  context: PlanContext,
  { source, sha256, bodies }: PartWithOpenings,
  { edges, slots }: Pick<Coarser, 'edges' | 'slots'>,
): Promise<Map<number, Reckoned>> {
  return context.remember(`could be coarser ${sha256} ${source.path} ${edges} ${slots}`, async () => {
    const meshes = await context.meshes(source.path);
    const found = new Map<number, Reckoned>();
    for (const body of source.bodies) {
      const mesh = meshes.get(body.id);
      if (!mesh || !bodies.has(body.id) || found.has(body.id)) continue;
      const readable = readBody(source, body, mesh);
      if (!readable) continue;
      const only = (part: Partial<Coarser>) =>
        coarsened(readable, { edges: null, slots: null, join: false, ...part });
      const slotted = only({ slots });
      found.set(body.id, {
        edges: only({ edges })?.edges ?? 0,
        joined: only({ join: true })?.joined ?? 0,
        slots: slotted?.slots ?? 0,
        slotFaces: slotted?.gone ?? 0,
      });
    }
    return found;
  });
}
