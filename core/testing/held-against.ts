import { DoubleSide, Ray, Vector3 as ThreeVector } from 'three';
import { Part21File } from '#core/files/part21/file';
import { numberOf } from '#core/files/part21/parameters';
import { meshBodies } from '#core/geometry/bodies/measure';
import { directionsAround } from '#core/geometry/reach/seen';
import { FilledSpace } from '#core/geometry/reduce/filled-space';
import { filledBodies, lostFaces } from '#core/geometry/reduce/left';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import type { Kernel } from '#core/geometry/shape/kernel';
import { treeOf } from '#core/geometry/shape/mesh-tree';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { meshOfBody, wholeStructure, withMeshes } from '#core/geometry/whole/whole';
import { boxOfPositions, diagonalOf, middleOf } from '#core/product/box';
import { invertRigid, type Matrix4, transformPoint, turnDirection, type Vector3 } from '#core/product/matrix';
import { add, cross, scale, unit } from '#core/product/vector';
import { scanContent } from '#core/project/scan/content';
import { resolveProject } from '#core/project/scan/project';

/** What rays from outside met of an original and of what was made from it. */
export interface RaysMet {
  rays: number;
  /** Met the outside of the original where nothing was said to change. */
  compared: number;
  /** Of those, met the result elsewhere, further off than meshes are. */
  wrong: { from: Vector3; direction: Vector3; original: number; result: number | null }[];
}

/** A body as rays meet it. */
interface Target {
  tree: ReturnType<typeof treeOf>;
  back: Matrix4;
  off: number;
  faceOf(triangle: number): number;
}

function targetOf(
  mesh: Parameters<typeof finestMesh>[0] & { faceGroups: Uint32Array },
  placement: Matrix4,
): Target {
  const { positions, triangles } = finestMesh(mesh);
  const tree = treeOf({ positions, triangles });
  // The tree sorts triangles: their faces go by their first corner, which is the face's own.
  const faces = new Map<number, number>();
  for (let face = 0; face < mesh.faceGroups.length / 2; face++)
    for (
      let n = mesh.faceGroups[2 * face]!;
      n < mesh.faceGroups[2 * face]! + mesh.faceGroups[2 * face + 1]!;
      n++
    )
      faces.set(triangles[n]!, face);
  const sorted = tree.geometry.index!;
  return {
    tree,
    back: invertRigid(placement),
    off: 0.003 * diagonalOf(boxOfPositions(positions)),
    faceOf: (triangle) => faces.get(sorted.getX(3 * triangle)) ?? -1,
  };
}

function firstHit(targets: readonly Target[], from: Vector3, direction: Vector3) {
  let best: { distance: number; target: number; face: number; off: number } | null = null;
  for (const [n, { tree, back, off, faceOf }] of targets.entries()) {
    const ray = new Ray(
      new ThreeVector(...transformPoint(back, from)),
      new ThreeVector(...turnDirection(back, direction)),
    );
    const hit = tree.raycastFirst(ray, DoubleSide);
    if (hit && hit.distance < (best?.distance ?? Infinity))
      best = { distance: hit.distance, target: n, face: faceOf(hit.faceIndex!), off };
  }
  return best;
}

function isNear(targets: readonly Target[], point: Vector3, within: number): boolean {
  return targets.some(({ tree, back, off }) => {
    const own = new ThreeVector(...transformPoint(back, point));
    return tree.closestPointToPoint(own, undefined, 0, within + off) !== null;
  });
}

/**
 * Shoots rays from outside at an original and at the STEP file that was made from it: wherever nothing was said to change they must meet both
 * at one place.
 * @param rays how many, in directions all around
 */
export async function raysAgainst(
  kernel: Kernel,
  reduced: ReducedWhole,
  result: Uint8Array,
  rays: number,
): Promise<RaysMet> {
  const { whole, decision, remade } = reduced;
  const originals = whole.bodies.map(({ placement }, n) => targetOf(meshOfBody(whole, n)!, placement));
  const scan = scanContent('r.stp', result);
  const project = resolveProject([{ path: 'r.stp', bytes: result.length, sha256: '', scan }]);
  const meshes = await meshBodies(kernel, result);
  const made = await withMeshes(wholeStructure(project, 'r.stp'), async () => meshes);
  const results = made.bodies.map(({ placement }, n) => targetOf(meshOfBody(made, n)!, placement));
  const filledOf = filledBodies(reduced);
  const space = new FilledSpace(reduced);
  const middle = middleOf(whole.box);
  const size = diagonalOf(whole.box);
  const met: RaysMet = { rays, compared: 0, wrong: [] };
  for (const [n, towards] of directionsAround(rays).entries()) {
    const side = unit(cross(towards, [0.31, 0.52, 0.79]));
    const up = cross(towards, side);
    const [a, b] = [0.45 * size * Math.sin(12.9898 * n), 0.45 * size * Math.sin(78.233 * n)];
    const from = add(add(add(middle, scale(towards, size)), scale(side, a)), scale(up, b));
    const direction = scale(towards, -1);
    const before = firstHit(originals, from, direction);
    if (!before) continue;
    const at = add(from, scale(direction, before.distance));
    const isChanged =
      decision.bodies[before.target] !== null ||
      lostFaces(filledOf(before.target))(before.face) ||
      space.holds(at);
    if (isChanged) continue;
    met.compared++;
    const after = firstHit(results, from, direction);
    // At a grazing ray a small step sideways is a long way along it: what counts is how near the one comes to the other.
    const tolerance = before.off + (remade.size > 0 ? 1e-3 : 0);
    const isThere = isNear(results, at, tolerance);
    const isNew =
      after !== null &&
      !isNear(originals, add(from, scale(direction, after.distance)), tolerance + after.off);
    const isInFront = isNew && after.distance < before.distance;
    if (!isThere || isInFront)
      met.wrong.push({ from, direction, original: before.distance, result: after?.distance ?? null });
  }
  return met;
}

/** Radii of round faces of an original that nobody reaches, and that no face which is reached has; of its millimetres. */
export function innerRadii({ whole, reach, reachLeft, openings, filled }: ReducedWhole): Set<number> {
  const [inner, outer] = [new Set<number>(), new Set<number>()];
  for (const [n, { shape }] of whole.bodies.entries()) {
    const { file, body } = whole.shapes[shape]!;
    const known = openings.get(file)?.bodies.get(body.id);
    const isLost = lostFaces(filled.get(file)?.bodies.get(body.id));
    for (const [face, { surface }] of known?.topology.faces.entries() ?? []) {
      if (surface.kind !== 'cylinder') continue;
      const isOutside = reach.reached.faces[n]![face] === 1 && reachLeft.bodies[n]!.class === 'reached';
      (isOutside && !isLost(face) ? outer : inner).add(Number(surface.radius.toPrecision(6)));
    }
  }
  return new Set([...inner].filter((radius) => !outer.has(radius)));
}

/** Radii that a STEP file tells, in its own unit, rounded. */
export function radiiIn(step: Uint8Array): Set<number> {
  const file = Part21File.read(step);
  const radii = new Set<number>();
  for (const [keyword, places] of [
    ['CYLINDRICAL_SURFACE', [2]],
    ['CIRCLE', [2]],
    ['SPHERICAL_SURFACE', [2]],
    ['TOROIDAL_SURFACE', [2, 3]],
  ] as const)
    for (const id of file.idsOfType(keyword))
      for (const place of places) {
        const radius = numberOf(file.parameters(id)?.[place]);
        if (radius !== undefined) radii.add(Number(radius.toPrecision(6)));
      }
  return radii;
}
