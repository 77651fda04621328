import { areaUnder } from './curve';
import { easedKeys } from './eases';
import { moveKeys } from './key-edits';
import type { Timing } from './motion';

/** Ready shapes of a speed curve over the frames from `first` to `last`. */
export const RAMPS = ['as filmed', 'constant', 'ramp up', 'ramp down', 'ramp in the middle', 'hold, then play', 'backwards'] as const;
export type Ramp = (typeof RAMPS)[number];

/** A speed curve over `frames` frames squeezed or stretched so that, over as many frames as that takes, it shows what was shown as filmed. */
export function overItsOwnLength(time: Timing, frames: number): Timing {
  if (typeof time.speed === 'number') return time;
  const mean = areaUnder(time.speed, 0, frames) / frames;
  if (mean < 0.05) return time;
  return { ...time, speed: moveKeys(time.speed, new Set(time.speed.map((k) => k.frame)), (f) => f / mean) };
}

/** A timing of one of the ready shapes; undefined as filmed. `speed` is the constant, or the fast end of a ramp. */
export function rampTiming(
  ramp: Ramp,
  first: number,
  last: number,
  speed: number,
  anchor: number,
  between: Timing['between'] = 'nearest',
): Timing | undefined {
  const middle = Math.round((first + last) / 2);
  const timing = (s: Timing['speed']): Timing => ({ speed: s, anchor, between });
  switch (ramp) {
    case 'as filmed':
      return undefined;
    case 'constant':
      return timing(speed);
    case 'ramp up':
      return timing(easedKeys('soft both', [first, 1], [Math.max(first + 1, last), speed]));
    case 'ramp down':
      return timing(easedKeys('soft both', [first, speed], [Math.max(first + 1, last), 1]));
    case 'ramp in the middle':
      return timing(easedKeys('soft both', [first, 1], [Math.max(first + 1, middle), speed], [Math.max(first + 2, last), 1]));
    case 'hold, then play':
      return timing([
        { frame: first, value: 0, into: 'straight', out: 'hold' },
        { frame: Math.max(first + 1, middle), value: 1, into: 'straight', out: 'straight' },
      ]);
    case 'backwards':
      return timing(-Math.abs(speed));
  }
}
