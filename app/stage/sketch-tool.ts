import * as THREE from 'three';
import type { Point } from '#core/geometry/shape/cut';
import { diagonalOf } from '#core/product/box';
import { drawnFace, drawnLine, drawnPoints, emptyGroup, tint } from './drawn-shapes';
import type { InstancedBody } from './instanced-body';
import { faceRange, pointerIn } from './picking';
import type { StageTool, ToolStage } from './stage-tool';
import type { StageSketch } from './types';

/** How near to a point the pointer has to be to be caught, pixels. */
const CATCH = 14;
const COLOUR = '#b4451f';

/**
 * Draws on the stage: a plane, a line on it with the walls that it cuts along, a lit face, and what the pointer catches. Clicks lay
 * points while the drawing says so.
 */
export class SketchTool implements StageTool {
  readonly group = new THREE.Group();
  private stage: ToolStage | null = null;
  private readonly drawn = new THREE.Group();
  private readonly marker: THREE.Points;
  private sketch: StageSketch | null = null;

  /** @param onPoint told where a point was laid on the plane, mm */
  constructor(private readonly onPoint: (point: Point) => void) {
    this.marker = drawnPoints([[0, 0, 0]], 13, '#1e6f66');
    this.marker.visible = false;
    this.group.add(this.drawn, this.marker);
  }

  get takesPointer(): boolean {
    return this.sketch?.isDrawing === true && this.sketch.plane !== null;
  }

  attach(stage: ToolStage): void {
    this.stage = stage;
    this.show();
  }

  detach(): void {
    if (this.stage) this.stage.canvas.style.cursor = '';
    this.stage = null;
    emptyGroup(this.drawn);
  }

  /** Shows what is being drawn; null for nothing. */
  set(sketch: StageSketch | null): void {
    this.sketch = sketch;
    this.show();
  }

  /** The lit face is a face of a body: it is there when that is. */
  bodiesChanged(): void {
    if (this.sketch?.face) this.show();
  }

  click(event: PointerEvent): void {
    const place = this.placeUnder(event);
    if (place) this.onPoint(place.point);
  }

  /** Shows where a click would go. */
  move(event: PointerEvent): void {
    const place = this.placeUnder(event);
    this.marker.visible = place !== null;
    if (place) {
      this.marker.position.set(...place.point);
      (this.marker.material as THREE.PointsMaterial).color.set(place.isCaught ? '#1e6f66' : '#8a8880');
    }
    this.stage?.redraw();
  }

  private show(): void {
    emptyGroup(this.drawn);
    const { stage, sketch } = this;
    if (!stage) return;
    stage.canvas.style.cursor = this.takesPointer ? 'crosshair' : '';
    stage.redraw();
    if (!this.takesPointer) this.marker.visible = false;
    if (!sketch) return;
    const { plane, points: line, face, box } = sketch;
    if (plane) {
      const sheet = new Sheet(plane, box);
      this.drawn.add(...sheet.meshes());
      if (this.takesPointer) this.drawn.add(drawnPoints(this.catching(), 5, '#63625c'));
      if (line.length > 0) this.drawn.add(drawnPoints(line, 9, COLOUR));
      if (line.length > 1) this.drawn.add(...sheet.lineMeshes(line));
    }
    // Lit strongly where it cuts; faintly where it only carries the plane that is drawn on.
    const lit = face && litFace(stage.bodies, face, plane ? 0.28 : 0.55);
    if (lit) this.drawn.add(lit);
  }

  /** The points that catch: those in the plane, or all of them when none lies there; brought onto the plane. */
  private catching(): Point[] {
    const { plane, snaps, box, points: line } = this.sketch!;
    if (!plane) return [];
    const [at, normal] = [new THREE.Vector3(...plane.at), new THREE.Vector3(...plane.normal).normalize()];
    const off = (point: Point) => new THREE.Vector3(...point).sub(at).dot(normal);
    const inPlane = snaps.filter((point) => Math.abs(off(point)) < 1e-3 * diagonalOf(box));
    const wanted = [...(inPlane.length > 0 ? inPlane : snaps), ...line.slice(0, 1)];
    return wanted.map((point) => {
      const onto = new THREE.Vector3(...point).addScaledVector(normal, -off(point));
      return [onto.x, onto.y, onto.z] as const;
    });
  }

  /** Where a click would lay a point, and whether it was caught; null beside the plane. */
  private placeUnder(event: PointerEvent): { point: Point; isCaught: boolean } | null {
    const { stage } = this;
    if (!stage) return null;
    const { camera, canvas } = stage;
    const pointer = pointerIn(canvas, event);
    const { ray } = stage.rayOf(event);
    const plane = this.sketch?.plane;
    if (!plane) return null;
    let best: { point: Point; away: number } | null = null;
    for (const point of this.catching()) {
      const seen = new THREE.Vector3(...point).project(camera);
      const away = Math.hypot(
        ((seen.x - pointer.x) * canvas.clientWidth) / 2,
        ((seen.y - pointer.y) * canvas.clientHeight) / 2,
      );
      if (away < CATCH && (!best || away < best.away)) best = { point, away };
    }
    if (best) return { point: best.point, isCaught: true };
    const flat = new THREE.Plane().setFromNormalAndCoplanarPoint(
      new THREE.Vector3(...plane.normal).normalize(),
      new THREE.Vector3(...plane.at),
    );
    // Nearly along the plane a hair's breadth on the screen is a long way on it.
    if (Math.abs(ray.direction.dot(flat.normal)) < 0.05) return null;
    const hit = ray.intersectPlane(flat, new THREE.Vector3());
    return hit ? { point: [hit.x, hit.y, hit.z], isCaught: false } : null;
  }
}

