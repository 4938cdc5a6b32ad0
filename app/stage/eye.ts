import CameraControls from 'camera-controls';
import * as THREE from 'three';
import type { Point } from '#core/geometry/shape/cut';
import type { Sight } from './detail';
import type { Pose } from './twins';
import type { Direction } from './types';

CameraControls.install({ THREE });

const DIRECTIONS: { [direction in Direction]: readonly [number, number, number] } = {
  front: [0, -1, 0],
  back: [0, 1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  top: [0, -0.0001, 1],
  below: [0, -0.0001, -1],
  corner: [0.82, -1, 0.55],
};

/** So many views one can go back to. */
const MOST_REMEMBERED = 40;

/** Where one looks from: the camera, and what the mouse does with it. Up is z. */
export class Eye {
  readonly camera = new THREE.PerspectiveCamera(24, 1, 1, 1e5);
  readonly controls: CameraControls;
  /** Whether somebody holds it: the button is down. */
  isHeld = false;
  /** Where one looked from before, the newest last. */
  private readonly before: Pose[] = [];

  /** @param onMove called when the next frame will look different */
  constructor(canvas: HTMLCanvasElement, onMove: () => void) {
    this.camera.up.set(0, 0, 1);
    this.camera.position.set(3000, -4000, 2500);
    this.controls = new CameraControls(this.camera, canvas);
    // Before the controls hear of it: nearer is towards the pointer then.
    canvas.addEventListener('wheel', () => this.settle(), { capture: true, passive: true });
    this.controls.smoothTime = 0.12;
    this.controls.draggingSmoothTime = 0.03;
    this.controls.dollyToCursor = true;
    this.controls.maxPolarAngle = Math.PI;
    this.controls.mouseButtons.right = CameraControls.ACTION.TRUCK;
    this.controls.mouseButtons.middle = CameraControls.ACTION.TRUCK;
    for (const event of ['control', 'update', 'wake'] as const) this.controls.addEventListener(event, onMove);
    this.controls.addEventListener('controlstart', () => {
      this.isHeld = true;
      this.remember();
    });
    this.controls.addEventListener('controlend', () => {
      this.isHeld = false;
    });
  }

  /** Moves on by so many seconds. @returns whether it has moved */
  advance(seconds: number): boolean {
    const moved = this.controls.update(seconds);
    // The controls take the offset along the axes of the time before.
    if (this.isOff) this.controls.update(0);
    return moved;
  }

  /** Whether it turns about a point that is not in the middle of the picture. */
  private get isOff(): boolean {
    return this.controls.getFocalOffset(new THREE.Vector3(), false).lengthSq() > 0;
  }

  /** From now on it turns about a point, which stays where it is in the picture. */
  turnAbout(point: Point): void {
    this.settle();
    this.controls.setOrbitPoint(...point);
  }

  /**
   * Has it turn about what is in the middle of the picture again. What is seen stays as it is: while it turns about another point, the
   * camera lies off the axis that the controls know.
   */
  settle(): void {
    if (!this.isOff) return;
    const { at, target } = this.pose;
    void this.controls.setFocalOffset(0, 0, 0, false);
    void this.controls.setLookAt(...at, ...target, false);
  }

  /** Turns about what it looks at, degrees to the right and up; nearer for a factor below 1. */
  turn(right: number, up: number, factor: number): void {
    this.settle();
    this.remember();
    const { DEG2RAD } = THREE.MathUtils;
    void this.controls.rotate(right * DEG2RAD, -up * DEG2RAD, !reducedMotion());
    if (factor !== 1) void this.controls.dollyTo(this.controls.distance * factor, !reducedMotion());
  }

  /** Looks again as before the last move. */
  back(): void {
    const last = this.before.pop();
    if (!last) return;
    this.settle();
    void this.controls.setLookAt(...last.at, ...last.target, !reducedMotion());
  }

  /** Where it is, and what it looks at. */
  get pose(): Pose {
    const { position } = this.camera;
    const ahead = this.camera.getWorldDirection(new THREE.Vector3()).multiplyScalar(this.controls.distance);
    const target = ahead.add(position);
    return { at: position.toArray() as unknown as Point, target: target.toArray() as unknown as Point };
  }

  /** Puts it somewhere at once. */
  put({ at, target }: Pose): void {
    void this.controls.setFocalOffset(0, 0, 0, false);
    void this.controls.setLookAt(...at, ...target, false);
  }

  /** What is seen, for the decision about detail. @param height of the picture, pixels */
  sight(height: number): Sight {
    this.camera.updateMatrixWorld();
    const seen = new THREE.Matrix4().multiplyMatrices(
      this.camera.projectionMatrix,
      this.camera.matrixWorldInverse,
    );
    const { planes } = new THREE.Frustum().setFromProjectionMatrix(seen);
    return {
      at: this.camera.position.toArray(),
      pixels: height / (2 * Math.tan((this.camera.fov * Math.PI) / 360)),
      planes: Float32Array.from(planes.flatMap(({ normal, constant }) => [...normal.toArray(), constant])),
    };
  }

  private remember(): void {
    this.before.push(this.pose);
    if (this.before.length > MOST_REMEMBERED) this.before.shift();
  }

  /** Looks at a box from a standard direction. */
  look(direction: Direction, box: THREE.Box3, animated = true): void {
    this.standOff(new THREE.Vector3(...DIRECTIONS[direction]), box, animated);
  }

  /** Looks straight at a plane, at the whole of a box. */
  lookAlong(normal: Point, box: THREE.Box3): void {
    const towards = new THREE.Vector3(...normal);
    // Straight from above or below there is no telling which way is up.
    if (Math.hypot(towards.x, towards.y) < 1e-3 * towards.length()) towards.y -= 1e-4 * towards.length();
    this.standOff(towards, box, true);
  }

  /** Moves near to a box, keeping the direction. */
  fit(box: THREE.Box3): void {
    const { at, target } = this.pose;
    this.standOff(new THREE.Vector3(...at).sub(new THREE.Vector3(...target)), box, true);
  }

  /** Depth is precise only between planes that lie as near together as the model allows. */
  closeIn(bounds: THREE.Box3): void {
    if (bounds.isEmpty()) return;
    const sphere = bounds.getBoundingSphere(new THREE.Sphere());
    const distance = this.camera.position.distanceTo(sphere.center);
    this.camera.near = Math.max(distance / 150, distance - sphere.radius * 1.3, 0.05);
    this.camera.far = distance + sphere.radius * 2.5;
    this.camera.updateProjectionMatrix();
  }

  resize(width: number, height: number): void {
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
  }

  dispose(): void {
    this.controls.dispose();
  }

  /** Puts the eye in a direction from a box, as near as still shows the whole of it. */
  private standOff(towards: THREE.Vector3, box: THREE.Box3, animated: boolean): void {
    if (box.isEmpty()) return;
    this.settle();
    const center = box.getCenter(new THREE.Vector3());
    const direction = towards.normalize();
    if (animated) this.remember();
    const eye = direction.clone().multiplyScalar(this.distanceFor(box, direction)).add(center);
    void this.controls.setLookAt(
      eye.x,
      eye.y,
      eye.z,
      center.x,
      center.y,
      center.z,
      animated && !reducedMotion(),
    );
  }

  /** The distance from the middle of a box at which each of its corners just comes into the picture. */
  private distanceFor(box: THREE.Box3, direction: THREE.Vector3): number {
    const vertical = Math.tan((this.camera.fov * Math.PI) / 360) * 0.9;
    const horizontal = vertical * this.camera.aspect;
    const half = box.getSize(new THREE.Vector3()).multiplyScalar(0.5);
    const across = new THREE.Vector3().crossVectors(this.camera.up, direction).normalize();
    const upward = new THREE.Vector3().crossVectors(direction, across);
    let distance = 0;
    for (let n = 0; n < 8; n++) {
      const corner = new THREE.Vector3(
        n & 1 ? half.x : -half.x,
        n & 2 ? half.y : -half.y,
        n & 4 ? half.z : -half.z,
      );
      const away = Math.max(
        Math.abs(corner.dot(across)) / horizontal,
        Math.abs(corner.dot(upward)) / vertical,
      );
      distance = Math.max(distance, corner.dot(direction) + away);
    }
    return Math.max(distance, half.length() * 1.05);
  }
}

function reducedMotion(): boolean {
  return window.matchMedia('(prefers-reduced-motion: reduce)').matches;
}
