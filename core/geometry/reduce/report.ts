import { closureText } from '#core/files/part21/closure-text';
import type { Part21File } from '#core/files/part21/file';
import type { Leak } from '#core/geometry/leaks/leaks';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import { faceCount, triangleCount } from '#core/geometry/shape/solid-mesh';
import { boxOfBodies, growByMesh, meshOfBody, type Whole } from '#core/geometry/whole/whole';
import { type Box, boxOff } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import type { MadeReport } from '#core/product/source/made-report';
import type { Project } from '#core/project/scan/project';
import { placedBelow } from '#core/project/scan/project';
import type { KeptFace } from './choices';
import { bodiesLeft } from './decide';
import { type Deviation, deviationOf } from './deviation';
import { FilledSpace } from './filled-space';
import { filledBodies, type Left, lostFaces, meshesLeft, pointsReached } from './left';
import type { ReducedWhole } from './reduced-whole';
import type { Removed } from './removed';
import type { WrittenReduced } from './write-reduced';

/** What a model is made of. */
export interface Amounts {
  occurrences: number;
  distinctParts: number;
  bodies: number;
  faces: number;
  triangles: number;
  bytes: number;
}

/** What became of a face that was to stay. */
export interface KeptFaceReport {
  file: string;
  face: number;
  name: string;
  /** Its text, and that of all that it needs, is the same to the last digit. */
  identical: boolean;
  /** Of facets: how far it lies at most from what is there now, mm. */
  off?: number;
}

/** What a lite model is, held against what it was made from. */
export interface ReductionReport {
  before: Amounts;
  after: Amounts;
  /** Smallest and largest x, y, z, mm. */
  box: { before: Box; after: Box };
  /** Volume of all solids, mm³. */
  volume: { before: number; after: number };
  kept: KeptFaceReport[];
  /** How far what is reached from outside lies at most from what is left. */
  deviation: Deviation;
  removed: Removed;
  /** What can still be told from the file. */
  leaks: Leak[];
}

/** What of a report goes along with the file. */
export function madeReport({
  before,
  after,
  box,
  kept,
  deviation,
  leaks,
}: Pick<ReductionReport, 'before' | 'after' | 'box' | 'kept' | 'deviation'> & {
  leaks: readonly Pick<Leak, 'kind'>[];
}): MadeReport {
  const amounts = ({ occurrences, bodies, faces }: Amounts) => ({ occurrences, bodies, faces });
  return {
    before: amounts(before),
    after: amounts(after),
    boxOff: boxOff(box.before, box.after),
    kept: { faces: kept.length, identical: kept.filter(({ identical }) => identical).length },
    deviation: deviation.max,
    leaks: leaks.map(({ kind }) => kind),
  };
}

export function amountsBefore(project: Project, whole: Whole): Amounts {
  const files = placedBelow(project, [whole.root]);
  return {
    occurrences: whole.occurrences.length,
    distinctParts: new Set(whole.occurrences.map(({ place }) => `${place.path}#${place.product.definition}`))
      .size,
    bodies: whole.bodies.length,
    faces: sumOver(whole, faceCount),
    triangles: sumOver(whole, triangleCount),
    bytes: files.reduce((sum, path) => sum + (project.files.get(path)?.bytes ?? 0), 0),
  };
}

function sumOver(whole: Whole, of: (mesh: GeometryOfBody | undefined) => number): number {
  return whole.bodies.reduce((sum, _, n) => sum + of(meshOfBody(whole, n)), 0);
}

/** Boxes, from the meshes: filling moves no vertex of what stays, what was made anew has others. */
export function boxesOf({
  whole,
  decision,
  remade,
}: Pick<Left, 'whole' | 'decision' | 'remade'>): ReductionReport['box'] {
  const staying = bodiesLeft(decision);
  const after = boxOfBodies(
    whole,
    staying.filter((n) => !remade.has(n)),
  );
  for (const n of staying) {
    const anew = remade.get(n);
    if (anew) growByMesh(after, anew.geometry.positions, whole.bodies[n]!.placement);
  }
  return { before: whole.box, after };
}

/** Holds the text of kept faces against that of the originals. */
export function keptFaceReports(
  kept: readonly KeptFace[],
  originals: ReadonlyMap<string, Part21File>,
  { faces }: WrittenReduced,
  result: Part21File,
): KeptFaceReport[] {
  return kept.map(({ file, face, name }) => {
    const original = originals.get(file);
    const now = faces.get(file)?.get(face);
    const identical =
      original !== undefined && now !== undefined && closureText(original, face) === closureText(result, now);
    return { file, face, name, identical };
  });
}

/** Points tried on a face. */
const POINTS = 6;
/** More would take longer than all the rest. */
const MOST_POINTS = 20_000;

/**
 * How far faces that are reached from outside, and are no longer there, lie from what is left. What lies in openings that were filled does not
 * count: that they are filled is said.
 */
export function deviationAfter({ reach, ...left }: ReducedWhole): Deviation {
  const { whole, decision } = left;
  const filledOf = filledBodies(left);
  const points: Vector3[] = [];
  for (const n of whole.bodies.keys()) {
    const isLost = decision.bodies[n] !== null || left.remade.has(n) ? () => true : lostFaces(filledOf(n));
    points.push(...pointsReached(whole, reach, n, POINTS, isLost));
  }
  const space = new FilledSpace(left);
  const step = Math.ceil(points.length / MOST_POINTS) || 1;
  const open = points.filter((point, n) => n % step === 0 && !space.holds(point));
  return deviationOf(open, meshesLeft(left));
}
