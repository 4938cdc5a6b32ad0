import * as THREE from 'three';
import { TransformControls } from 'three/addons/controls/TransformControls.js';

interface Callbacks {
  /** An arrow was dragged: how far the handle is from where it was put, in the scene, mm. */
  onDrag(by: THREE.Vector3): void;
  /** A ring was dragged: about which axis of the handle. */
  onTurn?(axis: 0 | 1 | 2): void;
  onDragging(is: boolean): void;
  onChange(): void;
}

/** Muted like the rest of the stage, and still told apart: x, y, z, and what the pointer is on. */
const COLOURS = { x: '#a8432b', y: '#4d7a3a', z: '#35618c', active: '#1e6f66' };

/** A handle that moves something along the axes of a frame by its arrows, or about them by its rings. */
export class Handle {
  private readonly controls: TransformControls;
  private readonly held = new THREE.Object3D();
  private readonly start = { at: new THREE.Vector3(), turned: new THREE.Quaternion() };

  constructor(
    parent: THREE.Object3D,
    camera: THREE.Camera,
    canvas: HTMLCanvasElement,
    { onDrag, onTurn, onDragging, onChange }: Callbacks,
  ) {
    this.controls = new TransformControls(camera, canvas);
    this.controls.setSize(0.8);
    this.controls.setSpace('local');
    // Only what goes about an axis of the frame can be read in numbers.
    this.controls.showE = false;
    this.controls.showXYZE = false;
    this.controls.setColors(COLOURS.x, COLOURS.y, COLOURS.z, COLOURS.active);
    this.controls.enabled = false;
    parent.add(this.held, this.controls.getHelper());
    this.controls.addEventListener('change', onChange);
    this.controls.addEventListener('dragging-changed', ({ value }) => onDragging(value === true));
    this.controls.addEventListener('objectChange', () => {
      if (this.controls.mode === 'translate') onDrag(this.held.position.clone().sub(this.start.at));
      else onTurn?.('XYZ'.indexOf(this.controls.axis!) as 0 | 1 | 2);
    });
  }

  /** Whether the pointer is on an arrow or a ring. */
  get isGrabbed(): boolean {
    return this.controls.enabled && this.controls.axis !== null;
  }

  turns(on: boolean): void {
    this.controls.setMode(on ? 'rotate' : 'translate');
  }

  /** Shows how far it is turned from how it was put. */
  showTurned(by: THREE.Quaternion): void {
    this.held.quaternion.copy(by).multiply(this.start.turned);
  }

  /** Puts the handle somewhere, along the axes of the scene or others, or takes it away. */
  put(at: THREE.Vector3 | null, axes?: THREE.Quaternion): void {
    this.controls.enabled = at !== null;
    if (!at) {
      this.controls.detach();
      return;
    }
    this.start.at.copy(at);
    this.start.turned.copy(axes ?? new THREE.Quaternion());
    this.held.position.copy(at);
    this.held.quaternion.copy(this.start.turned);
    this.controls.attach(this.held);
  }

  dispose(): void {
    this.controls.detach();
    this.held.removeFromParent();
    this.controls.getHelper().removeFromParent();
    this.controls.dispose();
  }
}
