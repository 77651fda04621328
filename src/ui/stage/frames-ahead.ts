import type { Drawing } from '../../core/plan/plan-views';
import type { FramesClient } from '../store/frames-client';

/** Frames that are asked for before they are due. */
export const FRAMES_AHEAD = 14;
/** Share of a frame's time within which one has to be drawn for all to be drawn whole. */
const IN_TIME = 0.7;
/** From here on drafts are worth replacing by whole frames: what is due sooner comes too late. */
const WORTH_REPLACING = 5;

/** Asks for the frames that are about to be played, no more at a time than are drawn at once, in the quality there is time for. */
export class FramesAhead {
  private readonly frames: Pick<FramesClient, 'shown' | 'draw' | 'drawDraft' | 'atOnce' | 'msOf'>;
  private readonly frameMs: number;
  /** What is on its way. */
  private readonly asked = new Set<Drawing>();
  private replacing: Drawing | null = null;
  private readonly failures = new WeakMap<Drawing, string>();

  private readonly onArrived: () => void;

  /** `onArrived` is told when another frame can be shown. */
  constructor(frames: FramesAhead['frames'], perSecond: number, onArrived: () => void) {
    this.frames = frames;
    this.frameMs = 1000 / perSecond;
    this.onArrived = onArrived;
  }

  /**
   * Asks for what is missing of the frames `drawingAt(1)`, the next one, and those after it.
   * @returns why the one that is due, `drawingAt(0)`, cannot be drawn, or null
   */
  ask(drawingAt: (n: number) => Drawing, width: number, height: number): string | null {
    const { frames } = this;
    let firstDraft: Drawing | null = null;
    let inRow = 0;
    for (let n = 1; n <= FRAMES_AHEAD; n++) {
      const drawing = drawingAt(n);
      const ready = frames.shown(drawing, width, height);
      if (ready !== null || this.failures.has(drawing)) {
        if (inRow === n - 1) inRow = n;
        if (ready?.isDraft === true && n >= WORTH_REPLACING) firstDraft ??= drawing;
      } else if (!this.asked.has(drawing) && this.asked.size <= frames.atOnce) {
        const isTime = frames.msOf(drawing) < IN_TIME * this.frameMs * frames.atOnce;
        const drawn = isTime ? frames.draw(drawing, width, height, 'ahead') : frames.drawDraft(drawing, width, height, 'ahead');
        this.asked.add(drawing);
        this.follow(drawing, drawn, () => {
          this.asked.delete(drawing);
          this.onArrived();
        });
      }
    }
    if (firstDraft !== null && inRow === FRAMES_AHEAD && this.replacing === null) {
      this.replacing = firstDraft;
      this.follow(firstDraft, frames.draw(firstDraft, width, height, 'ready'), () => (this.replacing = null));
    }
    return this.failures.get(drawingAt(0)) ?? null;
  }

  private follow(drawing: Drawing, drawn: Promise<ImageBitmap | null>, onEnd: () => unknown): void {
    void drawn.catch((error: Error) => void this.failures.set(drawing, error.message)).finally(onEnd);
  }
}
