import * as THREE from 'three';
import type { Point } from '#core/geometry/shape/cut';

/** Points of so many pixels, seen through everything. */
export function drawnPoints(at: readonly Point[], size: number, color: string): THREE.Points {
  const geometry = new THREE.BufferGeometry().setFromPoints(at.map((point) => new THREE.Vector3(...point)));
  const material = new THREE.PointsMaterial({
    size,
    color,
    sizeAttenuation: false,
    depthTest: false,
    transparent: true,
    toneMapped: false,
  });
  const result = new THREE.Points(geometry, material);
  result.renderOrder = 9;
  result.frustumCulled = false;
  return result;
}

/** A line through some points, seen through everything. */
export function drawnLine(vertices: readonly THREE.Vector3[], color: string, opacity = 1): THREE.Line {
  const result = new THREE.Line(
    new THREE.BufferGeometry().setFromPoints([...vertices]),
    new THREE.LineBasicMaterial({ color, depthTest: false, transparent: true, opacity, toneMapped: false }),
  );
  result.renderOrder = 8;
  result.frustumCulled = false;
  return result;
}

/** A colour laid over something; it hides nothing. */
export function tint(color: string, opacity: number): THREE.MeshBasicMaterial {
  return new THREE.MeshBasicMaterial({
    color,
    transparent: true,
    opacity,
    side: THREE.DoubleSide,
    depthWrite: false,
    toneMapped: false,
  });
}

/** One face of a body, tinted. @param range first index of the face, and how many */
export function drawnFace(
  geometry: THREE.BufferGeometry,
  [start, count]: readonly [number, number],
  matrix: THREE.Matrix4,
  color: string,
  opacity: number,
): THREE.Mesh {
  const own = new THREE.BufferGeometry();
  own.setAttribute('position', geometry.getAttribute('position').clone());
  own.setIndex([...geometry.index!.array.slice(start, start + count)]);
  own.applyMatrix4(matrix);
  const material = tint(color, opacity);
  material.polygonOffset = true;
  material.polygonOffsetFactor = -1;
  material.polygonOffsetUnits = -1;
  const mesh = new THREE.Mesh(own, material);
  mesh.renderOrder = 5;
  return mesh;
}

/** Takes all out of a group. */
export function emptyGroup(group: THREE.Group): void {
  for (const child of [...group.children]) {
    (child as THREE.Mesh).geometry.dispose();
    ((child as THREE.Mesh).material as THREE.Material).dispose();
    group.remove(child);
  }
}
