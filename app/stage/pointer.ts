interface Handlers {
  /** A press that may become a click or a drag. */
  onPress(event: PointerEvent): void;
  /** A press that was let go where it began: no drag. */
  onClick(event: PointerEvent): void;
  /** The same with the right button. */
  onMenu(event: PointerEvent): void;
  /** The pointer rests or moves over the picture; not more often than `pause`. */
  onHover(event: PointerEvent): void;
  onLeave(): void;
  /** Milliseconds between two looks at where the pointer is. */
  pause(): number;
}

/** A press that moves farther than this is a drag, in pixels. */
const STILL = 4;

/** Tells clicks from drags, and looks now and then where the pointer is: picking under each move would cost too much. */
export class StagePointer {
  private pressed: { x: number; y: number } | null = null;
  private isWaiting = false;
  private isGone = false;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly handlers: Handlers,
  ) {
    canvas.addEventListener('pointerdown', this.onDown);
    canvas.addEventListener('pointerup', this.onUp);
    canvas.addEventListener('pointermove', this.onMove);
    canvas.addEventListener('pointerleave', this.onLeave);
  }

  dispose(): void {
    this.isGone = true;
    this.canvas.removeEventListener('pointerdown', this.onDown);
    this.canvas.removeEventListener('pointerup', this.onUp);
    this.canvas.removeEventListener('pointermove', this.onMove);
    this.canvas.removeEventListener('pointerleave', this.onLeave);
  }

  private readonly onDown = (event: PointerEvent): void => {
    this.pressed = { x: event.clientX, y: event.clientY };
    this.handlers.onPress(event);
  };

  private readonly onUp = (event: PointerEvent): void => {
    const { pressed } = this;
    this.pressed = null;
    if (!pressed || Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y) >= STILL) return;
    if (event.button === 0) this.handlers.onClick(event);
    else if (event.button === 2) this.handlers.onMenu(event);
  };

  private readonly onMove = (event: PointerEvent): void => {
    if (this.pressed || this.isWaiting) return;
    this.isWaiting = true;
    setTimeout(() => {
      this.isWaiting = false;
      if (!this.isGone && !this.pressed) this.handlers.onHover(event);
    }, this.handlers.pause());
  };

  private readonly onLeave = (): void => this.handlers.onLeave();
}
