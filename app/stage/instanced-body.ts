import * as THREE from 'three';
import type { ExactBody } from '#core/geometry/shape/exact';
import type { Appearance } from '#core/product/appearance';
import { type BodyGeometry, shareColours } from './body-geometries';
import { BodyLayer, type DrawnPlacing } from './body-layer';
import { type DetailedBody, type DetailLevel, NOT_DRAWN } from './detail';
import { colourFaces, colourOf, showFaceColours } from './face-colours';
import { SELECTED, TINT } from './highlight';
import { InstancedLines } from './instanced-lines';
import type { StagePick } from './types';

export interface PlacedBody {
  row: number;
  name: string;
  matrix: THREE.Matrix4;
  /** A stand-in is a box for what has not arrived. */
  tone?: 'ghost' | 'faint' | 'focus' | 'standIn';
}

/** How rows are shown. */
export interface Shown {
  hidden: ReadonlySet<number>;
  selected: ReadonlySet<number>;
  /** What is not selected is faint, when something is. */
  isSeeThrough: boolean;
  /** Rows that have another colour than their own. */
  colours: ReadonlyMap<number, THREE.Color>;
  /** How far rows are off from where they belong. */
  shiftOf: ((row: number) => THREE.Vector3 | null) | null;
  /** How rows have moved from where they belong: as a mechanism moves them. */
  poses: ReadonlyMap<number, THREE.Matrix4>;
}

const POSITION = new THREE.Vector3();
const GHOST = new THREE.Color('#d6d2c8');
const FOCUS = new THREE.Color('#1E6F66');
/** Solid bodies come before faint ones. */
const ORDER = { solid: 1, faint: 3 };
const OPACITY = { solid: 1, faint: 0.22, solidLines: 0.5, faintLines: 0.16 };

/** A placing that is shown. */
interface ShownPlacing extends DrawnPlacing {
  placed: PlacedBody;
  isFaint: boolean;
}

/**
 * One distinct body with all its placings. Which level of detail each is drawn with is decided before a frame; placings of one level are
 * one draw call.
 */
export class InstancedBody implements DetailedBody {
  readonly group = new THREE.Group();
  /** All placings that are shown, whole: for picking and for sections, never drawn itself. */
  readonly faces: THREE.InstancedMesh;
  readonly levels: readonly DetailLevel[];
  spheres = new Float32Array();
  decided = new Int8Array();
  withEdges = new Uint8Array();
  private shown: ShownPlacing[] = [];
  /** What was drawn last: a decision that is the same changes nothing. */
  private drawn: Int8Array | null = null;
  private readonly layers = new Map<string, BodyLayer>();
  private readonly lines: { solid: InstancedLines; faint: InstancedLines } | null;
  private readonly colour: THREE.Color;
  /** Faces keep their own colours, lit or not. */
  private readonly hasFaceColours: boolean;
  private readonly materials: { solid: THREE.MeshStandardMaterial; faint: THREE.MeshStandardMaterial };
  private readonly lineMaterials: { solid: THREE.LineBasicMaterial; faint: THREE.LineBasicMaterial };
  private clipping: THREE.Plane | null = null;
  private edgesOn = true;

  constructor(
    private readonly from: BodyGeometry,
    { colour, faceColours }: Appearance,
    private readonly placed: readonly PlacedBody[],
    /** Where its exact surfaces can be asked for; null for one that only stands for another. */
    readonly source: { url: string; node: string } | null,
  ) {
    this.hasFaceColours =
      from.ofMesh !== undefined ||
      (faceColours !== undefined && colourFaces(from.faces, colour, faceColours));
    if (this.hasFaceColours) shareColours(from);
    this.colour = this.hasFaceColours ? new THREE.Color(1, 1, 1) : colourOf(colour);
    this.levels = from.levels;
    const material = (kind: 'solid' | 'faint') => {
      const made = new THREE.MeshStandardMaterial({
        metalness: 0.18,
        roughness: 0.52,
        side: THREE.DoubleSide,
        polygonOffset: true,
        polygonOffsetFactor: 1,
        polygonOffsetUnits: 1,
        transparent: kind === 'faint',
        opacity: OPACITY[kind],
        depthWrite: kind === 'solid',
      });
      if (this.hasFaceColours) showFaceColours(made);
      return made;
    };
    const lineMaterial = (opacity: number) =>
      new THREE.LineBasicMaterial({ color: '#23262b', transparent: true, opacity });
    this.materials = { solid: material('solid'), faint: material('faint') };
    this.lineMaterials = {
      solid: lineMaterial(OPACITY.solidLines),
      faint: lineMaterial(OPACITY.faintLines),
    };
    this.faces = new THREE.InstancedMesh(from.faces, this.materials.solid, placed.length);
    const { edges } = from;
    const linesOf = (kind: 'solid' | 'faint') => {
      const matrices = new THREE.InstancedBufferAttribute(new Float32Array(16 * placed.length), 16);
      const lines = new InstancedLines(edges!, this.lineMaterials[kind], matrices);
      lines.renderOrder = ORDER[kind];
      lines.visible = false;
      this.group.add(lines);
      return lines;
    };
    this.lines = edges ? { solid: linesOf('solid'), faint: linesOf('faint') } : null;
  }

  /** Its edges, where they came with its mesh. */
  get edgesOfMesh(): ExactBody | null {
    return this.from.ofMesh?.exact ?? null;
  }

  get geometry(): THREE.BufferGeometry {
    return this.from.faces;
  }

  /** The rows that it is placed for. */
  get rows(): number[] {
    return this.placed.map(({ row }) => row);
  }

  get shownCount(): number {
    return this.faces.count;
  }

