import { DoubleSide, Ray, Vector3 as ThreeVector } from 'three';
import type { Vector3 } from '#core/product/matrix';
import { offset, scale } from '#core/product/vector';
import { meshVolume } from './doubt';
import { treeOf } from './mesh-tree';
import type { SolidMesh } from './solid-mesh';
import { areaOf, centreOf, cornersOf, normalOf } from './triangles';

/** Directions in which a body is looked through from inside, and places to do so from. */
const DIRECTIONS = 64;
const PLACES = 15;
/** A way out is long that is so many times the shortest. */
const LONG = 3;
/** A rod has long ways out along itself only; a sheet has them all around its plane, a third of all. */
const MOST_LONG = 0.22;

const known = new WeakMap<Float32Array, number>();

/**
 * How many times as long as thick a body is, along its own middle: a rod, a wire, a cable, a coil of one. Of a rod, volume and area tell both its
 * thickness and its length, however it is bent; that it is one is told by looking out from inside: sheets and blocks have no slenderness.
 * @param mesh closed, mm
 * @returns 0 for what is no rod. Linear in triangles, once for each mesh
 */
export function slendernessOf(mesh: SolidMesh): number {
  const before = known.get(mesh.positions);
  if (before !== undefined) return before;
  const found = measured(mesh);
  known.set(mesh.positions, found);
  return found;
}

function measured(mesh: SolidMesh): number {
  const count = mesh.triangles.length / 3;
  let area = 0;
  for (let n = 0; n < count; n++) area += areaOf(cornersOf(mesh, n));
  const volume = Math.abs(meshVolume(mesh));
  if (area === 0 || volume === 0) return 0;
  const thickness = (4 * volume) / area;
  const ratio = volume / ((Math.PI / 4) * thickness ** 3);
  // What is no longer than that needs no look from inside.
  if (ratio < LONG) return 0;
  return looksLikeRod(mesh, area) ? ratio : 0;
}

/** Whether most places inside a body have long ways out in few directions only. */
function looksLikeRod(mesh: SolidMesh, area: number): boolean {
  const tree = treeOf(mesh);
  const way = (from: Vector3, direction: Vector3): number => {
    const ray = new Ray(new ThreeVector(...from), new ThreeVector(...direction));
    return tree.raycastFirst(ray, DoubleSide)?.distance ?? Infinity;
  };
  const shares: number[] = [];
  for (const { point, inwards } of placesOn(mesh, area)) {
    const through = way(offset(point, inwards, 1e-4), inwards);
    if (!Number.isFinite(through)) continue;
    const middle = offset(point, inwards, through / 2);
    const ways = DIRECTIONS_AROUND.map((direction) => way(middle, direction)).filter(Number.isFinite);
    const shortest = Math.min(...ways);
    shares.push(ways.filter((one) => one > LONG * shortest).length / Math.max(ways.length, 1));
  }
  shares.sort((a, b) => a - b);
  return shares.length > 0 && shares[Math.floor(shares.length / 2)]! < MOST_LONG;
}

/** Places spread over the surface by its area. */
function placesOn(mesh: SolidMesh, area: number): { point: Vector3; inwards: Vector3 }[] {
  const places: { point: Vector3; inwards: Vector3 }[] = [];
  let passed = 0;
  for (let n = 0; n < mesh.triangles.length / 3 && places.length < PLACES; n++) {
    const triangle = cornersOf(mesh, n);
    passed += areaOf(triangle);
    if (passed < ((places.length + 0.5) * area) / PLACES) continue;
    places.push({ point: centreOf(triangle), inwards: scale(normalOf(triangle), -1) });
  }
  return places;
}

/** Directions spread evenly over a ball. */
const DIRECTIONS_AROUND: readonly Vector3[] = Array.from({ length: DIRECTIONS }, (_, n) => {
  const z = 1 - (2 * n + 1) / DIRECTIONS;
  const turn = n * Math.PI * (3 - Math.sqrt(5));
  const out = Math.sqrt(1 - z * z);
  return [out * Math.cos(turn), out * Math.sin(turn), z];
});
