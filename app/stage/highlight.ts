import * as THREE from 'three';
import { InstancedLines } from './instanced-lines';

/** What is selected. */
export const SELECTED = new THREE.Color('#e59a2f');

/** Of the colour of what is selected, as much is mixed into its own. */
export const TINT = 0.3;

/** How much is seen of what lies behind other parts. */
const BEHIND = 0.5;

/** The bit of the stencil that says: here something selected was drawn. Caps of sections count in it, but not at the same time. */
const DRAWN = 0x80;
const STENCIL = {
  stencilWrite: true,
  stencilRef: DRAWN,
  stencilFuncMask: DRAWN,
  stencilWriteMask: DRAWN,
  stencilZPass: THREE.ReplaceStencilOp,
};

/**
 * The placings of one body that are selected: outlined, and faintly drawn where other parts are before them, each point once. Their own
 * colours stay. Three draw calls a body, and none where nothing is selected.
 */
export class Highlight {
  /** Marks where they are seen; what lies behind is drawn elsewhere only. */
  readonly seen: THREE.InstancedMesh;
  private readonly behind: THREE.InstancedMesh;
  private readonly lines: InstancedLines | null;
  private readonly mask = new THREE.MeshBasicMaterial({
    ...STENCIL,
    colorWrite: false,
    depthWrite: false,
    side: THREE.DoubleSide,
    transparent: true,
  });
  private readonly through = new THREE.MeshBasicMaterial({
    ...STENCIL,
    stencilFunc: THREE.NotEqualStencilFunc,
    color: SELECTED,
    transparent: true,
    opacity: BEHIND,
    depthFunc: THREE.GreaterDepth,
    depthWrite: false,
  });
  private readonly outline = new THREE.LineBasicMaterial({
    color: SELECTED,
    transparent: true,
    depthWrite: false,
  });

  constructor(faces: THREE.BufferGeometry, edges: THREE.BufferGeometry | null, most: number) {
    this.seen = new THREE.InstancedMesh(faces, this.mask, most);
    this.behind = new THREE.InstancedMesh(faces, this.through, most);
    this.behind.instanceMatrix = this.seen.instanceMatrix;
    this.lines = edges ? new InstancedLines(edges, this.outline, this.seen.instanceMatrix) : null;
    for (const [order, mesh] of [this.seen, this.behind, this.lines].entries()) {
      if (!mesh) continue;
      mesh.frustumCulled = false;
      mesh.renderOrder = 5 + order;
      mesh.raycast = () => {};
      if (mesh !== this.seen) this.seen.add(mesh);
    }
    this.show([]);
  }

  show(matrices: readonly THREE.Matrix4[]): void {
    matrices.forEach((matrix, n) => {
      this.seen.setMatrixAt(n, matrix);
    });
    this.seen.instanceMatrix.needsUpdate = true;
    this.seen.visible = matrices.length > 0;
    for (const mesh of [this.seen, this.behind, this.lines]) if (mesh) mesh.count = matrices.length;
  }

  /** In a section what lies behind is seen anyway. */
  clip(plane: THREE.Plane | null): void {
    this.behind.visible = plane === null;
    this.mask.visible = plane === null;
    this.outline.clippingPlanes = plane ? [plane] : null;
    this.outline.needsUpdate = true;
  }

  dispose(): void {
    for (const disposable of [this.seen, this.behind, this.mask, this.through, this.outline])
      disposable.dispose();
  }
}
