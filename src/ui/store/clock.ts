'use client';
import { clocksOf, usualClock, type Clock } from '../../core/format/clock';
import type { Rational } from '../../core/geometry/rational';
import { usePreference } from './preferences';

/** How time is told in a film of this rate, and a way to go on to the next clock. What was chosen is remembered. */
export function useClock(rate: Rational): [Clock, () => void, (clock: Clock) => void] {
  const [chosen, choose] = usePreference<Clock | null>('clock', null);
  const clocks = clocksOf(rate);
  // numbers are not dropped at every rate
  const clock = chosen !== null && clocks.includes(chosen) ? chosen : usualClock(rate);
  return [clock, () => choose(clocks[(clocks.indexOf(clock) + 1) % clocks.length]!), choose];
}
