import type { Opening } from '#core/geometry/fill/openings';
import { areParallel, axisOf, originOf } from '#core/geometry/fill/surfaces';
import type { Face, Topology } from '#core/geometry/fill/topology';
import type { GeometryOfBody } from '#core/geometry/shape/gltf';
import type { RingToFill } from '#core/geometry/shape/occt-round-out';
import { trianglesByFace } from '#core/geometry/shape/solid-mesh';
import { areaOf, centreOf, normalOf, type Triangle } from '#core/geometry/shape/triangles';
import { groupBy } from '#core/multimap';
import { diagonalOf } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { across, distanceFromLine, dot, offset, subtract } from '#core/product/vector';

/** Teeth, a thread, a knurl or fins all around an axis, and the ring that they stand in. */
export interface Toothing extends RingToFill {
  /** Positions of its faces. */
  faces: number[];
}

/** Sectors of a turn. */
const SECTORS = 36;
/** Fewer faces are a polygon, as the head of a screw is; more go round in an unbroken row. */
const LEAST_FACES = 16;
/** Further apart no two teeth stand, radians: else it is a polygon, whose corners may be rounded or cut, as a nut's are. */
const WIDEST_GAP = (2 * Math.PI) / 9;
/** Alike sets of faces that stand alone around an axis. */
const LEAST_ALONE = 8;
/** A face that goes round so far, and is no surface of revolution, winds about the axis: a thread. */
const WINDS = 0.75;
/** A ring goes past what it would only touch by this part of its depth. */
const TOUCHES = 2e-3;
/** What lies further in than this part of the outer radius is more than its teeth. */
const LEAST_INNER = 0.4;
/** Axes that are looked at, the ones with the largest round faces. */
const MOST_AXES = 6;

/**
 * Finds what stands around an axis and would be a plain ring in an envelope. Linear in faces and triangles for each axis.
 * @param openings of the body
 * @param mesh of the body, whose faces stand in the order of the topology
 */
export function findToothing(
  topology: Topology,
  openings: readonly Pick<Opening, 'faces'>[],
  mesh: GeometryOfBody,
): Toothing[] {
  const tolerance = 1e-4 * diagonalOf(mesh.box);
  const trianglesOf = trianglesByFace(mesh);
  const found: Toothing[] = [];
  const taken = new Set<number>();
  for (const line of axesOf(topology.faces, trianglesOf, tolerance)) {
    const around = topology.faces.map((face, n) => aroundAxis(face, trianglesOf[n]!, line, tolerance));
    for (const { faces, isThread } of rowsAround(topology, openings, around, tolerance)) {
      if (faces.some((face) => taken.has(face))) continue;
      const ring = ringOf(faces, around, trianglesOf, line);
      if (!ring || ring.inner < LEAST_INNER * ring.outer || ring.outer - ring.inner < 5 * tolerance) continue;
      if (!isThread && widestGap(ring, trianglesOf) > WIDEST_GAP) continue;
      for (const face of faces) taken.add(face);
      found.push({ ...exactly(ring, topology.faces, tolerance), isThread });
    }
  }
  return found;
}

type Ring = Omit<Toothing, 'isThread'>;

/** The ring with the radii of cylinders and the places of flat faces that it ends at: those of a mesh are off by a hair. */
function exactly(ring: Ring, faces: readonly Face[], tolerance: number): Ring {
  const { at, axis } = ring;
  const radii: number[] = [];
  const places: number[] = [];
  for (const { surface } of faces)
    if (surface.kind === 'plane') {
      if (areParallel(surface.normal, axis)) places.push(dot(subtract(surface.at, at), axis));
    } else if (surface.kind === 'cylinder' && areParallel(axisOf(surface.placement), axis))
      if (distanceFromLine(originOf(surface.placement), at, axis) < tolerance) radii.push(surface.radius);
  const exact = (value: number, known: readonly number[]) =>
    known.find((one) => Math.abs(one - value) < tolerance) ?? value;
  const inner = exact(ring.inner, radii);
  // A bore that only touches flat tips is no clean surface to the kernel.
  const touches = ring.isInternal && inner === ring.inner ? TOUCHES * (ring.outer - inner) : 0;
  return {
    ...ring,
    inner: inner - touches,
    outer: exact(ring.outer, radii),
    from: exact(ring.from, places),
    to: exact(ring.to, places),
  };
}

