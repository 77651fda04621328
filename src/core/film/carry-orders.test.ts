import { describe, expect, it } from 'vitest';
import { carryGoals, restOfCarry, type CarryGoal } from './carry-orders';
import type { JobState, JobView } from './job';
import type { MatteFrame } from './matte-frame';

const stored = (frame: number, origin: MatteFrame['origin'] = 'carried'): MatteFrame => ({
  frame,
  origin,
  settled: false,
  confidence: 1,
  doubt: null,
  madeFrom: '',
  version: 1,
});

describe('where a matte is carried to', () => {
  const frames = [stored(10, 'hand'), stored(20, 'hand'), stored(21), stored(30, 'hand')];
  const span = { first: 5, last: 40, shot: { first: 2, last: 46 }, length: 50 };
  const goals = (goal: CarryGoal, from: number, around = span): number[] => carryGoals(goal, from, frames, around);

  it('is the neighbour, within the medium', () => {
    expect(goals('next', 20)).toEqual([21]);
    expect(goals('previous', 20)).toEqual([19]);
    expect(goals('previous', 0)).toEqual([]);
    expect(goals('next', 49)).toEqual([]);
    // one frame at a time it may go beyond the join's span
    expect(goals('next', 40)).toEqual([41]);
  });

  it('is the end of the span; from a handle beyond it the end of the medium', () => {
    expect(goals('end', 20)).toEqual([40]);
    expect(goals('start', 20)).toEqual([5]);
    expect(goals('end', 45)).toEqual([49]);
    expect(goals('start', 45)).toEqual([0]);
    expect(goals('end', 2)).toEqual([49]);
  });

  it('is both ends of the whole shot', () => {
    expect(goals('whole shot', 20)).toEqual([46, 2]);
    expect(goals('whole shot', 46)).toEqual([2]);
  });

  it('is the next painted frame, or the end after the last one', () => {
    expect(goals('next painted', 10)).toEqual([20]);
    expect(goals('next painted', 20)).toEqual([30]);
    expect(goals('next painted', 30)).toEqual([40]);
  });

  it('is both neighbours in paint, or the ends', () => {
    expect(goals('both ways', 20)).toEqual([30, 10]);
    expect(goals('both ways', 10)).toEqual([20, 5]);
    expect(goals('both ways', 30)).toEqual([40, 20]);
    expect(carryGoals('both ways', 5, [], { first: 5, last: 5, shot: { first: 5, last: 5 }, length: 6 })).toEqual([]);
  });
});

describe('a stopped carry', () => {
  const job = (state: JobState, from: number, to: number, subjectId = 'm'): JobView => ({
    id: 'j',
    kind: 'carry',
    filmId: 'f',
    label: '',
    state,
    progress: 0.5,
    secondsLeft: null,
    error: null,
    subjectId,
    waitsFor: null,
    carry: { matteId: subjectId, from, to },
  });
  const frames = [10, 11, 12, 13].map((f) => stored(f));

  it('goes on from the last frame it reached', () => {
    expect(restOfCarry([job('cancelled', 10, 20)], 'm', frames)).toEqual({ matteId: 'm', from: 13, to: 20 });
    expect(restOfCarry([job('cancelled', 13, 5)], 'm', frames)).toEqual({ matteId: 'm', from: 10, to: 5 });
  });

  it('has nothing left when it ended, had come to its goal, or was never begun', () => {
    expect(restOfCarry([job('done', 10, 20)], 'm', frames)).toBeNull();
    expect(restOfCarry([job('running', 10, 20)], 'm', frames)).toBeNull();
    expect(restOfCarry([job('cancelled', 10, 13)], 'm', frames)).toBeNull();
    expect(restOfCarry([], 'm', frames)).toBeNull();
    expect(restOfCarry([{ ...job('cancelled', 10, 20), kind: 'send', carry: null }], 'm', frames)).toBeNull();
  });

  it('cannot go on from a frame that is gone', () => {
    expect(restOfCarry([job('cancelled', 30, 40)], 'm', frames)).toBeNull();
  });

  it('is the newest of its matte', () => {
    const jobs = [job('cancelled', 10, 20, 'other'), job('done', 12, 20), job('cancelled', 10, 20)];
    expect(restOfCarry(jobs, 'm', frames)).toBeNull();
    expect(restOfCarry(jobs, 'other', frames)).not.toBeNull();
  });
});
