import * as THREE from 'three';
import { type DetailBudget, decideDetail } from './detail';
import type { Eye } from './eye';
import { FrameGate } from './frame-gate';
import type { InstancedBody } from './instanced-body';
import { drawsInSoftware } from './surroundings';

/** Milliseconds without a change after which a picture is still. */
const STILL_PAUSE = 350;
/** Triangles of a frame while it turns, and of one that may take its time. */
const BUDGETS = {
  card: {
    moving: { triangles: 2_500_000, tolerance: 1.5 },
    still: { triangles: 15_000_000, tolerance: 0.5 },
  },
  software: { moving: { triangles: 120_000, tolerance: 2 }, still: { triangles: 3_000_000, tolerance: 0.6 } },
};

/** What is drawn, and from where. */
export interface Picture {
  readonly scene: THREE.Scene;
  readonly eye: Eye;
  readonly bodies: readonly InstancedBody[];
  readonly bounds: THREE.Box3;
  /** Whether anything will be drawn soon anyway: a still picture would be for nothing. */
  readonly isUnderWay: boolean;
}

/**
 * Draws frames with as many triangles as leave turning fluid, and at rest as finely as it can be seen. What it has drawn stands in the data
 * of the canvas, for tests.
 */
export class FramePainter {
  readonly renderer: THREE.WebGLRenderer;
  /**
   * Drawing without a graphics card: multisampled lines come out wrong there, so edges are smoothed by drawing a still
   * picture at twice the size instead.
   */
  readonly isSoftware = drawsInSoftware();
  private readonly gate: FrameGate | null;
  private stillTimer: ReturnType<typeof setTimeout> | undefined;
  /** Whether the last frame was drawn more coarsely than can be seen. */
  isCoarse = false;
  private isOver = false;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly picture: Picture,
  ) {
    this.renderer = new THREE.WebGLRenderer({
      canvas,
      antialias: !this.isSoftware,
      alpha: true,
      stencil: true,
      preserveDrawingBuffer: true,
    });
    this.gate = this.isSoftware ? new FrameGate(this.renderer.getContext() as WebGL2RenderingContext) : null;
    this.restorePixels();
    this.renderer.toneMapping = THREE.NeutralToneMapping;
    this.renderer.toneMappingExposure = 1.05;
    this.renderer.localClippingEnabled = true;
  }

  /** Whether the last frame is still being drawn. */
  get isBusy(): boolean {
    return this.gate?.isBusy ?? false;
  }

  /** Number of draw calls of the last frame. */
  get drawCalls(): number {
    return this.renderer.info.render.calls;
  }

  draw(how: 'moving' | 'still'): void {
    this.picture.eye.closeIn(this.picture.bounds);
    this.decide(this.budgets[how]);
    if (this.isSoftware) {
      this.renderer.setPixelRatio(1);
      this.canvas.dataset.fine = '0';
      clearTimeout(this.stillTimer);
      this.stillTimer = setTimeout(() => this.drawFinely(), STILL_PAUSE);
    }
    this.render();
  }

  private drawFinely(): void {
    if (this.isOver) return;
    if (this.isBusy || this.picture.isUnderWay) {
      this.stillTimer = setTimeout(() => this.drawFinely(), STILL_PAUSE);
      return;
    }
    this.renderer.setPixelRatio(2);
    this.decide(this.budgets.still);
    this.render();
    this.canvas.dataset.fine = '1';
  }

  /** One frame in another size, as finely as it can be seen, as PNG on a clear ground. @param size pixels */
  snapshot(width: number, height: number): Promise<Blob> {
    const { renderer, canvas, picture } = this;
    renderer.setPixelRatio(1);
    renderer.setSize(width, height, false);
    picture.eye.resize(width, height);
    picture.eye.closeIn(picture.bounds);
    this.decide(this.budgets.still);
    this.render();
    // What is on the canvas now is taken, whatever is drawn meanwhile.
    return new Promise((give, fail) =>
      canvas.toBlob(
        (blob) => (blob ? give(blob) : fail(new Error('The picture is too large for this browser.'))),
        'image/png',
      ),
    );
  }

  /** As many pixels for each of the page's as the screen has. */
  restorePixels(): void {
    this.renderer.setPixelRatio(this.isSoftware ? 1 : Math.min(2, window.devicePixelRatio));
  }

  private render(): void {
    this.renderer.render(this.picture.scene, this.picture.eye.camera);
    this.gate?.drawn();
  }

  /** Decides how finely each placing is drawn in this frame. */
  private decide(budget: DetailBudget): void {
    const { bodies, eye } = this.picture;
    const { triangles, isFine } = decideDetail(bodies, eye.sight(this.canvas.clientHeight), budget);
    for (const body of bodies) body.arrange();
    // A still that is short of triangles is as fine as it gets: drawn again it would be the same, for ever.
    this.isCoarse = budget !== this.budgets.still;
    this.canvas.dataset.triangles = String(triangles);
    this.canvas.dataset.short = isFine ? '0' : '1';
  }

  private get budgets(): (typeof BUDGETS)['card'] {
    return BUDGETS[this.isSoftware ? 'software' : 'card'];
  }

  dispose(): void {
    this.isOver = true;
    clearTimeout(this.stillTimer);
    this.renderer.dispose();
  }
}
