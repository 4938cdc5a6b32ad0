import * as THREE from 'three';
import { drawnFace, emptyGroup } from './drawn-shapes';
import { faceRange } from './picking';
import type { StageTool, ToolStage } from './stage-tool';

/** A face to be lit. */
export interface LitFace {
  row: number;
  face: number;
}

const COLOUR = '#1e6f66';

/** Lights faces of bodies. Clicks go on to whoever listens to the stage. */
export class FacesTool implements StageTool {
  readonly group = new THREE.Group();
  readonly takesPointer = false;
  private stage: ToolStage | null = null;
  private faces: readonly LitFace[] = [];

  attach(stage: ToolStage): void {
    this.stage = stage;
    this.show();
  }

  detach(): void {
    this.stage = null;
    emptyGroup(this.group);
  }

  set(faces: readonly LitFace[]): void {
    this.faces = faces;
    this.show();
  }

  bodiesChanged(): void {
    this.show();
  }

  click(): void {}

  move(): void {}

  private show(): void {
    emptyGroup(this.group);
    const { stage } = this;
    if (!stage) return;
    for (const { row, face } of this.faces) {
      const body = stage.bodies.find(({ rows }) => rows.includes(row));
      const matrix = body?.matrixOf(row);
      const range = body && faceRange(body.geometry, face);
      if (body?.geometry.index && matrix && range)
        this.group.add(drawnFace(body.geometry, range, matrix, COLOUR, 0.6));
    }
    stage.redraw();
  }
}
