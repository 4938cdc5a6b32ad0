import * as THREE from 'three';
import { hatchKinds } from './hatch-kinds';
import type { InstancedBody } from './instanced-body';

/** Direction of the lines, and how many there are along the model. */
const HATCHINGS = [
  { rising: true, repeat: 90 },
  { rising: false, repeat: 90 },
  { rising: true, repeat: 170 },
  { rising: false, repeat: 170 },
];

/** Triangles of one body with all its placings: two more passes go over them, so that many placings count with fewer each. */
const MOST_TRIANGLES = 200_000;

/**
 * Fills what a section plane cuts. Back faces behind the plane count up in the stencil buffer and front faces count
 * down; where something is left, the plane runs through material and the hatched cap is drawn. That is done for one
 * kind of hatching after the other, so that neighbours differ; each cap leaves the stencil empty for the next.
 */
export class SectionCaps {
  readonly group = new THREE.Group();
  private readonly countUp: THREE.MeshBasicMaterial;
  private readonly countDown: THREE.MeshBasicMaterial;
  private readonly caps: THREE.Mesh<THREE.PlaneGeometry, THREE.MeshBasicMaterial>[];
  /** Kinds of the bodies shown last, by body. */
  private kinds = new Map<InstancedBody, number>();

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
    const square = new THREE.PlaneGeometry(1, 1);
    this.caps = HATCHINGS.map(({ rising, repeat }, kind) => {
      const map = hatching(rising);
      map.repeat.setScalar(repeat);
      const cap = new THREE.Mesh(
        square,
        new THREE.MeshBasicMaterial({
          map,
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
      cap.renderOrder = orderOf(kind) + 0.05;
      return cap;
    });
  }

  show(bodies: readonly InstancedBody[], bounds: THREE.Box3): void {
    this.clear();
    if (bodies.length !== this.kinds.size || bodies.some((body) => !this.kinds.has(body))) {
      const kinds = hatchKinds(
        bodies.map((body) => body.boxes()),
        HATCHINGS.length,
      );
      this.kinds = new Map(bodies.map((body, n) => [body, kinds[n]!]));
    }
    for (const body of bodies) {
      for (const material of [this.countUp, this.countDown]) {
        const counter = new THREE.InstancedMesh(body.geometryBelow(MOST_TRIANGLES), material, 0);
        counter.instanceMatrix = body.faces.instanceMatrix;
        counter.frustumCulled = false;
        counter.renderOrder = orderOf(this.kinds.get(body)!);
        counter.onBeforeRender = () => {
          counter.count = body.shownCount;
        };
        counter.count = body.shownCount;
        this.group.add(counter);
      }
    }
    const size = bounds.getSize(new THREE.Vector3()).length() * 1.1;
    const centre = bounds.getCenter(new THREE.Vector3());
    for (const kind of new Set(this.kinds.values())) {
      const cap = this.caps[kind]!;
      this.plane.projectPoint(centre, cap.position);
      cap.scale.set(size, size, 1);
      cap.lookAt(cap.position.clone().add(this.plane.normal));
      this.group.add(cap);
    }
  }

  clear(): void {
    this.group.clear();
  }
}

/** Counting comes before the cap of its kind, and all caps before the bodies. */
function orderOf(kind: number): number {
  return kind * 0.1;
}

/** Hatching as drawings have it: thin lines at 45 degrees. */
function hatching(rising: boolean): THREE.Texture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 64;
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#e9dfca';
  context.fillRect(0, 0, 64, 64);
  context.strokeStyle = '#8c7650';
  context.lineWidth = 5;
  for (const offset of [-64, 0, 64]) {
    context.beginPath();
    context.moveTo(offset - 8, rising ? 72 : -8);
    context.lineTo(offset + 72, rising ? -8 : 72);
    context.stroke();
  }
  const texture = new THREE.CanvasTexture(canvas);
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.generateMipmaps = true;
  texture.anisotropy = 4;
  return texture;
}