interface Line {
  at: Vector3;
  axis: Vector3;
}

/** Lines that round faces of a body have as their axes, the ones with most of such faces first. */
function axesOf(faces: readonly Face[], trianglesOf: readonly Triangle[][], tolerance: number): Line[] {
  const lines: (Line & { area: number })[] = [];
  for (const [n, { surface }] of faces.entries()) {
    if (!('placement' in surface) || surface.kind === 'sphere') continue;
    const [at, axis] = [originOf(surface.placement), axisOf(surface.placement)];
    const area = trianglesOf[n]!.reduce((sum, triangle) => sum + areaOf(triangle), 0);
    const known = lines.find(
      (line) => areParallel(line.axis, axis) && distanceFromLine(at, line.at, line.axis) < tolerance,
    );
    if (known) known.area += area;
    else lines.push({ at, axis, area });
  }
  return lines.sort((a, b) => b.area - a.area).slice(0, MOST_AXES);
}

/** Where a face lies around an axis. */
interface Around {
  /** A surface of revolution about the axis that goes all the way round, or a flat end. */
  isRevolved: boolean;
  inner: number;
  outer: number;
  from: number;
  to: number;
  sectors: Set<number>;
}

function aroundAxis(
  { surface }: Face,
  triangles: readonly Triangle[],
  { at, axis }: Line,
  tolerance: number,
): Around {
  const [u, v] = across(axis);
  const around: Around = {
    isRevolved: false,
    inner: Infinity,
    outer: 0,
    from: Infinity,
    to: -Infinity,
    sectors: new Set(),
  };
  const visit = (point: Vector3) => {
    const off = subtract(point, at);
    const [x, y, z] = [dot(off, u), dot(off, v), dot(off, axis)];
    const radius = Math.hypot(x, y);
    around.inner = Math.min(around.inner, radius);
    around.outer = Math.max(around.outer, radius);
    around.from = Math.min(around.from, z);
    around.to = Math.max(around.to, z);
    const turn = Math.atan2(y, x) / (2 * Math.PI) + 0.5;
    around.sectors.add(Math.floor(turn * SECTORS) % SECTORS);
  };
  for (const triangle of triangles) {
    for (const corner of triangle) visit(corner);
    visit(centreOf(triangle));
    // A flat tip of teeth that stand in comes nearest to the axis between its corners.
    if (surface.kind === 'plane')
      for (const n of [0, 1, 2] as const) {
        const [a, b] = [subtract(triangle[n], at), subtract(triangle[(n + 1) % 3]!, at)];
        const past = fromOrigin([dot(a, u), dot(a, v)], [dot(b, u), dot(b, v)]);
        around.inner = Math.min(around.inner, past);
      }
  }
  const turns = around.sectors.size / SECTORS;
  if (surface.kind === 'plane') around.isRevolved = areParallel(surface.normal, axis);
  else if (surface.kind !== 'other') {
    const isCoaxial =
      distanceFromLine(originOf(surface.placement), at, axis) < tolerance &&
      (surface.kind === 'sphere' || areParallel(axisOf(surface.placement), axis));
    // What is left of a cylinder between teeth or on them belongs to them.
    around.isRevolved = isCoaxial && turns > 0.5;
  }
  return around;
}

/** How far a stretch in a plane passes from the origin. */
function fromOrigin([ax, ay]: readonly [number, number], [bx, by]: readonly [number, number]): number {
  const [dx, dy] = [bx - ax, by - ay];
  const long = dx * dx + dy * dy;
  const part = long === 0 ? 0 : Math.min(1, Math.max(0, -(ax * dx + ay * dy) / long));
  return Math.hypot(ax + part * dx, ay + part * dy);
}