/** The part of a plane that covers a box, seen along its normal, with a margin. */
class Sheet {
  private readonly normal: THREE.Vector3;
  private readonly turn: THREE.Matrix4;
  /** In the plane's own coordinates: x and y in the plane, z along its normal. */
  private readonly extent = new THREE.Box3();

  constructor({ at, normal }: { at: Point; normal: Point }, box: readonly number[]) {
    this.normal = new THREE.Vector3(...normal).normalize();
    const upright = Math.abs(this.normal.z) > 0.9 ? new THREE.Vector3(0, 1, 0) : new THREE.Vector3(0, 0, 1);
    const across = new THREE.Vector3().crossVectors(upright, this.normal).normalize();
    const upward = new THREE.Vector3().crossVectors(this.normal, across);
    this.turn = new THREE.Matrix4().makeBasis(across, upward, this.normal).setPosition(...at);
    const back = this.turn.clone().invert();
    for (let n = 0; n < 8; n++)
      this.extent.expandByPoint(
        new THREE.Vector3(box[n & 1 ? 3 : 0], box[n & 2 ? 4 : 1], box[n & 4 ? 5 : 2]).applyMatrix4(back),
      );
    const size = this.extent.getSize(new THREE.Vector3());
    const margin = 0.03 * diagonalOf(box) + 0.15 * Math.min(size.x, size.y);
    this.extent.expandByVector(new THREE.Vector3(margin, margin, margin));
  }

  meshes(): THREE.Object3D[] {
    const { min, max } = this.extent;
    const geometry = new THREE.PlaneGeometry(max.x - min.x, max.y - min.y)
      .translate((min.x + max.x) / 2, (min.y + max.y) / 2, 0)
      .applyMatrix4(this.turn);
    const sheet = new THREE.Mesh(geometry, tint('#3f7f9f', 0.14));
    sheet.renderOrder = 6;
    const outline = new THREE.LineSegments(
      new THREE.EdgesGeometry(geometry),
      new THREE.LineBasicMaterial({ color: '#3f7f9f', transparent: true, opacity: 0.7, toneMapped: false }),
    );
    outline.renderOrder = 7;
    return [sheet, outline];
  }

  /** A line, and the walls along which it cuts. Open ends go on to the edge of the sheet. */
  lineMeshes(line: readonly Point[]): THREE.Object3D[] {
    const at = line.map((point) => new THREE.Vector3(...point));
    const isClosed = at.length > 3 && at[0]!.distanceTo(at.at(-1)!) < 1e-6;
    const extended = isClosed
      ? at
      : [this.beyond(at[0]!, at[1]!), ...at.slice(1, -1), this.beyond(at.at(-1)!, at.at(-2)!)];
    const [over, under] = [this.extent.max.z, this.extent.min.z].map((z) =>
      this.normal.clone().multiplyScalar(z),
    ) as [THREE.Vector3, THREE.Vector3];
    const corners: THREE.Vector3[] = [];
    for (let n = 1; n < extended.length; n++) {
      const [a, b] = [extended[n - 1]!, extended[n]!];
      const [a1, a2] = [a.clone().add(over), a.clone().add(under)];
      const [b1, b2] = [b.clone().add(over), b.clone().add(under)];
      corners.push(a1, a2, b1, b1, a2, b2);
    }
    const walls = new THREE.Mesh(new THREE.BufferGeometry().setFromPoints(corners), tint(COLOUR, 0.25));
    walls.renderOrder = 7;
    return [walls, drawnLine(extended, COLOUR, 0.45), drawnLine(at, COLOUR)];
  }

  /** Where a line that goes on past its end leaves the sheet; the end itself when it lies outside. */
  private beyond(end: THREE.Vector3, before: THREE.Vector3): THREE.Vector3 {
    const back = this.turn.clone().invert();
    const from = end.clone().applyMatrix4(back);
    const along = from.clone().sub(before.clone().applyMatrix4(back));
    const { min, max } = this.extent;
    let reach = Number.POSITIVE_INFINITY;
    for (const axis of ['x', 'y'] as const) {
      if (Math.abs(along[axis]) < 1e-12) continue;
      const edge = along[axis] > 0 ? max[axis] : min[axis];
      reach = Math.min(reach, (edge - from[axis]) / along[axis]);
    }
    if (!Number.isFinite(reach) || reach <= 0) return end;
    return end.clone().addScaledVector(end.clone().sub(before), reach);
  }
}

function litFace(
  bodies: readonly InstancedBody[],
  { row, face }: { row: number; face: number },
  opacity: number,
): THREE.Mesh | null {
  const body = bodies.find(({ rows }) => rows.includes(row));
  const matrix = body?.matrixOf(row);
  const range = body && faceRange(body.geometry, face);
  if (!body?.geometry.index || !matrix || !range) return null;
  return drawnFace(body.geometry, range, matrix, COLOUR, opacity);
}
