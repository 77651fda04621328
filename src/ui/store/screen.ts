/** What of the stage is told to those who draw it. */
interface ScreenState {
  /** Playing draws on it; the page does not. */
  readonly isLive: boolean;
  /** Why the frame that is due while playing cannot be drawn, or null. */
  readonly problem: string | null;
}

const STANDING: ScreenState = { isLive: false, problem: null };

/** The canvas of the stage that is open. Playing draws on it frame by frame, without the page being drawn anew each time. */
export class Screen {
  private canvas: HTMLCanvasElement | null = null;
  private caption = '';
  private state = STANDING;
  private readonly listeners = new Set<() => void>();

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  readonly now = (): ScreenState => this.state;

  /** The stage is shown on `canvas` from now on; its caption ends with the frame's number. */
  attach(canvas: HTMLCanvasElement, caption: string): void {
    this.canvas = canvas;
    this.caption = caption;
  }

  detach(canvas: HTMLCanvasElement): void {
    if (this.canvas === canvas) this.canvas = null;
  }

  setLive(isLive: boolean): void {
    this.set(isLive ? { isLive, problem: null } : STANDING);
  }

  /** Says that the frame that is due cannot be drawn. */
  fail(reason: string): void {
    if (this.state.problem !== reason) this.set({ ...this.state, problem: reason });
  }

  /** Shows a frame while playing. */
  show(bitmap: ImageBitmap, width: number, height: number, frame: number): void {
    if (this.state.problem !== null) this.set({ ...this.state, problem: null });
    if (this.canvas !== null) paint(this.canvas, bitmap, width, height, this.caption.replace(/\d+$/, String(frame)));
  }

  private set(state: ScreenState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}

/** Draws a picture over all of a canvas, which gets the size that is wanted, and says what it shows. */
export function paint(canvas: HTMLCanvasElement, bitmap: ImageBitmap, width: number, height: number, caption: string): void {
  if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
  const context = canvas.getContext('2d')!;
  context.clearRect(0, 0, width, height);
  context.drawImage(bitmap, 0, 0, width, height);
  canvas.dataset.drawn = caption;
}
