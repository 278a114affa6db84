/**
 * When a picture is drawn: in the very frame in which all else is shown that it goes with, and a second time in one frame with the next.
 */
export class FrameScheduler {
  private frame = 0;
  /** The frame in which it was drawn last. */
  private drawnAt: CSSNumberish | null = null;

  constructor(private readonly draw: () => void) {}

  /** Draws at once, if nothing was drawn in this frame yet. */
  now(): void {
    const now = frameNow();
    if (now === null || now === this.drawnAt || this.frame !== 0) {
      this.soon();
      return;
    }
    this.drawnAt = now;
    this.draw();
  }

  /** Draws with the next frame. */
  soon(): void {
    if (this.frame !== 0) return;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      this.drawnAt = frameNow();
      this.draw();
    });
  }

  end(): void {
    cancelAnimationFrame(this.frame);
  }
}

/** What tells one frame from another; null where there are none. */
function frameNow(): CSSNumberish | null {
  return document.timeline?.currentTime ?? null;
}
