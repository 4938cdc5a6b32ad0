import * as THREE from 'three';
import { Highlight } from './highlight';

/** One placing as it is drawn. */
export interface DrawnPlacing {
  at: THREE.Matrix4;
  colour: THREE.Color;
  isSelected: boolean;
}

/** Some placings of a body, drawn with one mesh and one material: one draw call, and three more when some of them are selected. */
export class BodyLayer {
  readonly mesh: THREE.InstancedMesh;
  private highlight: Highlight | null = null;
  private clipping: THREE.Plane | null = null;

  /** @param edges outline what is selected @param most placings */
  constructor(
    private readonly geometry: THREE.BufferGeometry,
    private readonly edges: THREE.BufferGeometry | null,
    material: THREE.Material,
    private readonly most: number,
    order: number,
  ) {
    this.mesh = new THREE.InstancedMesh(geometry, material, most);
    this.mesh.setColorAt(0, new THREE.Color(1, 1, 1));
    this.mesh.frustumCulled = false;
    this.mesh.renderOrder = order;
    // What is picked is the whole mesh, whatever is drawn.
    this.mesh.raycast = () => {};
  }

  show(placings: readonly DrawnPlacing[]): void {
    placings.forEach(({ at, colour }, n) => {
      this.mesh.setMatrixAt(n, at);
      this.mesh.setColorAt(n, colour);
    });
    this.mesh.count = placings.length;
    this.mesh.visible = placings.length > 0;
    this.mesh.instanceMatrix.needsUpdate = true;
    this.mesh.instanceColor!.needsUpdate = true;
    this.light(placings.flatMap(({ at, isSelected }) => (isSelected ? [at] : [])));
  }

  clip(plane: THREE.Plane | null): void {
    this.clipping = plane;
    this.highlight?.clip(plane);
  }

  dispose(): void {
    this.highlight?.dispose();
    this.mesh.dispose();
  }

  /** Outlines placings, and draws them through what is before them. */
  private light(matrices: readonly THREE.Matrix4[]): void {
    if (!this.highlight) {
      if (matrices.length === 0) return;
      this.highlight = new Highlight(this.geometry, this.edges, this.most);
      this.highlight.clip(this.clipping);
      this.mesh.add(this.highlight.seen);
    }
    this.highlight.show(matrices);
  }
}
