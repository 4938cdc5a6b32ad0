import * as THREE from 'three';
import type { InstancedBody } from './instanced-body';

/**
 * Fills what a section plane cuts. Back faces behind the plane count up in the stencil buffer and front faces count
 * down; where something is left, the plane runs through material and the hatched cap is drawn.
 */
export class SectionCaps {
  readonly group = new THREE.Group();
  private readonly countUp: THREE.MeshBasicMaterial;
  private readonly countDown: THREE.MeshBasicMaterial;
  private readonly cap: THREE.Mesh<THREE.PlaneGeometry, THREE.MeshBasicMaterial>;

  constructor(private readonly plane: THREE.Plane) {
    const counting = (side: THREE.Side, operation: THREE.StencilOp) =>
      new THREE.MeshBasicMaterial({
        side,
        clippingPlanes: [plane],
        colorWrite: false,
        depthWrite: false,
        depthTest: false,
        stencilWrite: true,
        stencilFunc: THREE.AlwaysStencilFunc,
        stencilFail: operation,
        stencilZFail: operation,
        stencilZPass: operation,
      });
    this.countUp = counting(THREE.BackSide, THREE.IncrementWrapStencilOp);
    this.countDown = counting(THREE.FrontSide, THREE.DecrementWrapStencilOp);
    this.cap = new THREE.Mesh(
      new THREE.PlaneGeometry(1, 1),
      new THREE.MeshBasicMaterial({
        map: hatching(),
        side: THREE.DoubleSide,
        toneMapped: false,
        stencilWrite: true,
        stencilRef: 0,
        stencilFunc: THREE.NotEqualStencilFunc,
        stencilFail: THREE.ReplaceStencilOp,
        stencilZFail: THREE.ReplaceStencilOp,
        stencilZPass: THREE.ReplaceStencilOp,
      }),
    );
    this.cap.renderOrder = 0.5;
  }

  show(bodies: readonly InstancedBody[], bounds: THREE.Box3): void {
    this.clear();
    for (const body of bodies) {
      for (const material of [this.countUp, this.countDown]) {
        const counter = new THREE.InstancedMesh(body.geometry, material, 0);
        counter.instanceMatrix = body.faces.instanceMatrix;
        counter.frustumCulled = false;
        counter.renderOrder = 0;
        counter.onBeforeRender = () => {
          counter.count = body.shownCount;
        };
        counter.count = body.shownCount;
        this.group.add(counter);
      }
    }
    const size = bounds.getSize(new THREE.Vector3()).length() * 1.1;
    const centre = bounds.getCenter(new THREE.Vector3());
    this.plane.projectPoint(centre, this.cap.position);
    this.cap.scale.set(size, size, 1);
    this.cap.material.map!.repeat.setScalar(90);
    this.cap.lookAt(this.cap.position.clone().add(this.plane.normal));
    this.group.add(this.cap);
  }

  clear(): void {
    this.group.clear();
  }
}

/** Hatching as drawings have it: thin lines at 45 degrees. */
function hatching(): THREE.Texture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 64;
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#e9dfca';
  context.fillRect(0, 0, 64, 64);
  context.strokeStyle = '#8c7650';
  context.lineWidth = 5;
  for (const offset of [-64, 0, 64]) {
    context.beginPath();
    context.moveTo(offset - 8, 72);
    context.lineTo(offset + 72, -8);
    context.stroke();
  }
  const texture = new THREE.CanvasTexture(canvas);
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.generateMipmaps = true;
  return texture;
}
