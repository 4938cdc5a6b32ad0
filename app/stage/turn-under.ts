import * as THREE from 'three';

/** Seen flatter than this, the plane of a turn is hardly hit. */
const FLAT = 0.15;

/** Where a ray comes to lie about an axis: from the axis outwards, in its plane. */
export function offAxis(ray: THREE.Ray, at: THREE.Vector3, axis: THREE.Vector3): THREE.Vector3 {
  const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(axis, at);
  const point = ray.intersectPlane(plane, new THREE.Vector3());
  // Looked at from the side, the pointer goes across: its place along the ray nearest to the axis serves.
  const isFlat = !point || Math.abs(ray.direction.dot(axis)) < FLAT;
  return (isFlat ? ray.closestPointToPoint(at, new THREE.Vector3()) : point).sub(at);
}

/** The turn of a direction about an axis, degrees from another one across it. @param axis, across of length 1 */
export function turnOf(off: THREE.Vector3, axis: THREE.Vector3, across: THREE.Vector3): number {
  const other = new THREE.Vector3().crossVectors(axis, across);
  return (Math.atan2(off.dot(other), off.dot(across)) * 180) / Math.PI;
}

/** Degrees, from -180 to 180. */
export function withinHalfTurn(degrees: number): number {
  return ((((degrees + 180) % 360) + 360) % 360) - 180;
}
