import { expect, it } from 'vitest';
import { areaUnder, channelAt } from './curve';
import { overItsOwnLength, RAMPS, rampTiming } from './ramps';

it('gives a curve of every ready shape, over the frames it is asked for', () => {
  const at = (ramp: (typeof RAMPS)[number], frame: number): number => channelAt(rampTiming(ramp, 0, 20, 3, 0)!.speed, frame);
  expect(rampTiming('as filmed', 0, 20, 3, 0)).toBeUndefined();
  expect(at('constant', 7)).toBe(3);
  expect([at('ramp up', 0), at('ramp up', 20)]).toEqual([1, 3]);
  expect([at('ramp down', 0), at('ramp down', 20)]).toEqual([3, 1]);
  expect([0, 10, 20].map((f) => at('ramp in the middle', f))).toEqual([1, 3, 1]);
  expect([at('hold, then play', 9), at('hold, then play', 10)]).toEqual([0, 1]);
  expect(at('backwards', 0)).toBe(-3);
  // twice the mean of 1 and 3 over 20 frames
  expect(areaUnder(rampTiming('ramp up', 0, 20, 3, 0)!.speed, 0, 20)).toBeCloseTo(40, 6);
});

it('is squeezed into the length it makes, so that it still shows all that was there and lies where it should', () => {
  const made = overItsOwnLength(rampTiming('ramp in the middle', 0, 79, 3, 0)!, 80);
  const frames = (made.speed as readonly { frame: number }[]).map((k) => k.frame);
  expect(frames[0]).toBe(0);
  // a mean of twice the speed: half the length, its middle in the middle
  expect(Math.abs(frames[2]! - 39)).toBeLessThanOrEqual(1);
  expect(Math.abs(frames[1]! - 20)).toBeLessThanOrEqual(1);
  expect(areaUnder(made.speed, 0, 40)).toBeCloseTo(80, -0.5);
  expect(overItsOwnLength({ speed: 2, anchor: 0, between: 'nearest' }, 10).speed).toBe(2);
});
