import type * as THREE from 'three';
import type { InstancedBody } from './instanced-body';
import type { FaceHit } from './picking';

/** What a tool may use of the stage that it works on. */
export interface ToolStage {
  readonly camera: THREE.Camera;
  readonly canvas: HTMLCanvasElement;
  /** The bodies that have arrived. */
  readonly bodies: readonly InstancedBody[];
  /** The ray under the pointer. */
  rayOf(event: PointerEvent): THREE.Raycaster;
  /** The face under the pointer, where nothing is cut away. */
  hitUnder(event: PointerEvent): FaceHit | null;
  /** Keeps the eye where it is while something is dragged, or lets it go again. */
  holdEye(is: boolean): void;
  /** Has another frame drawn. */
  redraw(): void;
}

/**
 * Something that draws or picks on the stage beside the model. A page makes it and hands it to the stage, which knows nothing of what
 * it does.
 */
export interface StageTool {
  /** What it draws, in the coordinates of the scene. */
  readonly group: THREE.Object3D;
  /** Whether clicks and moves are for it now: nothing is picked meanwhile. */
  readonly takesPointer: boolean;
  /** Whether a press is for a handle of its own: it turns nothing and picks nothing. */
  readonly isGrabbed?: boolean;
  attach(stage: ToolStage): void;
  /** Bodies arrived, or others took their place. */
  bodiesChanged(): void;
  click(event: PointerEvent): void;
  move(event: PointerEvent): void;
  /** Called when it is taken off the stage, too; it may be attached again. */
  detach(): void;
}
