import { expect, it } from 'vitest';
import { areaUnder, channelAt } from './curve';
import { RAMPS, rampTiming } from './ramps';

it('gives a curve of every ready shape, over the frames it is asked for', () => {
  const at = (ramp: (typeof RAMPS)[number], frame: number): number => channelAt(rampTiming(ramp, 0, 20, 3, 0)!.speed, frame);
  expect(rampTiming('as filmed', 0, 20, 3, 0)).toBeUndefined();
  expect(at('constant', 7)).toBe(3);
  expect([at('ramp up', 0), at('ramp up', 20)]).toEqual([1, 3]);
  expect([at('ramp down', 0), at('ramp down', 20)]).toEqual([3, 1]);
  expect([0, 10, 20].map((f) => at('ramp in the middle', f))).toEqual([1, 3, 1]);
  expect([at('hold then go', 9), at('hold then go', 10)]).toEqual([0, 1]);
  expect(at('backwards', 0)).toBe(-3);
  // twice the mean of 1 and 3 over 20 frames
  expect(areaUnder(rampTiming('ramp up', 0, 20, 3, 0)!.speed, 0, 20)).toBeCloseTo(40, 6);
});
