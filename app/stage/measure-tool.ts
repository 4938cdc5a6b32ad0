import * as THREE from 'three';
import type { ExactBody, ExactPoint } from '#core/geometry/shape/exact';
import {
  between,
  distanceToEdge,
  figuresOf,
  isWhole,
  type Measurable,
  placed,
  pointsOf,
} from '#core/geometry/shape/measure';
import type { Matrix4 } from '#core/product/matrix';
import { drawnFace, drawnLine, drawnPoints, emptyGroup } from './drawn-shapes';
import type { ExactShapes } from './exact-shapes';
import type { InstancedBody } from './instanced-body';
import { type FaceHit, faceRange } from './picking';
import type { StageTool, ToolStage } from './stage-tool';

/** Something that was picked to be measured. */
export interface MeasuredThing {
  /** Of which component. */
  of: string;
  item: Measurable;
}

interface Target extends MeasuredThing {
  /** As it lies in its file. */
  own: Measurable;
  body: InstancedBody;
  face: number;
  shown: THREE.Matrix4;
}

/** How near the pointer has to be to an edge and to a point, pixels. */
const CATCH = { edge: 7, point: 9 };
const COLOURS = { pointed: '#1e6f66', taken: '#b4451f' };

/** Picks faces, edges and points of the exact shapes under the pointer, and draws what is measured. */
export class MeasureTool implements StageTool {
  readonly group = new THREE.Group();
  readonly takesPointer = true;
  private readonly pointed = new THREE.Group();
  private readonly taken = new THREE.Group();
  private readonly lengths = new THREE.Group();
  private stage: ToolStage | null = null;
  private targets: Target[] = [];

  /**
   * @param exact the shapes that are measured
   * @param onChange told what is measured: nothing, one thing, or two
   * @param onTrouble told why nothing can be picked on a body
   */
  constructor(
    private readonly exact: ExactShapes,
    private readonly onChange: (things: readonly MeasuredThing[]) => void,
    private readonly onTrouble: (words: string | null) => void,
  ) {
    this.group.add(this.taken, this.lengths, this.pointed);
  }

  attach(stage: ToolStage): void {
    this.stage = stage;
    stage.canvas.style.cursor = 'crosshair';
  }

  detach(): void {
    if (this.stage) this.stage.canvas.style.cursor = '';
    this.stage = null;
    for (const group of [this.pointed, this.taken, this.lengths]) emptyGroup(group);
  }

  bodiesChanged(): void {}

  startAgain(): void {
    this.measure([]);
  }

  /** Draws what is measured, with what lengths run along. */
  private measure(targets: Target[]): void {
    this.targets = targets;
    for (const group of [this.lengths, this.taken]) emptyGroup(group);
    for (const target of targets) this.draw(this.taken, target, COLOURS.taken);
    const [one, other] = targets;
    const figures = one && (other ? between(one.item, other.item) : figuresOf(one.item));
    for (const { from, to } of figures ?? []) {
      if (!from || !to) continue;
      const ends = [new THREE.Vector3(...from), new THREE.Vector3(...to)];
      this.lengths.add(drawnLine(ends, COLOURS.taken), drawnPoints([from, to], 7, COLOURS.taken));
    }
    this.stage?.redraw();
    this.onChange(targets.map(({ of, item }) => ({ of, item })));
  }

  click(event: PointerEvent): void {
    const hit = this.stage?.hitUnder(event);
    if (!hit) return;
    void this.exactOf(hit.body).then((exact) => {
      const target = exact && this.targetAt(hit, exact);
      // A third thing begins anew.
      if (target) this.measure(this.targets.length === 1 ? [...this.targets, target] : [target]);
    });
  }

  move(event: PointerEvent): void {
    emptyGroup(this.pointed);
    const hit = this.stage?.hitUnder(event);
    if (hit) {
      const exact = this.exact.known(hit.body);
      if (exact) this.draw(this.pointed, this.targetAt(hit, exact), COLOURS.pointed);
      else if (exact === undefined) void this.exactOf(hit.body);
    }
    this.stage?.redraw();
  }

  private async exactOf(body: InstancedBody): Promise<ExactBody | null> {
    const found = await this.exact.of(body);
    this.onTrouble(
      found
        ? null
        : 'This body cannot be measured: its exact shape is not prepared. Wait until all shapes are there, and try again.',
    );
    return found;
  }

  /** The point, else the edge, else the face that a pointer is at. */
  private targetAt({ body, instance, pick }: FaceHit, exact: ExactBody): Target | null {
    const { stage } = this;
    if (!stage) return null;
    const { belongs, shown } = body.placesOf(instance);
    const local = new THREE.Vector3(...pick.point)
      .applyMatrix4(shown.clone().invert())
      .toArray() as unknown as ExactPoint;
    const pixel = this.pixelAt(new THREE.Vector3(...pick.point));
    const own =
      this.pointAt(exact, local, CATCH.point * pixel) ??
      this.edgeAt(exact, local, CATCH.edge * pixel) ??
      (exact.faces[pick.face] && { what: 'face' as const, face: exact.faces[pick.face]! });
    if (!own) return null;
    const item = placed(own, belongs.clone().transpose().toArray() as Matrix4);
    return { of: pick.name, own, item, body, face: pick.face, shown };
  }

  private pointAt({ edges }: ExactBody, local: ExactPoint, reach: number): Measurable | null {
    let best: { at: ExactPoint; away: number } | null = null;
    for (const edge of edges) {
      if (edge.kind === 'free') continue;
      // It has no corner.
      if (isWhole(edge)) continue;
      for (const at of [edge.from, edge.to]) {
        const away = Math.hypot(...at.map((value, n) => value - local[n]!));
        if (away < reach && (!best || away < best.away)) best = { at, away };
      }
    }
    return best && { what: 'point', at: best.at };
  }

  private edgeAt({ edges }: ExactBody, local: ExactPoint, reach: number): Measurable | null {
    let least = reach;
    let best: Measurable | null = null;
    for (const edge of edges) {
      const away = distanceToEdge(edge, local);
      if (away >= least) continue;
      least = away;
      best = { what: 'edge', edge };
    }
    return best;
  }

  /** How many millimetres a pixel takes at a point. */
  private pixelAt(point: THREE.Vector3): number {
    const { camera, canvas } = this.stage!;
    const { fov } = camera as THREE.PerspectiveCamera;
    const distance = camera.position.distanceTo(point);
    return (2 * Math.tan((fov * Math.PI) / 360) * distance) / canvas.clientHeight;
  }

  private draw(group: THREE.Group, target: Target | null, color: string): void {
    if (!target) return;
    const { own, body, face, shown } = target;
    if (own.what === 'point') {
      const at = new THREE.Vector3(...own.at).applyMatrix4(shown);
      group.add(drawnPoints([at.toArray() as unknown as ExactPoint], 11, color));
    } else if (own.what === 'edge') {
      const points = pointsOf(own.edge).map((point) => new THREE.Vector3(...point).applyMatrix4(shown));
      group.add(
        drawnLine(points, color),
        drawnPoints(
          points.map((point) => point.toArray() as unknown as ExactPoint),
          4,
          color,
        ),
      );
    } else {
      const range = faceRange(body.geometry, face);
      if (range) group.add(drawnFace(body.geometry, range, shown, color, 0.45));
    }
    this.stage?.redraw();
  }
}
