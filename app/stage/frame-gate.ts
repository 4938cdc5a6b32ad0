/**
 * Keeps frames from piling up where they are drawn in software. Each takes long there, and the browser takes more of them than it can
 * draw: what is queued holds up everything that comes after.
 */
export class FrameGate {
  private last: WebGLSync | null = null;

  constructor(private readonly context: WebGL2RenderingContext) {}

  /** Whether the frame that was drawn last is not on the screen yet. */
  get isBusy(): boolean {
    const { context, last } = this;
    if (!last) return false;
    if (context.getSyncParameter(last, context.SYNC_STATUS) !== context.SIGNALED) return true;
    context.deleteSync(last);
    this.last = null;
    return false;
  }

  /** Told when a frame was drawn. */
  drawn(): void {
    const { context } = this;
    if (this.last) context.deleteSync(this.last);
    this.last = context.fenceSync(context.SYNC_GPU_COMMANDS_COMPLETE, 0);
    context.flush();
  }
}
