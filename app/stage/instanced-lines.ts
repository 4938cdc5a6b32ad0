import * as THREE from 'three';

/** Lines drawn once for each instance: three.js instances any object that carries an instance matrix. */
export class InstancedLines extends THREE.LineSegments {
  readonly isInstancedMesh = true;
  readonly instanceColor = null;
  readonly morphTexture = null;
  override count = 0;

  constructor(
    geometry: THREE.BufferGeometry,
    material: THREE.Material,
    readonly instanceMatrix: THREE.InstancedBufferAttribute,
  ) {
    super(geometry, material);
    this.frustumCulled = false;
  }
}
