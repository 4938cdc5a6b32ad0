import * as THREE from 'three';
import type { ExactBody } from '#core/geometry/shape/exact';
import type { FacePoint } from '#core/geometry/shape/lay';
import { placed } from '#core/geometry/shape/measure';
import type { Matrix4 } from '#core/product/matrix';
import { drawnFace, emptyGroup } from './drawn-shapes';
import type { ExactShapes } from './exact-shapes';
import { type FaceHit, faceRange } from './picking';
import type { StageTool, ToolStage } from './stage-tool';

const COLOURS = { pointed: '#1e6f66', taken: '#b4451f' };

/** A face that was picked, as it is shown in the scene; with the way out of the body where the pointer was. */
export interface LaidFace extends FacePoint {
  normal: readonly [number, number, number];
}

/** Picks a face of what is held, and then one of the rest that it is laid on. */
export class LayTool implements StageTool {
  readonly group = new THREE.Group();
  readonly takesPointer = true;
  private readonly pointed = new THREE.Group();
  private readonly taken = new THREE.Group();
  private stage: ToolStage | null = null;

  /**
   * @param onPick told of a face, and whether it is one of what is held
   * @param onTrouble told why nothing can be picked on a body
   */
  constructor(
    private readonly exact: ExactShapes,
    private readonly isHeld: (row: number) => boolean,
    private readonly onPick: (face: LaidFace, isHeld: boolean) => void,
    private readonly onTrouble: (words: string | null) => void,
  ) {
    this.group.add(this.taken, this.pointed);
  }

  attach(stage: ToolStage): void {
    this.stage = stage;
    stage.canvas.style.cursor = 'crosshair';
  }

  detach(): void {
    if (this.stage) this.stage.canvas.style.cursor = '';
    this.stage = null;
    this.forget();
    emptyGroup(this.pointed);
  }

  /** The face of what is held is no longer where it was. */
  forget(): void {
    emptyGroup(this.taken);
    this.stage?.redraw();
  }

  bodiesChanged(): void {
    this.forget();
  }

  click(event: PointerEvent): void {
    const hit = this.stage?.hitUnder(event);
    if (hit) void this.exact.of(hit.body).then((exact) => this.pick(hit, exact));
  }

  move(event: PointerEvent): void {
    emptyGroup(this.pointed);
    const hit = this.stage?.hitUnder(event);
    if (hit) {
      this.draw(this.pointed, hit, COLOURS.pointed);
      // Whoever clicks then does not wait.
      if (this.exact.known(hit.body) === undefined) void this.exact.of(hit.body);
    }
    this.stage?.redraw();
  }

  private pick(hit: FaceHit, exact: ExactBody | null): void {
    if (!this.stage) return;
    const face = exact?.faces[hit.pick.face];
    this.onTrouble(
      face
        ? null
        : 'Nothing can be laid on this body: its exact shape is not prepared. Wait until all shapes are there, and try again.',
    );
    if (!face) return;
    const isHeld = this.isHeld(hit.pick.row);
    this.forget();
    if (isHeld) this.draw(this.taken, hit, COLOURS.taken);
    const { shown } = hit.body.placesOf(hit.instance);
    const item = placed({ what: 'face', face }, shown.clone().transpose().toArray() as Matrix4);
    if (item.what !== 'face') return;
    this.onPick({ face: item.face, point: hit.pick.point, normal: hit.pick.normal }, isHeld);
    this.stage.redraw();
  }

  private draw(group: THREE.Group, { body, instance, pick }: FaceHit, colour: string): void {
    const range = faceRange(body.geometry, pick.face);
    if (range) group.add(drawnFace(body.geometry, range, body.placesOf(instance).shown, colour, 0.5));
  }
}
