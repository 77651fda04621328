/** The next thing a recipe lacks: where it is done, and what to do in one sentence. */
export interface NextThing {
  readonly step: 'pair' | 'mask' | 'track' | 'move';
  readonly text: string;
  /** The matte it is about, to be opened. */
  readonly matteId: string | null;
  /** A frame to go to. */
  readonly frame: number | null;
}

export const next = (step: NextThing['step'], text: string, matteId: string | null = null, frame: number | null = null): NextThing => ({
  step,
  text,
  matteId,
  frame,
});

/** A sentence for the user; one that says what cannot be done is a fault. */
export interface Note {
  readonly text: string;
  readonly isFault: boolean;
  /** The frame it speaks of, to go to; null where it speaks of none. */
  readonly frame: number | null;
}

export const note = (text: string, frame: number | null = null): Note => ({ text, isFault: false, frame });
export const fault = (text: string, frame: number | null = null): Note => ({ text, isFault: true, frame });
