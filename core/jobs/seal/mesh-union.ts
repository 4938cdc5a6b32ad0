import type { Manifold, ManifoldToplevel } from 'manifold-3d';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { Pin } from '#core/geometry/shape/unite';
import { type Box, isBoxIn } from '#core/product/box';
import type { Matrix4, Vector3 } from '#core/product/matrix';
import { isWithin, type Outline } from '#core/product/outline';
import { across } from '#core/product/vector';
import { grownMesh } from './grown-mesh';

let started: Promise<ManifoldToplevel> | undefined;

function manifoldLibrary(): Promise<ManifoldToplevel> {
  started ??= import('manifold-3d').then(async ({ default: start }) => {
    const library = await start();
    library.setup();
    return library;
  });
  return started;
}

/** What came of uniting meshes. */
export interface MeshUnion {
  /** Closed solids without hollows, the largest first. */
  solids: SolidMesh[];
  /** Hollows that were filled. */
  hollows: number;
  /** Positions of meshes that are not closed, and are left out. */
  refused: number[];
}

/**
 * Unites closed meshes. Hollows that nothing leads to are filled: of what hangs together only the outer shell stays.
 * @param grown how far each of them is grown before, mm, so that what touches overlaps
 * @param guests boxes of what stands in hollows that stay, mm
 */
export async function uniteMeshes(
  meshes: readonly SolidMesh[],
  pins: readonly Pin[],
  grown = 0,
  guests: readonly Box[] = [],
): Promise<MeshUnion> {
  const library = await manifoldLibrary();
  const { Manifold: Solid } = library;
  const solids: Manifold[] = [];
  const refused: number[] = [];
  for (const [n, mesh] of meshes.entries()) {
    const made = solidOf(library, mesh);
    if (made) solids.push(grown > 0 ? grownSolid(library, made, grown) : made);
    else refused.push(n);
  }
  for (const pin of pins) solids.push(pinOf(library, pin));
  const united = Solid.union(solids);
  const pieces = united.decompose().map((part) => ({ part, volume: part.volume() }));
  const parts = pieces.filter(({ volume }) => volume > 0).sort((a, b) => b.volume - a.volume);
  const kept = pieces.flatMap(({ part, volume }) => {
    const { min, max } = part.boundingBox();
    const isKept = volume <= 0 && guests.some((guest) => isBoxIn(guest, [...min, ...max] as Box));
    const hollow = isKept ? solidOf(library, turnedOut(meshOf(part))) : null;
    return hollow ? [hollow] : [];
  });
  const hollows = pieces.length - parts.length - kept.length;
  // What lies inside of another, in a hollow of it that is filled, is part of it now.
  const filled = parts.length > 1 ? Solid.union(parts.map(({ part }) => part)) : parts[0]?.part;
  const result = (filled?.decompose() ?? [])
    .filter((part) => part.volume() > 0)
    .sort((a, b) => b.volume() - a.volume())
    .map((part) => meshOf(kept.reduce((solid, hollow) => solid.subtract(hollow), part)));
  for (const solid of [...solids, united, ...parts.map(({ part }) => part), ...kept]) solid.delete();
  return { solids: result, hollows, refused };
}

/** Two solids that have space in common. */
export interface Common {
  between: [one: number, other: number];
  /** Which of the poses. */
  pose: number;
  /** mm³ */
  volume: number;
}

/**
 * Which of some solids have space in common, in which pose most of it. What is thinner than a given thickness is the rounding of curved
 * surfaces that lie on each other.
 * @param poses of each solid, row-major, for each pose
 * @param thin mm
 * @returns of each pair at most one
 */
export async function commonOf(
  meshes: readonly SolidMesh[],
  poses: readonly (readonly Matrix4[])[],
  thin: number,
): Promise<Common[]> {
  const library = await manifoldLibrary();
  const solids = meshes.map((mesh) => solidOf(library, mesh));
  const worst = new Map<string, Common>();
  for (const [pose, places] of poses.entries()) {
    const placed = solids.map((solid, n) => solid?.transform(columnsOf(places[n]!)));
    for (let one = 0; one < placed.length; one++)
      for (let other = one + 1; other < placed.length; other++) {
        const [a, b] = [placed[one], placed[other]];
        if (!a || !b || !boxesMeet(a.boundingBox(), b.boundingBox())) continue;
        const common = a.intersect(b);
        const [volume, area] = [common.volume(), common.surfaceArea()];
        common.delete();
        const key = `${one} ${other}`;
        if (volume <= (thin * area) / 2 || volume <= (worst.get(key)?.volume ?? 0)) continue;
        worst.set(key, { between: [one, other], pose, volume });
      }
    for (const solid of placed) solid?.delete();
  }
  for (const solid of solids) solid?.delete();
  return [...worst.values()];
}

type Bounds = ReturnType<Manifold['boundingBox']>;

function boxesMeet(a: Bounds, b: Bounds): boolean {
  return [0, 1, 2].every((n) => a.min[n]! <= b.max[n]! && b.min[n]! <= a.max[n]!);
}

