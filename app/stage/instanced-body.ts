import * as THREE from 'three';
import type { Appearance } from '#core/product/appearance';
import type { BodyGeometry } from './body-geometries';
import { colourFaces, colourOf, showFaceColours } from './face-colours';
import { Highlight, SELECTED, TINT } from './highlight';
import { InstancedLines } from './instanced-lines';
import type { StagePick } from './types';

export interface PlacedBody {
  row: number;
  name: string;
  matrix: THREE.Matrix4;
  tone?: 'ghost' | 'faint' | 'focus';
}

const POSITION = new THREE.Vector3();
const COLOUR = new THREE.Color();
const GHOST = new THREE.Color('#d6d2c8');
const FOCUS = new THREE.Color('#1E6F66');

/** One distinct body with all its placings: one draw call for the faces, one for the edges. */
export class InstancedBody {
  readonly faces: THREE.InstancedMesh;
  readonly lines: InstancedLines | null;
  /** Placings that are drawn now, in the order of the instances. */
  private shown: PlacedBody[] = [];
  private readonly colour: THREE.Color;
  /** Faces keep their own colours, lit or not. */
  private readonly hasFaceColours: boolean;
  private readonly material: THREE.MeshStandardMaterial;
  private readonly lineMaterial = new THREE.LineBasicMaterial({
    color: '#23262b',
    transparent: true,
    opacity: 0.5,
  });

  constructor(
    geometry: BodyGeometry,
    { colour, faceColours }: Appearance,
    private readonly placed: PlacedBody[],
  ) {
    this.hasFaceColours = faceColours !== undefined && colourFaces(geometry.faces, colour, faceColours);
    this.colour = this.hasFaceColours ? new THREE.Color(1, 1, 1) : colourOf(colour);
    const ghost = placed.every(({ tone }) => tone === 'ghost' || tone === 'faint');
    this.material = new THREE.MeshStandardMaterial({
      metalness: 0.18,
      roughness: 0.52,
      side: THREE.DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
      transparent: ghost,
      opacity: ghost ? 0.38 : 1,
      depthWrite: !ghost,
    });
    if (this.hasFaceColours) showFaceColours(this.material);
    if (ghost) this.lineMaterial.opacity = 0.16;
    this.faces = new THREE.InstancedMesh(geometry.faces, this.material, placed.length);
    this.faces.setColorAt(0, this.colour);
    this.faces.renderOrder = ghost ? 3 : 1;
    this.faces.frustumCulled = false;
    this.lines = geometry.edges
      ? new InstancedLines(geometry.edges, this.lineMaterial, this.faces.instanceMatrix)
      : null;
    if (this.lines) this.lines.renderOrder = this.faces.renderOrder;
  }

  get geometry(): THREE.BufferGeometry {
    return this.faces.geometry;
  }

  /** The rows that it is placed for. */
  get rows(): number[] {
    return this.placed.map(({ row }) => row);
  }

  get shownCount(): number {
    return this.faces.count;
  }

  /** Draws the placings of rows that are not hidden, with those of selected rows lit. */
  update(
    hidden: ReadonlySet<number>,
    selected: ReadonlySet<number>,
    shiftOf: ((row: number) => THREE.Vector3 | null) | null = null,
  ): void {
    this.shown = this.placed.filter(({ row }) => !hidden.has(row));
    const lit: THREE.Matrix4[] = [];
    this.shown.forEach(({ matrix, row, tone }, n) => {
      const shift = shiftOf?.(row);
      const at = shift
        ? matrix.clone().setPosition(POSITION.setFromMatrixPosition(matrix).add(shift))
        : matrix;
      const isSelected = selected.has(row);
      if (isSelected) lit.push(at);
      const own = tone === 'ghost' || tone === 'faint' ? GHOST : tone === 'focus' ? FOCUS : this.colour;
      this.faces.setMatrixAt(n, at);
      this.faces.setColorAt(
        n,
        isSelected && !this.hasFaceColours ? COLOUR.copy(own).lerp(SELECTED, TINT) : own,
      );
    });
    this.light(lit);
    this.faces.count = this.shown.length;
    this.faces.visible = this.shown.length > 0;
    this.faces.instanceMatrix.needsUpdate = true;
    if (this.faces.instanceColor) this.faces.instanceColor.needsUpdate = true;
    this.faces.boundingSphere = null;
    if (this.lines) {
      this.lines.count = this.shown.length;
      this.lines.visible = this.edgesOn && this.shown.length > 0;
    }
  }

  private highlight: Highlight | null = null;
  private clipping: THREE.Plane | null = null;
  /** Outlines placings, and draws them through what is before them. */
  private light(matrices: readonly THREE.Matrix4[]): void {
    if (!this.highlight) {
      if (matrices.length === 0) return;
      this.highlight = new Highlight(this.geometry, this.lines?.geometry ?? null, this.placed.length);
      this.highlight.clip(this.clipping);
      this.faces.add(this.highlight.seen);
    }
    this.highlight.show(matrices);
  }

  private edgesOn = true;
  showEdges(on: boolean): void {
    this.edgesOn = on;
    if (this.lines) this.lines.visible = on && this.shown.length > 0;
  }

  clip(plane: THREE.Plane | null): void {
    this.clipping = plane;
    this.highlight?.clip(plane);
    for (const material of [this.material, this.lineMaterial]) {
      material.clippingPlanes = plane ? [plane] : null;
      material.needsUpdate = true;
    }
  }

  pickOf(instance: number): StagePick | null {
    const placed = this.shown[instance];
    return placed && placed.tone !== 'ghost' ? { row: placed.row, name: placed.name } : null;
  }

  /** Where a row is placed, when it is shown. */
  matrixOf(row: number): THREE.Matrix4 | null {
    return this.placed.find((placed) => placed.row === row)?.matrix ?? null;
  }

  bounds(wanted: (row: number) => boolean = () => true): THREE.Box3 {
    const box = new THREE.Box3();
    const own = this.geometry.boundingBox!;
    for (const { row, matrix } of this.placed) if (wanted(row)) box.union(own.clone().applyMatrix4(matrix));
    return box;
  }

  /** The box of each placing. */
  boxes(): THREE.Box3[] {
    const own = this.geometry.boundingBox!;
    return this.placed.map(({ matrix }) => own.clone().applyMatrix4(matrix));
  }

  dispose(): void {
    this.highlight?.dispose();
    this.faces.dispose();
    this.material.dispose();
    this.lineMaterial.dispose();
  }
}
