import { expect, it } from 'vitest';
import { Scheduler, type Lane, type Task } from './frames-scheduler';

type Numbered = Task & { readonly job: number };
const draw = (job: number, lane: Lane, near = 0): Numbered => ({ kind: 'draw', job, lane, near });
const ask = (job: number, kind: Exclude<Task['kind'], 'draw'>, owner = 'a'): Numbered => ({ kind, job, owner });

function scheduled(...tasks: readonly Numbered[]): { waiting: Scheduler<Numbered>; dropped: number[] } {
  const dropped: number[] = [];
  const waiting = new Scheduler<Numbered>(({ job }) => dropped.push(job));
  for (const task of tasks) waiting.add(task);
  return { waiting, dropped };
}
function order(waiting: Scheduler<Numbered>, isBackgroundWelcome = true): number[] {
  const jobs: number[] = [];
  for (let t = waiting.take(isBackgroundWelcome); t !== undefined; t = waiting.take(isBackgroundWelcome)) jobs.push(t.job);
  return jobs;
}

it('draws what is wanted now before what is played next, what a hand asked for before small pictures, and looks last', () => {
  const { waiting } = scheduled(
    ask(1, 'look'),
    draw(8, 'ready'),
    ask(2, 'measure'),
    draw(3, 'thumb'),
    ask(4, 'align'),
    draw(5, 'ahead'),
    draw(6, 'thumb'),
    draw(7, 'now'),
  );
  expect(order(waiting)).toEqual([7, 5, 4, 3, 6, 2, 8, 1]);
});

it('keeps the bands of a picture that is wanted now together, and drops them together', () => {
  const [first, second] = [{}, {}];
  const band = (job: number, partOf: object): Numbered => ({ kind: 'draw', job, lane: 'now', partOf });
  const { waiting, dropped } = scheduled(band(1, first), band(2, first), band(3, second), band(4, second));
  expect(dropped).toEqual([1, 2]);
  expect(order(waiting)).toEqual([3, 4]);
});

it('leaves what is done in the background to others where it has to stay free for the hand', () => {
  const { waiting } = scheduled(ask(1, 'look'), draw(2, 'ready'), ask(3, 'measure'), draw(4, 'thumb'));
  expect(order(waiting, false)).toEqual([4]);
  expect(order(waiting)).toEqual([3, 2, 1]);
});

it('makes the neighbour of what was made last ready first, else what was asked for first', () => {
  const { waiting } = scheduled(draw(1, 'ready', 10), draw(2, 'ready', 9), draw(3, 'ready', 11), draw(4, 'ready', 8));
  expect(waiting.take(true, 12)?.job).toBe(3);
  expect(waiting.take(true, 30)?.job).toBe(1);
  expect(waiting.take(true)?.job).toBe(2);
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
