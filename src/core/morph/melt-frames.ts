/** Frames of a melt from one anchor to the next. */
const ANCHORED = 6;

/**
 * The frames of a melt of `count` from whose motion that of frame `index` is found, one after the other: from the middle outwards, every
 * sixth, up to the nearest. So motion stays steady from frame to frame, and is the same however a frame is reached.
 */
export function anchorsOf(index: number, count: number): readonly number[] {
  const middle = Math.floor((count - 1) / 2);
  const steps = Math.round((index - middle) / ANCHORED);
  const anchors = Array.from({ length: Math.abs(steps) + 1 }, (_, i) => middle + Math.sign(steps) * i * ANCHORED);
  return anchors.filter((a) => a >= 0 && a < count && a !== index);
}

/** Whether others' motion is found from that of this frame. */
export const isAnchor = (index: number, count: number): boolean => (index - Math.floor((count - 1) / 2)) % ANCHORED === 0;

/** How far along frame `i` of `count` between two pictures lies, both ends left out. */
export const shareOf = (i: number, count: number): number => (i + 1) / (count + 1);
