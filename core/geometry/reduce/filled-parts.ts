import { geometryOf } from '#core/geometry/bodies/measure';
import { openPart } from '#core/geometry/bodies/open-part';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { fillKindsOf } from '#core/geometry/fill/fill-kinds';
import { fillText } from '#core/geometry/fill/fill-text';
import type { FillKind } from '#core/geometry/fill/opening-kinds';
import { findOpenings, type Opening } from '#core/geometry/fill/openings';
import { readTopology } from '#core/geometry/fill/read-topology';
import { OddTopology, type Topology } from '#core/geometry/fill/topology';
import type { ReachOfWhole } from '#core/geometry/reach/classes';
import type { BodyFacts } from '#core/geometry/shape/body';
import type { BodyShape } from '#core/geometry/shape/body-shape';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import type { Whole } from '#core/geometry/whole/whole';
import { append, groupBy } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import { lengthUnitOfContext } from '#core/product/units';
import type { ReduceChoices } from './choices';

/** A file with the openings of its bodies. */
export interface PartWithOpenings {
  source: SourcePart;
  sha256: string;
  /** By number of the body; those that are left as they are have none. */
  bodies: Map<number, { topology: Topology; openings: Opening[] }>;
  /** Bodies that are left as they are, and why. */
  odd: Map<number, string>;
}

/** What came of filling one body. */
export interface FilledBody {
  openings: Opening[];
  facts: BodyFacts;
  /** Faces of the body before, by position, that are still there. */
  shape: Extract<BodyShape, { mesh: unknown; facts: unknown }>;
  geometry: GeometryOfBody;
}

/** A file as it is after filling. */
export interface FilledPart {
  source: SourcePart;
  /** The text before, to compare with. */
  before: SourcePart;
  bodies: Map<number, FilledBody>;
  /** Openings that are not filled, though that was wanted: with them a body would not stay whole. */
  refused: Map<number, Opening[]>;
}

/** How far a box may be off that was computed twice, mm. */
const SAME_BOX = 1e-4;

/** Reads the bodies of a file and finds their openings. Remembered by content. */
export async function openingsOf(context: PlanContext, path: string): Promise<PartWithOpenings> {
  const { part: source, sha256 } = await openPart(context, path);
  return context.remember(`openings ${sha256} ${path}`, async () => {
    const meshes = await context.meshes(path);
    const found: PartWithOpenings = { source, sha256, bodies: new Map(), odd: new Map() };
    const done = new Set<number>();
    for (const body of source.bodies) {
      if (done.has(body.id)) continue;
      done.add(body.id);
      const mesh = meshes.get(body.id);
      try {
        if (!mesh) throw new OddTopology('nothing can be computed from it');
        const text = source.textOf(body);
        const millimetres = lengthUnitOfContext(source.file, text.context)?.millimetres ?? 1;
        const topology = readTopology(source.file, body, millimetres);
        if (topology.faces.length !== mesh.faceGroups.length / 2)
          throw new OddTopology('it has other faces than its text says');
        found.bodies.set(body.id, { topology, openings: findOpenings(topology, mesh) });
      } catch (error) {
        if (!(error instanceof OddTopology)) throw error;
        found.odd.set(body.id, error.message);
      }
    }
    return found;
  });
}

/** The files of everything that a whole places, with their openings, by path. */
export async function openingsOfWhole(
  context: PlanContext,
  { shapes }: Whole,
): Promise<Map<string, PartWithOpenings>> {
  const parts = new Map<string, PartWithOpenings>();
  for (const path of new Set(shapes.map(({ file }) => file)))
    parts.set(path, await openingsOf(context, path));
  return parts;
}

/** Openings of a body that are filled: by kind and size, none at a face that shall stay, none inside another that is filled. */
export function chosenOpenings(
  { topology, openings }: { topology: Topology; openings: readonly Opening[] },
  choices: Pick<ReduceChoices, 'fill' | 'fillBelow' | 'fillHidden' | 'engraved'>,
  keptFaces: ReadonlySet<number>,
  isReached: (face: number) => boolean,
  mayFill: (opening: Opening) => boolean,
): Opening[] {
  const wanted = new Set<FillKind>(choices.fill);
  const kindsOf = fillKindsOf(topology, openings, choices.engraved);
  const chosen: Opening[] = [];
  const taken = new Set<number>();
  for (const opening of openings) {
    if (![...kindsOf.get(opening)!].some((kind) => wanted.has(kind))) continue;
    if (choices.fillBelow !== null && opening.mouth > choices.fillBelow) continue;
    if (opening.faces.some((face) => taken.has(face) || keptFaces.has(topology.faces[face]!.id))) continue;
    if (opening.rims.some(({ hosts }) => hosts.some((face) => keptFaces.has(topology.faces[face]!.id))))
      continue;
    if ((choices.fillHidden && opening.faces.some(isReached)) || !mayFill(opening)) continue;
    chosen.push(opening);
    for (const face of opening.faces) taken.add(face);
  }
  return chosen;
}

