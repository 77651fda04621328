/** CSS pixels before the first frame and behind the last. */
export const PAD = 18;
export const SHOT_HEIGHT = 62;
/** Where shots begin, under the ruler. */
export const SHOT_TOP = 24;

/** How film frames lie on the page. */
export interface ReelScale {
  readonly perFrame: number;
  /** CSS pixels of a film frame in the reel. */
  x(frame: number): number;
  /** Place on the film under a position of the page, frames; may lie outside. */
  placeAt(clientX: number): number;
  /** The film frame there. */
  frameAt(clientX: number): number;
}

/** The scale of a reel whose scrolled element is `track`. */
export const reelScale = (track: React.RefObject<HTMLElement | null>, perFrame: number, length: number): ReelScale => {
  const placeAt = (clientX: number): number => {
    const element = track.current;
    return element === null ? 0 : (clientX - element.getBoundingClientRect().left + element.scrollLeft - PAD) / perFrame;
  };
  return {
    perFrame,
    x: (frame) => PAD + frame * perFrame,
    placeAt,
    frameAt: (clientX) => Math.max(0, Math.min(length - 1, Math.floor(placeAt(clientX)))),
  };
};
