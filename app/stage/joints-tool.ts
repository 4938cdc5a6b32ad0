import * as THREE from 'three';
import type { Point } from '#core/geometry/shape/cut';
import { drawnLine, drawnPoints, emptyGroup } from './drawn-shapes';
import type { StageTool, ToolStage } from './stage-tool';
import { offAxis, turnOf, withinHalfTurn } from './turn-under';

/** A joint as the stage draws it. */
export interface DrawnJoint {
  at: Point;
  direction: Point;
  /** Across the direction: the first way in which a planar joint slides, and where turns are counted from. */
  across: Point;
  /** What goes when it is dragged. */
  drags: 'turn' | 'way' | 'slide';
  /** Half of the length of its axis, mm. */
  reach: number;
}

const COLOUR = '#b4451f';

/** The joint that moves a group. */
export interface MovedBy {
  joint: number;
  /** How far the group has gone already: degrees, mm, or mm in both directions of a plane. */
  value: readonly number[];
  /** Whether the joint goes as the group does, and not the other way round. */
  isForward: boolean;
}

interface Hold {
  joint: number;
  /** As it stood when it was taken hold of: its axis may go along with what moves. */
  drawn: DrawnJoint;
  isForward: boolean;
  /** Turn (degrees) or ways (mm) where it was taken hold of. */
  start: number[];
  /** Where the pointer was pressed, in pixels. */
  pressed: { x: number; y: number };
}

/** A press that moves farther than this is a drag, in pixels. */
const STILL = 4;

/**
 * Draws the axes of joints, and moves groups: what is pressed is dragged. For whoever cannot hold a button down: a click takes hold, and
 * another one lets go. A press beside the groups that move turns the view, as always.
 */
export class JointsTool implements StageTool {
  readonly group = new THREE.Group();
  private stage: ToolStage | null = null;
  private joints: readonly DrawnJoint[] = [];
  private isHolding = false;
  private hold: Hold | null = null;
  private moves = false;

  /**
   * @param jointOf what moves a row; null for what stands still
   * @param onDrive told how far a joint shall go: degrees, mm, or mm in both directions of a plane
   */
  constructor(
    private readonly jointOf: (row: number) => MovedBy | null,
    private readonly onDrive: (joint: number, value: readonly number[]) => void,
  ) {}

  get takesPointer(): boolean {
    return this.moves;
  }

  /** Whether presses move groups. */
  setMoving(on: boolean): void {
    this.moves = on;
    this.letGo();
  }

  set(joints: readonly DrawnJoint[]): void {
    this.joints = joints;
    this.show();
  }

  attach(stage: ToolStage): void {
    this.stage = stage;
    // Before the stage hears of it, which would turn the view.
    stage.canvas.addEventListener('pointerdown', this.onPress, { capture: true });
    stage.canvas.addEventListener('pointerup', this.onRelease);
    this.show();
  }

  detach(): void {
    if (this.stage) {
      const { canvas } = this.stage;
      canvas.style.cursor = '';
      canvas.removeEventListener('pointerdown', this.onPress, { capture: true });
      canvas.removeEventListener('pointerup', this.onRelease);
    }
    this.stage = null;
    this.hold = null;
    emptyGroup(this.group);
  }

  bodiesChanged(): void {}

  /** Of a press that was on nothing that moves. */
  click(): void {}

  private readonly onPress = (event: PointerEvent): void => {
    const { stage } = this;
    if (!stage || !this.moves || event.button !== 0) return;
    if (this.hold) {
      event.stopImmediatePropagation();
      this.letGo();
      return;
    }
    const hit = stage.hitUnder(event);
    const moved = hit && this.jointOf(hit.pick.row);
    const drawn = moved && this.joints[moved.joint]!;
    const gone = drawn && this.goneTo(event, drawn);
    if (!moved || !drawn || !gone) return;
    event.stopImmediatePropagation();
    // Also when it is let go outside the picture.
    stage.canvas.setPointerCapture?.(event.pointerId);
    const pressed = { x: event.clientX, y: event.clientY };
    const { joint, isForward, value } = moved;
    const start = gone.map((one, n) => one - value[n]!);
    this.hold = { joint, drawn, isForward, start, pressed };
    stage.canvas.style.cursor = 'grabbing';
  };

  private readonly onRelease = ({ clientX, clientY }: PointerEvent): void => {
    if (!this.hold) return;
    const { x, y } = this.hold.pressed;
    if (Math.hypot(clientX - x, clientY - y) >= STILL) this.letGo();
  };

  private letGo(): void {
    this.hold = null;
    if (this.stage) this.stage.canvas.style.cursor = this.moves ? 'grab' : '';
  }

  move(event: PointerEvent): void {
    if (!this.hold || this.isHolding) return;
    const { joint, drawn, isForward, start } = this.hold;
    const gone = this.goneTo(event, drawn);
    if (gone === null) return;
    const values = gone.map((one, n) => {
      const value = one - start[n]!;
      return drawn.drags === 'turn' ? withinHalfTurn(value) : value;
    });
    this.isHolding = true;
    this.onDrive(joint, isForward ? values : values.map((value) => -value));
    requestAnimationFrame(() => {
      this.isHolding = false;
    });
  }

  /** Where the pointer is: about the axis of a joint in degrees, along it in mm, or in its plane in mm. */
  private goneTo(event: PointerEvent, { at, direction, across: first, drags }: DrawnJoint): number[] | null {
    const { ray } = this.stage!.rayOf(event);
    const axis = new THREE.Vector3(...direction).normalize();
    const origin = new THREE.Vector3(...at);
    if (drags === 'way') {
      const across = new THREE.Vector3().crossVectors(ray.direction, axis);
      const normal = new THREE.Vector3().crossVectors(ray.direction, across);
      const along = axis.dot(normal);
      return Math.abs(along) < 1e-9 ? null : [ray.origin.clone().sub(origin).dot(normal) / along];
    }
    const off = offAxis(ray, origin, axis);
    const u = new THREE.Vector3(...first);
    if (drags === 'turn') return [turnOf(off, axis, u)];
    return [off.dot(u), off.dot(new THREE.Vector3().crossVectors(axis, u))];
  }

  private show(): void {
    emptyGroup(this.group);
    if (!this.stage) return;
    for (const { at, direction, across, drags, reach } of this.joints) {
      const axis = new THREE.Vector3(...direction).normalize();
      const origin = new THREE.Vector3(...at);
      const ends = [-1, 1].map((sign) => origin.clone().addScaledVector(axis, sign * reach));
      this.group.add(drawnLine(ends, COLOUR, 0.9), drawnPoints([at], 9, COLOUR));
      if (drags === 'slide') this.group.add(drawnLine(corners(origin, axis, across, reach), COLOUR, 0.9));
    }
    this.stage.redraw();
  }
}

/** A square in the plane of a joint. */
function corners(origin: THREE.Vector3, axis: THREE.Vector3, across: Point, reach: number): THREE.Vector3[] {
  const u = new THREE.Vector3(...across).multiplyScalar(reach / 2);
  const v = new THREE.Vector3().crossVectors(axis, u);
  return [
    [1, 1],
    [-1, 1],
    [-1, -1],
    [1, -1],
    [1, 1],
  ].map(([x, y]) => origin.clone().addScaledVector(u, x!).addScaledVector(v, y!));
}
