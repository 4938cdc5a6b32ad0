import * as THREE from 'three';
import type { Point } from '#core/geometry/shape/cut';
import type { Matrix4 } from '#core/product/matrix';
import { Handle } from './handle';
import type { StageTool, ToolStage } from './stage-tool';
import { offAxis, turnOf, withinHalfTurn } from './turn-under';

/** What the handle has hold of. */
export interface Held {
  /** Rows that go with it. */
  rows: ReadonlySet<number>;
  /** How they have moved from where they belong. */
  moved: Matrix4;
  /** Along and about whose axes it goes; where those lie does not matter. */
  axes: Matrix4;
}

/** How far something was moved by hand. */
export interface HandMotion {
  /** mm along the axes, in steps of about a pixel. */
  shift: Point;
  /** The motion as such, in the scene. */
  motion: Matrix4;
  /** mm, and degrees: to what it is rounded. */
  step: number;
  /** Which axis it turns about, and how far in degrees; null where it is shifted. */
  turn: { axis: 0 | 1 | 2; angle: number } | null;
}

/** Degrees. */
const WHOLE = 1;

/** Moves what is held along the axes of its assembly, or about them, by a handle in its middle. */
export class HandTool implements StageTool {
  readonly group = new THREE.Group();
  private stage: ToolStage | null = null;
  private handle: Handle | null = null;
  private held: Held | null = null;
  private isTurning = false;
  private isDragging = false;
  private middle = new THREE.Vector3();
  /** Under the pointer, and where it was when it took hold. */
  private ray: THREE.Ray | null = null;
  private pressed: THREE.Ray | null = null;

  /** @param onMove told how far it is from where it was taken hold of; and whether it was let go */
  constructor(private readonly onMove: (by: HandMotion, isLetGo: boolean) => void) {}

  get takesPointer(): boolean {
    return this.isGrabbed;
  }

  get isGrabbed(): boolean {
    return this.isDragging || (this.handle?.isGrabbed ?? false);
  }

  set(held: Held | null, isTurning: boolean): void {
    this.held = held;
    this.isTurning = isTurning;
    this.put();
  }

  attach(stage: ToolStage): void {
    this.stage = stage;
    let last: HandMotion | null = null;
    const tell = (motion: HandMotion) => {
      last = motion;
      this.onMove(motion, false);
    };
    // Before the handle hears of it.
    stage.canvas.addEventListener('pointerdown', this.onPointer, { capture: true });
    stage.canvas.addEventListener('pointermove', this.onPointer, { capture: true });
    this.handle = new Handle(this.group, stage.camera, stage.canvas, {
      onDrag: (by) => tell(this.shiftBy(by)),
      onTurn: (axis) => tell(this.turnAbout(axis)),
      onDragging: (is) => {
        this.isDragging = is;
        stage.holdEye(is);
        if (is) {
          last = null;
          this.pressed = this.ray;
        } else if (last) this.onMove(last, true);
        if (!is) this.put();
      },
      onChange: () => stage.redraw(),
    });
    this.put();
  }

  detach(): void {
    this.handle?.dispose();
    this.handle = null;
    this.isDragging = false;
    if (this.stage) {
      this.stage.holdEye(false);
      this.stage.canvas.removeEventListener('pointerdown', this.onPointer, { capture: true });
      this.stage.canvas.removeEventListener('pointermove', this.onPointer, { capture: true });
    }
    this.stage = null;
  }

  bodiesChanged(): void {
    this.put();
  }

  private readonly onPointer = (event: PointerEvent): void => {
    this.ray = this.stage?.rayOf(event).ray ?? null;
  };

  click(): void {}

  move(): void {}

  /** While it is dragged it stays where it is: what it moves follows it. */
  private put(): void {
    const { stage, handle, held } = this;
    if (!stage || !handle || this.isDragging) return;
    const box = new THREE.Box3();
    if (held) for (const body of stage.bodies) box.union(body.bounds((row) => held.rows.has(row)));
    if (!held || box.isEmpty()) {
      handle.put(null);
    } else {
      this.middle = box.getCenter(this.middle).applyMatrix4(matrixOf(held.moved));
      handle.turns(this.isTurning);
      handle.put(this.middle, this.axes());
    }
    stage.redraw();
  }

  private shiftBy(by: THREE.Vector3): HandMotion {
    const axes = this.axes();
    const step = this.stepOf();
    const along = by.applyQuaternion(axes.clone().invert()).toArray();
    const shift = along.map((value) => rounded(value, step)) as unknown as Point;
    const motion = new THREE.Matrix4().setPosition(new THREE.Vector3(...shift).applyQuaternion(axes));
    return { shift, turn: null, step, motion: rowMajor(motion) };
  }

  /** Turned as far as the pointer has gone around. */
  private turnAbout(axis: 0 | 1 | 2): HandMotion {
    const axes = this.axes();
    const [about, across] = [0, 1].map((n) =>
      new THREE.Vector3().setComponent((axis + n) % 3, 1).applyQuaternion(axes),
    ) as [THREE.Vector3, THREE.Vector3];
    const [from, to] = [this.pressed!, this.ray!].map((ray) =>
      turnOf(offAxis(ray, this.middle, about), about, across),
    ) as [number, number];
    const angle = rounded(withinHalfTurn(to - from), WHOLE);
    const radians = (angle * Math.PI) / 180;
    this.handle!.showTurned(new THREE.Quaternion().setFromAxisAngle(about, radians));
    const motion = new THREE.Matrix4()
      .makeTranslation(this.middle)
      .multiply(new THREE.Matrix4().makeRotationAxis(about, radians))
      .multiply(new THREE.Matrix4().makeTranslation(this.middle.clone().negate()));
    return { shift: [0, 0, 0], turn: { axis, angle }, step: WHOLE, motion: rowMajor(motion) };
  }

  private axes(): THREE.Quaternion {
    return new THREE.Quaternion().setFromRotationMatrix(matrixOf(this.held!.axes));
  }

  /** A decimal step that a pixel or two show, mm. */
  private stepOf(): number {
    const { camera, canvas } = this.stage!;
    const { fov } = camera as THREE.PerspectiveCamera;
    const distance = camera.position.distanceTo(this.middle);
    const pixel = (2 * Math.tan((fov * Math.PI) / 360) * distance) / Math.max(1, canvas.clientHeight);
    return 10 ** Math.round(Math.log10(pixel));
  }
}

function rounded(value: number, step: number): number {
  return Number((Math.round(value / step) * step).toPrecision(12)) + 0;
}

function matrixOf(rows: Matrix4): THREE.Matrix4 {
  return new THREE.Matrix4().fromArray(rows as number[]).transpose();
}

function rowMajor(matrix: THREE.Matrix4): Matrix4 {
  return matrix.clone().transpose().toArray();
}
