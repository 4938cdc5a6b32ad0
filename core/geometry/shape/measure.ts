import { type Matrix4, transformPoint, turnDirection, type Vector3 } from '#core/product/matrix';
import { cross, distance, dot, length, offset, subtract, unit } from '#core/product/vector';
import type { ExactEdge, ExactFace, ExactPoint } from './exact';

/** Something on a body that can be measured, in the coordinates of the scene, mm. */
export type Measurable =
  | { what: 'face'; face: ExactFace }
  | { what: 'edge'; edge: ExactEdge }
  | { what: 'point'; at: ExactPoint };

/** One result. Angles in degrees, lengths in mm, areas in mm². */
export interface Figure {
  words: string;
  value: number;
  unit: 'mm' | 'mm²' | '°';
  /** Where a length runs. */
  from?: ExactPoint;
  to?: ExactPoint;
}

/** Directions nearer than this are parallel, radians: far below what any drawing tells apart. */
const PARALLEL = 1e-6;

/** The same where a placement puts it. @param placement row-major, rigid */
export function placed(item: Measurable, placement: Matrix4): Measurable {
  const move = (point: Vector3): Vector3 => transformPoint(placement, point);
  const turn = (direction: Vector3): Vector3 => turnDirection(placement, direction);
  if (item.what === 'point') return { what: 'point', at: move(item.at) };
  if (item.what === 'face') {
    const { face } = item;
    if (face.kind === 'free') return item;
    if (face.kind === 'plane')
      return { what: 'face', face: { ...face, at: move(face.at), normal: turn(face.normal) } };
    if (face.kind === 'sphere') return { what: 'face', face: { ...face, at: move(face.at) } };
    return { what: 'face', face: { ...face, at: move(face.at), axis: turn(face.axis) } };
  }
  const { edge } = item;
  if (edge.kind === 'free') return { what: 'edge', edge: { ...edge, points: edge.points.map(move) } };
  const ends = { from: move(edge.from), to: move(edge.to) };
  if (edge.kind === 'line') return { what: 'edge', edge: { ...edge, ...ends } };
  const round = { at: move(edge.at), axis: turn(edge.axis), middle: move(edge.middle) };
  return { what: 'edge', edge: { ...edge, ...ends, ...round } };
}

/** What something is called. */
export function nameOf(item: Measurable): string {
  if (item.what === 'point') return 'Point';
  if (item.what === 'edge')
    return { line: 'Straight edge', circle: isWhole(item.edge) ? 'Circle' : 'Arc', free: 'Curved edge' }[
      item.edge.kind
    ];
  return {
    plane: 'Plane',
    cylinder: 'Cylinder',
    cone: 'Cone',
    sphere: 'Sphere',
    torus: 'Torus',
    free: 'Free-form face',
  }[item.face.kind];
}

/** What can be measured on one thing. */
export function figuresOf(item: Measurable): Figure[] {
  if (item.what === 'point')
    return item.at.map((value, n) => ({ words: 'xyz'[n]!, value, unit: 'mm' as const }));
  if (item.what === 'edge') {
    const { edge } = item;
    const length: Figure = { words: 'Length', value: edge.length, unit: 'mm' };
    if (edge.kind === 'line') return [{ ...length, from: edge.from, to: edge.to }];
    if (edge.kind === 'circle') return [...roundness(edge.radius, edge.at, edge.middle), length];
    return [length];
  }
  const { face } = item;
  const area: Figure = { words: 'Area', value: face.area, unit: 'mm²' };
  if (face.kind === 'cylinder' || face.kind === 'sphere') return [...roundness(face.radius), area];
  if (face.kind === 'cone')
    return [{ words: 'Angle of the cone', value: degrees(2 * face.halfAngle), unit: '°' }, area];
  if (face.kind === 'torus')
    return [
      { words: 'Radius of the ring', value: face.radius, unit: 'mm' },
      { words: 'Radius across', value: face.tube, unit: 'mm' },
      area,
    ];
  return [area];
}

function roundness(radius: number, from?: ExactPoint, to?: ExactPoint): Figure[] {
  return [
    { words: 'Diameter', value: 2 * radius, unit: 'mm' },
    { words: 'Radius', value: radius, unit: 'mm', ...(from && to && { from, to }) },
  ];
}

