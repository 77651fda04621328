import { expect, it } from 'vitest';
import { Scheduler, type DrawRequest, type MeasureRequest } from './scheduler';

const draw = (job: number, lane: DrawRequest['lane']): DrawRequest => ({ kind: 'draw', job, lane }) as DrawRequest;
const ask = (job: number, kind: MeasureRequest['kind'], owner = 'a'): MeasureRequest => ({ kind, job, owner }) as MeasureRequest;

function scheduled(...requests: readonly (DrawRequest | MeasureRequest)[]): { waiting: Scheduler; dropped: number[] } {
  const dropped: number[] = [];
  const waiting = new Scheduler((job) => dropped.push(job));
  for (const r of requests) waiting.add(r);
  return { waiting, dropped };
}
const order = (waiting: Scheduler): number[] => {
  const jobs: number[] = [];
  for (let r = waiting.take(); r !== undefined; r = waiting.take()) jobs.push(r.job);
  return jobs;
};

it('draws what is wanted now before what is played next, what a hand asked for before small pictures, and looks last', () => {
  const { waiting } = scheduled(
    ask(1, 'look'),
    ask(2, 'measure'),
    draw(3, 'thumb'),
    ask(4, 'align'),
    draw(5, 'ahead'),
    draw(6, 'thumb'),
    draw(7, 'now'),
  );
  expect(order(waiting)).toEqual([7, 5, 4, 3, 6, 2, 1]);
});

it('keeps only the newest of what is wanted now, and answers the others as dropped', () => {
  const { waiting, dropped } = scheduled(draw(1, 'now'), draw(2, 'thumb'), draw(3, 'now'));
  expect(dropped).toEqual([1]);
  expect(order(waiting)).toEqual([3, 2]);
});

it('drops a lane, and what one owner has asked', () => {
  const { waiting, dropped } = scheduled(draw(1, 'thumb'), draw(2, 'ahead'), ask(3, 'look', 'a'), ask(4, 'look', 'b'), draw(5, 'thumb'));
  waiting.dropLane('thumb');
  waiting.dropMeasures('a');
  expect(dropped).toEqual([1, 5, 3]);
  expect(order(waiting)).toEqual([2, 4]);
});
