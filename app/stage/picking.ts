import * as THREE from 'three';
import type { Point } from '#core/geometry/shape/cut';
import type { InstancedBody } from './instanced-body';
import type { StageFacePick } from './types';

/** A face that a ray hit, with the body that it is of. */
export interface FaceHit {
  body: InstancedBody;
  /** Which of the placings that are shown. */
  instance: number;
  pick: StageFacePick;
}

/** The place of a pointer in the picture, each way from -1 to 1. */
export function pointerIn(canvas: HTMLCanvasElement, event: MouseEvent): THREE.Vector2 {
  const box = canvas.getBoundingClientRect();
  return new THREE.Vector2(
    ((event.clientX - box.left) / box.width) * 2 - 1,
    1 - ((event.clientY - box.top) / box.height) * 2,
  );
}

/** The nearest face under a ray, of bodies that can be picked and are not cut away. */
export function pickFace(
  bodies: readonly InstancedBody[],
  ray: THREE.Raycaster,
  isCutAway: (point: THREE.Vector3) => boolean,
): FaceHit | null {
  let best: (FaceHit & { distance: number }) | null = null;
  for (const body of bodies) {
    for (const hit of ray.intersectObject(body.faces, false)) {
      if ((best && hit.distance >= best.distance) || isCutAway(hit.point)) continue;
      const pick = body.pickOf(hit.instanceId!);
      if (!pick || !hit.face || hit.faceIndex == null) continue;
      const face = faceOfTriangle(body.geometry, hit.faceIndex);
      const turn = new THREE.Matrix4();
      body.faces.getMatrixAt(hit.instanceId!, turn);
      const normal = hit.face.normal.clone().transformDirection(turn);
      best = {
        distance: hit.distance,
        body,
        instance: hit.instanceId!,
        pick: {
          ...pick,
          point: hit.point.toArray() as unknown as Point,
          face,
          normal: normal.toArray() as unknown as Point,
          isFlat: isFlat(body.geometry, face),
        },
      };
    }
  }
  return best;
}

/** First index and number of indices of each face, as the glTF file gives them. */
export function faceGroupsOf(geometry: THREE.BufferGeometry): readonly number[] {
  return (geometry.userData.faceGroups as number[] | undefined) ?? [];
}

/** First index of a face, and how many; null where there is no such face. */
export function faceRange(
  geometry: THREE.BufferGeometry,
  face: number,
): [start: number, count: number] | null {
  const groups = faceGroupsOf(geometry);
  const [start, count] = [groups[face * 2], groups[face * 2 + 1]];
  return start === undefined || count === undefined ? null : [start, count];
}

function faceOfTriangle(geometry: THREE.BufferGeometry, triangle: number): number {
  const groups = faceGroupsOf(geometry);
  for (let n = 0; n < groups.length; n += 2)
    if (triangle * 3 >= groups[n]! && triangle * 3 < groups[n]! + groups[n + 1]!) return n / 2;
  return 0;
}

/** Whether all normals of a face are the same. */
function isFlat(geometry: THREE.BufferGeometry, face: number): boolean {
  const range = faceRange(geometry, face);
  const { index } = geometry;
  const normals = geometry.getAttribute('normal');
  if (!range || !index) return false;
  const [start, count] = range;
  const [first, other] = [new THREE.Vector3(), new THREE.Vector3()];
  first.fromBufferAttribute(normals, index.getX(start));
  for (let n = start; n < start + count; n++)
    if (other.fromBufferAttribute(normals, index.getX(n)).dot(first) < 1 - 1e-5) return false;
  return true;
}