/** What something is for measuring from it: a point, a line without or with ends, a plane. */
type Datum =
  | { kind: 'point'; at: Vector3; called: string }
  | { kind: 'line'; at: Vector3; along: Vector3; length: number | null; called: string }
  | { kind: 'plane'; at: Vector3; along: Vector3; called: string };

function datumOf(item: Measurable): Datum | null {
  if (item.what === 'point') return { kind: 'point', at: item.at, called: 'the point' };
  if (item.what === 'edge') {
    const { edge } = item;
    if (edge.kind === 'free') return null;
    if (edge.kind === 'circle') return { kind: 'point', at: edge.at, called: 'the centre' };
    const along = unit(subtract(edge.to, edge.from));
    return { kind: 'line', at: edge.from, along, length: edge.length, called: 'the edge' };
  }
  const { face } = item;
  if (face.kind === 'free') return null;
  if (face.kind === 'plane') return { kind: 'plane', at: face.at, along: face.normal, called: 'the plane' };
  if (face.kind === 'sphere') return { kind: 'point', at: face.at, called: 'the centre' };
  return { kind: 'line', at: face.at, along: face.axis, length: null, called: 'the axis' };
}

/** Directions of circles count, though distances are taken from their centres. */
function directionOf(item: Measurable): Vector3 | null {
  if (item.what === 'edge' && item.edge.kind === 'circle') return item.edge.axis;
  const datum = datumOf(item);
  return datum && datum.kind !== 'point' ? datum.along : null;
}

/**
 * What can be measured between two things: how far apart, and at which angle. Axes and planes go on beyond their faces; straight edges
 * end where they end. None for free-form faces and edges, which have neither centre nor direction.
 */
export function between(a: Measurable, b: Measurable): Figure[] {
  const [one, other] = [datumOf(a), datumOf(b)];
  if (!one || !other) return [];
  const figures: Figure[] = [];
  const run = shortest(one, other);
  if (run) {
    const [from, to] = run;
    const words =
      one.called === other.called ? `Between ${plural(one.called)}` : `From ${one.called} to ${other.called}`;
    figures.push({ words, value: distance(to, from), unit: 'mm', from, to });
    if (one.kind === 'point' && other.kind === 'point')
      subtract(to, from).forEach((value, n) => {
        figures.push({ words: `along ${'xyz'[n]}`, value: Math.abs(value), unit: 'mm' });
      });
  }
  const [along, way] = [directionOf(a), directionOf(b)];
  if (along && way) {
    const angle = angleBetween(along, way);
    // A plane is named by its normal: what lies along it is square to that.
    const isMixed = (one.kind === 'plane') !== (other.kind === 'plane');
    figures.push({ words: 'Angle', value: degrees(isMixed ? Math.PI / 2 - angle : angle), unit: '°' });
  }
  return figures;
}

/** The shortest way between two things; null where they cut each other at an angle, so that there is none. */
function shortest(a: Datum, b: Datum): [Vector3, Vector3] | null {
  const order = { point: 0, line: 1, plane: 2 };
  if (order[a.kind] > order[b.kind]) {
    const back = shortest(b, a);
    return back && [back[1], back[0]];
  }
  if (b.kind === 'point') return [a.at, b.at];
  if (a.kind === 'point') return [a.at, b.kind === 'line' ? footOn(b, a.at) : ontoPlane(b, a.at)];
  if (b.kind === 'plane') {
    const isAlong =
      a.kind === 'line'
        ? Math.abs(Math.PI / 2 - angleBetween(a.along, b.along)) < PARALLEL
        : angleBetween(a.along, b.along) < PARALLEL;
    if (!isAlong) return null;
    const from = a.kind === 'line' && a.length !== null ? offset(a.at, a.along, a.length / 2) : a.at;
    return [from, ontoPlane(b, from)];
  }
  if (a.kind === 'line' && b.kind === 'line') return betweenLines(a, b);
  return null;
}

type LineDatum = Datum & { kind: 'line' };

