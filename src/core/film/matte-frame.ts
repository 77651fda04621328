/** What is known of a stored matte frame without its coverage. Frames are medium frames. */
export interface MatteFrame {
  readonly frame: number;
  /** Cut from strokes on this very frame, or carried to it. */
  readonly origin: 'hand' | 'carried';
  /** Kept as it is: carrying passes it by. */
  readonly settled: boolean;
  /** 0..1 */
  readonly confidence: number;
  /** Where it is most in doubt, medium pixels from the centre. */
  readonly doubt: { readonly x: number; readonly y: number } | null;
  /** What strokes it was cut from; tells whether they have changed since. */
  readonly madeFrom: string;
  /** Changes whenever the coverage does. */
  readonly version: number;
}

/** Confidence under which a frame is shown as doubtful. */
export const DOUBTFUL = 0.6;