/** Whether some placing of a body has a face that is reached. */
export function reachedIn(whole: Whole, reach: ReachOfWhole): (shape: number, face: number) => boolean {
  const placings = groupBy(whole.bodies.keys(), (n) => whole.bodies[n]!.shape);
  return (shape, face) => (placings.get(shape) ?? []).some((n) => reach.reached.faces[n]![face] === 1);
}

/**
 * Fills openings of a file, and has the kernel look at every body that was changed: it must be valid and closed, of the same box and of more
 * volume. Openings with which it is not are found by halving; they stay.
 */
export async function fillPart(
  context: PlanContext,
  part: PartWithOpenings,
  wanted: ReadonlyMap<number, Opening[]>,
): Promise<FilledPart> {
  const key = JSON.stringify(
    [...wanted].map(([body, openings]) => [body, openings.map(({ faces }) => faces[0])]),
  );
  const { source, sha256 } = part;
  return context.remember(`filled ${sha256} ${source.path} ${key}`, async () => {
    const refused: FilledPart['refused'] = new Map();
    let left = new Map(wanted);
    for (;;) {
      const { filled, shapes, bad } = await tryToFill(context, part, left);
      if (bad.length === 0) {
        const done = new Map<number, FilledBody>();
        for (const shape of shapes) {
          if (!('facts' in shape) || !shape.mesh) continue;
          const geometry = await geometryOf(shape.mesh);
          done.set(shape.body, { openings: left.get(shape.body)!, facts: shape.facts, shape, geometry });
        }
        return { source: filled, before: source, bodies: done, refused };
      }
      left = new Map(left);
      for (const body of bad) {
        const openings = left.get(body)!;
        // What was looked for once and is refused together with others all the same is left alone.
        const fillable = refused.has(body) ? [] : await fillableOf(context, part, body, openings);
        for (const opening of openings) if (!fillable.includes(opening)) append(refused, body, opening);
        if (fillable.length > 0) left.set(body, fillable);
        else left.delete(body);
      }
    }
  });
}

/** Fills, and lists the bodies that the kernel refuses then. */
async function tryToFill(
  { kernel, signal, measured }: PlanContext,
  { source, bodies: known }: PartWithOpenings,
  wanted: ReadonlyMap<number, Opening[]>,
): Promise<{ filled: SourcePart; shapes: BodyShape[]; bad: number[] }> {
  const bodies = [...wanted].map(([body, openings]) => ({
    body,
    topology: known.get(body)!.topology,
    openings,
  }));
  if (bodies.length === 0) return { filled: source, shapes: [], bad: [] };
  const bytes = fillText(source.file, bodies);
  const shapes = await kernel.shapeBodies(bytes, [...wanted.keys()], {
    details: 'none',
    check: true,
    signal,
  });
  const before = await measured(source.path);
  const bad = shapes.flatMap((shape) =>
    isWellFilled(shape, before.get(shape.body)?.facts) ? [] : [shape.body],
  );
  return { filled: new SourcePart(source.path, bytes), shapes, bad };
}

/** So often the kernel looks at one body, at most, to find the openings that it can be filled with. */
const MOST_LOOKS = 12;

/** The openings of a body with which it stays whole, as far as halving finds them. */
async function fillableOf(
  context: PlanContext,
  part: PartWithOpenings,
  body: number,
  openings: readonly Opening[],
): Promise<Opening[]> {
  const fillable: Opening[] = [];
  const waiting = halvesOf(openings);
  for (let looks = 0; looks < MOST_LOOKS && waiting.length > 0; looks++) {
    const some = waiting.shift()!;
    const { bad } = await tryToFill(context, part, new Map([[body, [...fillable, ...some]]]));
    if (bad.length === 0) fillable.push(...some);
    else waiting.push(...halvesOf(some));
  }
  return fillable;
}

function halvesOf(openings: readonly Opening[]): Opening[][] {
  if (openings.length < 2) return [];
  const middle = Math.ceil(openings.length / 2);
  return [openings.slice(0, middle), openings.slice(middle)];
}

function isWellFilled(shape: BodyShape, before: BodyFacts | undefined): boolean {
  if (!('facts' in shape) || !before) return false;
  const { facts, isValid } = shape;
  return isValid === true && !facts.doubt && isSameBox(facts, before) && facts.volume > before.volume;
}

/** Whether a body lies in the same box as before. @param off by what its sides may be off, mm */
export function isSameBox(facts: BodyFacts, before: BodyFacts, off = 0): boolean {
  const tolerance = off + Math.max(SAME_BOX, facts.boxTolerance + before.boxTolerance);
  return facts.box.every((value, n) => Math.abs(value - before.box[n]!) <= tolerance);
}
