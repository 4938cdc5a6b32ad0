import { DoubleSide, Ray, Vector3 as ThreeVector } from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import { DisjointSets } from '#core/disjoint-sets';
import { treeOf } from '#core/geometry/shape/mesh-tree';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import { areaOf, cornersOf, normalOf } from '#core/geometry/shape/triangles';
import type { Pin } from '#core/geometry/shape/unite';
import { boxOfPositions } from '#core/product/box';
import type { Vector3 } from '#core/product/matrix';
import { add, distance, dot, offset, scale, subtract, unit } from '#core/product/vector';

/** A pin, and the solids that it joins, by position. */
export interface Joining extends Pin {
  between: [number, number];
}

/** Pins are no thicker than this radius, and no thinner, mm. */
const [THICKEST, THINNEST] = [4, 0.15];
/** Parts of the depth and of the thickness that a pin may take up. */
const OF_DEPTH = 0.4;
const OF_THICKNESS = 0.3;
const INTO = 0.6;
/** How straight a pin stands on the surface that it starts from. */
const STRAIGHT = 0.8;
/** Points that are tried on a solid. */
const MOST_POINTS = 6000;
/** Of those near enough, so many are looked at closely. */
const MOST_CLOSE = 400;

/**
 * Pins that join solids which come near each other and do not touch: hidden in the material of both, as deep as there is, one for each step of
 * a spanning tree over them.
 * @param gap how near they must come, mm
 * @param outside points that are reached from outside: a pin stays away from them
 */
export function findPins(solids: readonly SolidMesh[], gap: number, outside: readonly Vector3[]): Joining[] {
  const trees = solids.map(treeOf);
  const boxes = solids.map(({ positions }) => boxOfPositions(positions));
  const found: Joining[] = [];
  for (let a = 0; a < solids.length; a++)
    for (let b = a + 1; b < solids.length; b++) {
      if (boxesApart(boxes[a]!, boxes[b]!) > gap) continue;
      const pin =
        pinBetween(solids, trees, [a, b], gap, outside) ?? pinBetween(solids, trees, [b, a], gap, outside);
      if (pin) found.push(pin);
    }
  // The thickest first: a tree of them joins whatever can be joined.
  const sets = new DisjointSets(solids.length);
  return found.sort((one, other) => other.radius - one.radius).filter(({ between }) => sets.join(...between));
}

function pinBetween(
  solids: readonly SolidMesh[],
  trees: readonly MeshBVH[],
  between: [number, number],
  gap: number,
  outside: readonly Vector3[],
): Joining | undefined {
  const [from, to] = between;
  const near: { at: Vector3; normal: Vector3; other: Vector3; depth: number }[] = [];
  for (const { at, normal } of pointsOver(solids[from]!)) {
    const hit = trees[to]!.closestPointToPoint(new ThreeVector(...at), undefined, 0, gap);
    if (!hit) continue;
    const other: Vector3 = [hit.point.x, hit.point.y, hit.point.z];
    const off = subtract(other, at);
    if (hit.distance > 1e-6 && dot(unit(off), normal) < STRAIGHT) continue;
    near.push({ at, normal, other, depth: 0 });
  }
  const step = Math.max(1, Math.ceil(near.length / MOST_CLOSE));
  let best: Joining | undefined;
  for (let n = 0; n < near.length; n += step) {
    const { at, normal, other } = near[n]!;
    const depth = outside.reduce((least, point) => Math.min(least, distance(point, at)), Infinity);
    const here = thickness(trees[from]!, at, scale(normal, -1));
    const there = thickness(trees[to]!, other, normal);
    const radius = Math.min(THICKEST, OF_DEPTH * depth, OF_THICKNESS * here, OF_THICKNESS * there);
    if (radius < THINNEST || (best && radius <= best.radius)) continue;
    const start = offset(at, normal, -INTO * Math.min(here, 8 * radius));
    const end = offset(other, normal, INTO * Math.min(there, 8 * radius));
    best = {
      at: start,
      direction: unit(subtract(end, start)),
      length: distance(end, start),
      radius,
      between,
    };
  }
  return best;
}

/** How far it is through the material from a point of its surface; 0 where there is none. */
function thickness(tree: MeshBVH, at: Vector3, inward: Vector3): number {
  const from = offset(at, inward, 1e-4);
  const hit = tree.raycastFirst(new Ray(new ThreeVector(...from), new ThreeVector(...inward)), DoubleSide);
  return hit ? hit.distance : 0;
}

/** Points on a surface, spread by area, each with its outward normal. */
function* pointsOver(mesh: SolidMesh): Iterable<{ at: Vector3; normal: Vector3 }> {
  const areas = Array.from({ length: mesh.triangles.length / 3 }, (_, n) => areaOf(cornersOf(mesh, n)));
  const each = areas.reduce((sum, area) => sum + area, 0) / MOST_POINTS;
  let owed = 0;
  for (const [n, area] of areas.entries()) {
    owed += area;
    const count = Math.floor(owed / each);
    if (count === 0) continue;
    owed -= count * each;
    const triangle = cornersOf(mesh, n);
    const [a, b, c] = triangle;
    const normal = normalOf(triangle);
    const rows = Math.ceil(Math.sqrt(count));
    for (let i = 0; i < rows; i++)
      for (let k = 0; k < rows - i; k++) {
        const [u, v] = [(i + 1 / 3) / rows, (k + 1 / 3) / rows];
        const at = add(add(scale(a, 1 - u - v), scale(b, u)), scale(c, v));
        yield { at, normal };
      }
  }
}

function boxesApart(a: readonly number[], b: readonly number[]): number {
  const offs = [0, 1, 2].map((axis) => Math.max(0, a[axis]! - b[axis + 3]!, b[axis]! - a[axis + 3]!));
  return Math.hypot(...offs);
}
