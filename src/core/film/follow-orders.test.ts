import { describe, expect, it } from 'vitest';
import { followSpan, type FollowGoal, type FrameSpan } from './follow-orders';

const span = { first: 5, last: 40 };
const spanOf = (goal: FollowGoal, at: number, keys: readonly number[]): FrameSpan | null => followSpan(goal, at, keys, span, 50);

describe('how far a track is followed', () => {
  it('is one frame on from what the hand has placed, and on from there each time', () => {
    expect(spanOf('next', 10, [10])).toEqual({ first: 10, last: 11 });
    expect(spanOf('next', 11, [10])).toEqual({ first: 10, last: 12 });
    expect(spanOf('previous', 10, [10])).toEqual({ first: 9, last: 10 });
    expect(spanOf('previous', 8, [10])).toEqual({ first: 7, last: 10 });
  });

  it('goes from both where the next frame lies between two placed ones, and from the later one beyond it', () => {
    expect(spanOf('next', 12, [10, 20])).toEqual({ first: 10, last: 20 });
    expect(spanOf('next', 20, [10, 20])).toEqual({ first: 20, last: 21 });
    expect(spanOf('previous', 10, [10, 20])).toEqual({ first: 9, last: 10 });
  });

  it('is the end of the span on that side, past other placed frames', () => {
    expect(spanOf('end', 12, [10, 20])).toEqual({ first: 10, last: 40 });
    expect(spanOf('start', 12, [10, 20])).toEqual({ first: 5, last: 20 });
    expect(spanOf('end', 44, [10])).toEqual({ first: 10, last: 44 });
  });

  it('is everything both ways, placed frames beyond the span too', () => {
    expect(spanOf('both ways', 12, [2, 20])).toEqual({ first: 2, last: 40 });
  });

  it('reaches the frame looked at when nothing is placed on that side of it', () => {
    expect(spanOf('end', 7, [10])).toEqual({ first: 7, last: 40 });
    expect(spanOf('next', 7, [10])).toEqual({ first: 8, last: 10 });
  });

  it('is nothing past the ends of the medium', () => {
    expect(spanOf('next', 49, [49])).toBeNull();
    expect(spanOf('previous', 0, [0])).toBeNull();
  });
});