/** A row-major matrix as the library takes it: column by column. */
function columnsOf(matrix: Matrix4): Parameters<Manifold['transform']>[0] {
  const columns = [0, 1, 2, 3].flatMap((column) => [0, 1, 2, 3].map((row) => matrix[4 * row + column]!));
  return columns as Parameters<Manifold['transform']>[0];
}

/** The same surface seen from its other side: of a hollow what fills it. */
function turnedOut({ positions, triangles }: SolidMesh): SolidMesh {
  return { positions, triangles: Uint32Array.from(triangles).reverse() };
}

function solidOf(
  { Manifold: Solid, Mesh }: ManifoldToplevel,
  { positions, triangles }: SolidMesh,
): Manifold | null {
  try {
    const mesh = new Mesh({ numProp: 3, vertProperties: positions, triVerts: triangles });
    // The faces of a body have vertices of their own; where they meet they are one.
    mesh.merge();
    const solid = new Solid(mesh);
    return solid.status() === 'NoError' && solid.volume() > 0 ? solid : null;
  } catch {
    return null;
  }
}

/** A solid grown a little; as it is where that does not go well. */
function grownSolid(library: ManifoldToplevel, solid: Manifold, by: number): Manifold {
  const grown = solidOf(library, grownMesh(meshOf(solid), by));
  if (!grown) return solid;
  solid.delete();
  return grown;
}

function pinOf({ Manifold: Solid }: ManifoldToplevel, { at, direction, length, radius }: Pin): Manifold {
  const [x, y] = across(direction);
  const matrix = [...column(x), ...column(y), ...column(direction), at[0], at[1], at[2], 1];
  return Solid.cylinder(length, radius, radius, 24).transform(matrix as Parameters<Manifold['transform']>[0]);
}

function column([x, y, z]: Vector3): [number, number, number, number] {
  return [x, y, z, 0];
}

function meshOf(solid: Manifold): SolidMesh {
  const { vertProperties, numProp, triVerts } = solid.getMesh();
  const positions = new Float32Array((vertProperties.length / numProp) * 3);
  for (let n = 0; n < positions.length / 3; n++)
    for (let axis = 0; axis < 3; axis++) positions[3 * n + axis] = vertProperties[n * numProp + axis]!;
  return { positions, triangles: triVerts.slice() };
}

/** Points across a section that are looked at, each way. */
const ACROSS = 160;

/**
 * How much is filled of what outlines hold and nobody reaches, in sections through a point, across x, y and z: 1 where there is nothing hidden but material.
 * @param isOutside whether a ball from outside comes to a point
 */
export async function sectionsOf(
  mesh: SolidMesh,
  at: Vector3,
  isOutside: (point: Vector3) => boolean,
): Promise<[number, number, number]> {
  const library = await manifoldLibrary();
  const solid = solidOf(library, mesh);
  if (!solid) return [0, 0, 0];
  // Turned so that the axis points up: (x, y, z) becomes (y, z, x) and (z, x, y).
  const filled = (axis: 0 | 1 | 2): number => {
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3] as [0 | 1 | 2, 0 | 1 | 2];
    const columns = [0, 1, 2].map((from) => [u, v, axis].map((to) => (to === from ? 1 : 0)));
    const turn = [...columns.flatMap((column) => [...column, 0]), 0, 0, 0, 1];
    const turned = solid.transform(turn as Parameters<Manifold['transform']>[0]);
    const outlines = turned.slice(at[axis]).toPolygons();
    turned.delete();
    const outer = outlines.filter((outline) => areaOf(outline) > 0);
    const [low, high] = rangeOf(outlines);
    let [material, hidden] = [0, 0];
    for (let i = 0; i < ACROSS; i++)
      for (let k = 0; k < ACROSS; k++) {
        const a = low[0] + ((high[0] - low[0]) * (i + 0.5)) / ACROSS;
        const b = low[1] + ((high[1] - low[1]) * (k + 0.5)) / ACROSS;
        if (isWithin(outlines, a, b)) {
          material++;
          continue;
        }
        // What lies beside all outlines is outside, however narrow.
        if (!outer.some((outline) => isWithin([outline], a, b))) continue;
        const point: [number, number, number] = [0, 0, 0];
        [point[u], point[v], point[axis]] = [a, b, at[axis]];
        if (!isOutside(point)) hidden++;
      }
    return material === 0 ? 1 : material / (material + hidden);
  };
  const sections: [number, number, number] = [filled(0), filled(1), filled(2)];
  solid.delete();
  return sections;
}

function areaOf(outline: Outline): number {
  let area = 0;
  for (let n = 0, last = outline.length - 1; n < outline.length; last = n++)
    area += (outline[last]![0]! * outline[n]![1]! - outline[n]![0]! * outline[last]![1]!) / 2;
  return area;
}

function rangeOf(outlines: readonly Outline[]): [low: [number, number], high: [number, number]] {
  const points = outlines.flat();
  const along = (n: number, best: (...values: number[]) => number) =>
    points.reduce((value, point) => best(value, point[n]!), best());
  return [
    [along(0, Math.min), along(1, Math.min)],
    [along(0, Math.max), along(1, Math.max)],
  ];
}