  /** The finest mesh with which all placings together stay below a number of triangles; the coarsest when none does. */
  geometryBelow(most: number): THREE.BufferGeometry {
    const { levels } = this.from;
    return (levels.find(({ triangles }) => triangles * this.placed.length <= most) ?? levels.at(-1)!).faces;
  }

  /** Takes up how rows are shown. What is drawn follows with the next decision about detail. */
  update({ hidden, selected, isSeeThrough, colours, shiftOf, poses }: Shown): void {
    const someSelected = isSeeThrough && selected.size > 0;
    const { center, radius } = this.sphere;
    this.shown = this.placed
      .filter(({ row }) => !hidden.has(row))
      .map((placed) => {
        const { row, tone } = placed;
        const pose = poses.get(row);
        const matrix = pose ? pose.clone().multiply(placed.matrix) : placed.matrix;
        const shift = shiftOf?.(row);
        const at = shift
          ? matrix.clone().setPosition(POSITION.setFromMatrixPosition(matrix).add(shift))
          : matrix;
        const isSelected = selected.has(row);
        const isGhost = tone === 'ghost' || tone === 'faint';
        const own = isGhost ? GHOST : tone === 'focus' ? FOCUS : (colours.get(row) ?? this.colour);
        const isTinted = isSelected && !this.hasFaceColours && !colours.has(row);
        return {
          placed,
          at,
          isSelected,
          isFaint: isGhost || tone === 'standIn' || (someSelected && !isSelected),
          colour: isTinted ? own.clone().lerp(SELECTED, TINT) : own,
        };
      });
    const count = this.shown.length;
    this.spheres = new Float32Array(4 * count);
    this.decided = new Int8Array(count).fill(NOT_DRAWN);
    this.withEdges = new Uint8Array(count);
    this.drawn = null;
    this.shown.forEach(({ at }, n) => {
      this.faces.setMatrixAt(n, at);
      POSITION.copy(center)
        .applyMatrix4(at)
        .toArray(this.spheres, 4 * n);
      this.spheres[4 * n + 3] = radius;
    });
    this.faces.count = count;
    this.faces.instanceMatrix.needsUpdate = true;
    this.faces.boundingSphere = null;
  }

  /** Draws what was decided. */
  arrange(): void {
    const wanted = this.decided.map((level, n) => 2 * level + (this.edgesOn ? this.withEdges[n]! : 0));
    const { drawn } = this;
    if (drawn?.every((value, n) => value === wanted[n])) return;
    this.drawn = wanted;
    const layers = new Map<string, ShownPlacing[]>();
    const lined = { solid: [] as THREE.Matrix4[], faint: [] as THREE.Matrix4[] };
    this.shown.forEach((shown, n) => {
      const level = this.decided[n]!;
      if (level === NOT_DRAWN) return;
      const kind = shown.isFaint ? 'faint' : 'solid';
      const name = `${level} ${kind}`;
      const list = layers.get(name);
      if (list) list.push(shown);
      else layers.set(name, [shown]);
      if (this.edgesOn && this.withEdges[n]) lined[kind].push(shown.at);
    });
    for (const [name, layer] of this.layers) if (!layers.has(name)) layer.show([]);
    for (const [name, list] of layers) this.layer(name).show(list);
    for (const kind of ['solid', 'faint'] as const) {
      const lines = this.lines?.[kind];
      if (!lines) continue;
      lined[kind].forEach((at, n) => {
        at.toArray(lines.instanceMatrix.array, 16 * n);
      });
      lines.instanceMatrix.needsUpdate = true;
      lines.count = lined[kind].length;
      lines.visible = lines.count > 0;
    }
  }

  private layer(name: string): BodyLayer {
    const known = this.layers.get(name);
    if (known) return known;
    const [level, kind] = name.split(' ') as [string, 'solid' | 'faint'];
    const { faces } = this.from.levels[Number(level)]!;
    const edges = level === '0' ? this.from.edges : null;
    const made = new BodyLayer(faces, edges, this.materials[kind], this.placed.length, ORDER[kind]);
    made.clip(this.clipping);
    this.layers.set(name, made);
    this.group.add(made.mesh);
    return made;
  }

  showEdges(on: boolean): void {
    this.edgesOn = on;
  }

  clip(plane: THREE.Plane | null): void {
    this.clipping = plane;
    for (const layer of this.layers.values()) layer.clip(plane);
    for (const material of [...Object.values(this.materials), ...Object.values(this.lineMaterials)]) {
      material.clippingPlanes = plane ? [plane] : null;
      material.needsUpdate = true;
    }
  }

  pickOf(instance: number): StagePick | null {
    const placed = this.shown[instance]?.placed;
    return placed && placed.tone !== 'ghost' ? { row: placed.row, name: placed.name } : null;
  }

  /** Where the placing of a hit belongs, and where it is shown. */
  placesOf(instance: number): { belongs: THREE.Matrix4; shown: THREE.Matrix4 } {
    const { placed, at } = this.shown[instance]!;
    return { belongs: placed.matrix, shown: at };
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

  /** The box of each row's placings. */
  boxesByRow(): Map<number, THREE.Box3> {
    const boxes = new Map<number, THREE.Box3>();
    const own = this.geometry.boundingBox!;
    for (const { row, matrix } of this.placed) {
      const box = own.clone().applyMatrix4(matrix);
      boxes.set(row, boxes.get(row)?.union(box) ?? box);
    }
    return boxes;
  }

  private get sphere(): THREE.Sphere {
    return this.geometry.boundingBox!.getBoundingSphere(new THREE.Sphere());
  }

  dispose(): void {
    for (const layer of this.layers.values()) layer.dispose();
    this.faces.dispose();
    for (const material of [...Object.values(this.materials), ...Object.values(this.lineMaterials)])
      material.dispose();
  }
}