function betweenLines(a: LineDatum, b: LineDatum): [Vector3, Vector3] {
  const normal = cross(a.along, b.along);
  const candidates: [Vector3, Vector3][] = [];
  if (length(normal) < PARALLEL) {
    const from = a.length === null ? a.at : offset(a.at, a.along, a.length / 2);
    candidates.push([from, footOn(b, from)]);
  } else {
    const off = subtract(b.at, a.at);
    const square = dot(normal, normal);
    const onA = within(a, dot(cross(off, b.along), normal) / square);
    const onB = within(b, dot(cross(off, a.along), normal) / square);
    // Where one ends before it is nearest, the other's nearest point moves along.
    const [from, to] = [offset(a.at, a.along, onA), offset(b.at, b.along, onB)];
    candidates.push([from, footOn(b, from)], [footOn(a, to), to]);
  }
  for (const end of endsOf(a)) candidates.push([end, footOn(b, end)]);
  for (const end of endsOf(b)) candidates.push([footOn(a, end), end]);
  const lengths = candidates.map(([from, to]) => distance(to, from));
  return candidates[lengths.indexOf(Math.min(...lengths))]!;
}

function endsOf({ at, along, length }: LineDatum): Vector3[] {
  return length === null ? [] : [at, offset(at, along, length)];
}

function within({ length }: LineDatum, reach: number): number {
  return length === null ? reach : Math.min(length, Math.max(0, reach));
}

function footOn(line: LineDatum, point: Vector3): Vector3 {
  return offset(line.at, line.along, within(line, dot(subtract(point, line.at), line.along)));
}

function ontoPlane({ at, along }: Datum & { kind: 'plane' }, point: Vector3): Vector3 {
  return offset(point, along, -dot(subtract(point, at), along));
}

/** 0 to a right angle: directions have no side. */
function angleBetween(a: Vector3, b: Vector3): number {
  return Math.atan2(length(cross(a, b)), Math.abs(dot(a, b)));
}

function degrees(radians: number): number {
  return (radians * 180) / Math.PI;
}

function plural(called: string): string {
  return (
    {
      'the point': 'the points',
      'the centre': 'the centres',
      'the edge': 'the edges',
      'the axis': 'the axes',
    }[called] ?? 'the planes'
  );
}

/** Whether an edge is a whole circle: where it begins is the writer's choice. */
export function isWhole(edge: ExactEdge): boolean {
  return edge.kind === 'circle' && distance(edge.from, edge.to) < 1e-6;
}

/** How far a point lies from an edge, mm: exact for lines and circles, to its sampled points for other curves. */
export function distanceToEdge(edge: ExactEdge, point: ExactPoint): number {
  if (edge.kind === 'line') {
    const line: LineDatum = {
      kind: 'line',
      at: edge.from,
      along: unit(subtract(edge.to, edge.from)),
      length: edge.length,
      called: '',
    };
    return distance(point, footOn(line, point));
  }
  const way = pointsOf(edge);
  return Math.min(
    ...way
      .slice(1)
      .map((to, n) =>
        distanceToEdge({ kind: 'line', length: distance(to, way[n]!), from: way[n]!, to }, point),
      ),
  );
}

/** Points along an edge, near enough to each other to be drawn as straight lines. */
export function pointsOf(edge: ExactEdge): ExactPoint[] {
  if (edge.kind === 'line') return [edge.from, edge.to];
  if (edge.kind === 'free') return edge.points;
  const start = unit(subtract(edge.from, edge.at));
  const side = cross(edge.axis, start);
  // The arc may run either way about the axis: its middle tells which.
  const toMiddle = subtract(edge.middle, edge.at);
  const turned = Math.atan2(dot(toMiddle, side), dot(toMiddle, start));
  const sweep = edge.length / edge.radius;
  const sense = turned < -1e-9 && sweep < 2 * Math.PI - 1e-9 ? -1 : 1;
  const steps = Math.max(2, Math.ceil(sweep / 0.15));
  return Array.from({ length: steps + 1 }, (_, n) => {
    const angle = (sense * sweep * n) / steps;
    return offset(offset(edge.at, start, edge.radius * Math.cos(angle)), side, edge.radius * Math.sin(angle));
  });
}
