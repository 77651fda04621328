/** How far a track is followed from the frame looked at; 'both ways': everywhere within the join's span. */
export type FollowGoal = 'next' | 'previous' | 'end' | 'start' | 'both ways';

/** Medium frames, both included. */
export interface FrameSpan {
  readonly first: number;
  readonly last: number;
}

/**
 * The frames to follow a track through, from medium frame `at` on; null where there is nowhere to go. `keys` are the frames on which
 * the hand has placed it, rising, at least one: what is followed begins at one of them, and between two it goes from both.
 * `span` are the ends of the join's span; the medium has `length` frames.
 */
export function followSpan(goal: FollowGoal, at: number, keys: readonly number[], span: FrameSpan, length: number): FrameSpan | null {
  const before = keys.findLast((k) => k <= at) ?? keys[0]!;
  const after = keys.find((k) => k >= at) ?? keys.at(-1)!;
  // a neighbour that lies between two placed frames is found from both
  const through = (to: number): FrameSpan => ({
    first: Math.max(0, Math.min(to, keys.findLast((k) => k <= to) ?? after)),
    last: Math.min(length - 1, Math.max(to, keys.find((k) => k >= to) ?? before)),
  });
  const goals: Record<FollowGoal, () => FrameSpan> = {
    next: () => through(at + 1),
    previous: () => through(at - 1),
    end: () => ({ first: Math.min(at, before), last: Math.max(at, before, span.last) }),
    start: () => ({ first: Math.min(at, after, span.first), last: Math.max(at, after) }),
    'both ways': () => ({ first: Math.min(span.first, keys[0]!), last: Math.max(span.last, keys.at(-1)!) }),
  };
  const { first, last } = goals[goal]();
  return first < last ? { first, last } : null;
}
