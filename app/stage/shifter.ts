import * as THREE from 'three';
import { TransformControls } from 'three/addons/controls/TransformControls.js';

interface Callbacks {
  /** The handle was dragged: how far it is from where it was put, mm. */
  onDrag(by: THREE.Vector3): void;
  onDragging(is: boolean): void;
  onChange(): void;
}

/** Muted like the rest of the stage, and still told apart: x, y, z, and what the pointer is on. */
const COLOURS = { x: '#a8432b', y: '#4d7a3a', z: '#35618c', active: '#1e6f66' };

/** A handle with three arrows that shifts bodies along an axis, for a look. */
export class Shifter {
  private readonly controls: TransformControls;
  private readonly handle = new THREE.Object3D();
  private readonly start = new THREE.Vector3();

  constructor(
    scene: THREE.Scene,
    camera: THREE.Camera,
    canvas: HTMLCanvasElement,
    { onDrag, onDragging, onChange }: Callbacks,
  ) {
    this.controls = new TransformControls(camera, canvas);
    this.controls.setSize(0.8);
    this.controls.setColors(COLOURS.x, COLOURS.y, COLOURS.z, COLOURS.active);
    this.controls.enabled = false;
    scene.add(this.handle, this.controls.getHelper());
    this.controls.addEventListener('change', onChange);
    this.controls.addEventListener('dragging-changed', ({ value }) => onDragging(value === true));
    this.controls.addEventListener('objectChange', () =>
      onDrag(this.handle.position.clone().sub(this.start)),
    );
  }

  /** Whether the pointer is on an arrow. */
  get isGrabbed(): boolean {
    return this.controls.enabled && this.controls.axis !== null;
  }

  /** Puts the handle somewhere, or takes it away. */
  put(at: THREE.Vector3 | null): void {
    this.controls.enabled = at !== null;
    if (!at) {
      this.controls.detach();
      return;
    }
    this.start.copy(at);
    this.handle.position.copy(at);
    this.controls.attach(this.handle);
  }

  dispose(): void {
    this.controls.detach();
    this.controls.dispose();
  }
}
