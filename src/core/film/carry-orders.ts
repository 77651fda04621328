import type { FollowGoal } from './follow-orders';
import type { CarryOrder, JobView } from './job';
import type { MatteFrame } from './matte-frame';

/** 'both ways': to the nearest painted frames before and after, else to the ends. */
export type CarryGoal = FollowGoal | 'next painted' | 'whole shot';

/** Medium frames a carry keeps to, both ends included. */
export interface CarrySpans {
  readonly first: number;
  readonly last: number;
  readonly shot: { readonly first: number; readonly last: number };
  readonly length: number;
}

/**
 * Medium frames to carry a matte to from frame `from`, which has one; none where there is nowhere to go.
 * `first` and `last` are the ends of the join's span, both included, `shot` those of the whole shot; the medium has `length` frames. From
 * outside the join's span a carry goes to the ends of the medium.
 */
export function carryGoals(
  goal: CarryGoal,
  from: number,
  frames: readonly MatteFrame[],
  { first: spanFirst, last: spanLast, shot, length }: CarrySpans,
): number[] {
  const isWithin = from >= spanFirst && from <= spanLast;
  const [first, last] = isWithin ? [spanFirst, spanLast] : [0, length - 1];
  const painted = frames.filter((f) => f.origin === 'hand').map((f) => f.frame);
  const nextPainted = painted.find((f) => f > from) ?? Math.max(from, last);
  const earlierPainted = painted.findLast((f) => f < from) ?? Math.min(from, first);
  const goals: Record<CarryGoal, number[]> = {
    next: [from + 1],
    previous: [from - 1],
    end: [Math.max(from, last)],
    start: [Math.min(from, first)],
    'next painted': [nextPainted],
    'both ways': [nextPainted, earlierPainted],
    'whole shot': [Math.max(from, shot.last), Math.min(from, shot.first)],
  };
  return goals[goal].filter((to) => to >= 0 && to < length && to !== from);
}

/** What the newest carry of a matte was stopped before it had done; null when it ended, or never began. */
export function restOfCarry(jobs: readonly JobView[], matteId: string, frames: readonly MatteFrame[]): CarryOrder | null {
  const newest = jobs.find((j) => j.kind === 'carry' && j.subjectId === matteId);
  if (newest?.carry == null || newest.state !== 'cancelled') return null;
  const { from, to } = newest.carry;
  const there = new Set(frames.map((f) => f.frame));
  const step = Math.sign(to - from);
  let reached = from;
  while (reached !== to && there.has(reached + step)) reached += step;
  return reached === to || !there.has(reached) ? null : { matteId, from: reached, to };
}