/** Sets of faces that go all around an axis: in an unbroken row, winding, or alike ones that stand alone. */
function rowsAround(
  topology: Topology,
  openings: readonly Pick<Opening, 'faces'>[],
  around: readonly Around[],
  tolerance: number,
): { faces: number[]; isThread: boolean }[] {
  const rows: { faces: number[]; isThread: boolean }[] = [];
  const alone: number[][] = [];
  const seen = new Set<number>();
  for (const start of around.keys()) {
    if (seen.has(start) || around[start]!.isRevolved) continue;
    const row = [start];
    seen.add(start);
    for (const face of row)
      for (const { edges } of topology.faces[face]!.loops)
        for (const edge of edges)
          for (const { face: other } of topology.uses.get(edge)!)
            if (!seen.has(other) && !around[other]!.isRevolved) {
              seen.add(other);
              row.push(other);
            }
    const sectors = new Set(row.flatMap((face) => [...around[face]!.sectors]));
    const winds = row.some(
      (face) =>
        topology.faces[face]!.surface.kind === 'other' && around[face]!.sectors.size >= WINDS * SECTORS,
    );
    if (sectors.size === SECTORS && (winds || row.length >= LEAST_FACES))
      rows.push({ faces: row, isThread: winds });
    else if (sectors.size < SECTORS / 3 && !isOpening(row, openings)) alone.push(row);
  }
  const step = (value: number) => Math.round(value / (20 * tolerance));
  const alike = groupBy(alone, (row) => {
    const { inner, outer, from, to } = extentOf(row, around);
    return `${row.length} ${[inner, outer, from, to].map(step).join(' ')}`;
  });
  for (const group of alike.values())
    if (group.length >= LEAST_ALONE && areSpread(group, around))
      rows.push({ faces: group.flat(), isThread: false });
  return rows;
}

/** Whether some faces are a hole or a pocket by themselves: a circle of bolts is no row of teeth. */
function isOpening(row: readonly number[], openings: readonly Pick<Opening, 'faces'>[]): boolean {
  return openings.some(({ faces }) => faces.length <= row.length + 4 && faces.includes(row[0]!));
}

/** Whether alike sets stand around the axis without a large gap, and none at the axis itself. */
function areSpread(group: readonly number[][], around: readonly Around[]): boolean {
  const sectors = new Set(group.flatMap((row) => row.flatMap((face) => [...around[face]!.sectors])));
  const gap = SECTORS / group.length + 1;
  let empty = 0;
  for (let n = 0; n < 2 * SECTORS; n++) {
    empty = sectors.has(n % SECTORS) ? 0 : empty + 1;
    if (empty > gap) return false;
  }
  return true;
}

function extentOf(faces: readonly number[], around: readonly Around[]) {
  const own = faces.map((face) => around[face]!);
  return {
    inner: Math.min(...own.map(({ inner }) => inner)),
    outer: Math.max(...own.map(({ outer }) => outer)),
    from: Math.min(...own.map(({ from }) => from)),
    to: Math.max(...own.map(({ to }) => to)),
  };
}

/** The widest gap between places around the axis where a row comes furthest out, or in, radians. */
function widestGap(
  { faces, at, axis, inner, outer, isInternal }: Ring,
  trianglesOf: readonly Triangle[][],
): number {
  const [u, v] = across(axis);
  const [deep, tip] = isInternal ? [outer, inner] : [inner, outer];
  const turns: number[] = [];
  for (const face of faces)
    for (const triangle of trianglesOf[face]!)
      for (const corner of triangle) {
        const off = subtract(corner, at);
        const [x, y] = [dot(off, u), dot(off, v)];
        if (Math.abs(Math.hypot(x, y) - tip) < 0.1 * Math.abs(tip - deep)) turns.push(Math.atan2(y, x));
      }
  turns.sort((a, b) => a - b);
  return turns.reduce(
    (widest, turn, n) => Math.max(widest, turn - (turns[n - 1] ?? turns.at(-1)! - 2 * Math.PI)),
    0,
  );
}

/** The ring that some faces lie in; undefined where they are neither teeth that stand out nor such that stand in, as holes are. */
function ringOf(
  faces: readonly number[],
  around: readonly Around[],
  trianglesOf: readonly Triangle[][],
  { at, axis }: Line,
): Ring | undefined {
  const extent = extentOf(faces, around);
  const { inner, outer, from, to } = extent;
  // Tips and roots tell by where they look; flanks look along the row.
  let outwards = 0;
  let all = 0;
  for (const face of faces)
    for (const triangle of trianglesOf[face]!) {
      const centre = centreOf(triangle);
      const off = subtract(centre, offset(at, axis, dot(subtract(centre, at), axis)));
      const radius = Math.hypot(...off);
      const area = areaOf(triangle);
      all += area;
      if (radius > 0) outwards += (area * dot(normalOf(triangle), off)) / radius;
    }
  if (Math.abs(outwards) < 0.02 * all) return undefined;
  return { faces: [...faces], at, axis, inner, outer, from, to, isInternal: outwards < 0 };
}
