import Timecode from 'smpte-timecode';
import { isSameRate, toNumber, type Rational } from '../geometry/rational';

/** How a place in a film is told, and typed. */
export const CLOCKS = ['timecode', 'drop-frame', 'frames', 'seconds'] as const;
export type Clock = (typeof CLOCKS)[number];

const DROPPING: readonly Rational[] = [
  { numerator: 30_000, denominator: 1001 },
  { numerator: 60_000, denominator: 1001 },
];

/** The rate as one whose numbers are dropped, so that its timecode keeps to the time of day; null for one that drops none. */
const droppingRate = (rate: Rational): Rational | null => DROPPING.find((r) => isSameRate(r, rate)) ?? null;

/** The clocks there are at a rate. */
export const clocksOf = (rate: Rational): readonly Clock[] => CLOCKS.filter((c) => c !== 'drop-frame' || droppingRate(rate) !== null);

/** The clock of a rate that one is used to: numbers are dropped where that is done. */
export const usualClock = (rate: Rational): Clock => (droppingRate(rate) === null ? 'timecode' : 'drop-frame');

const two = (n: number): string => String(n).padStart(2, '0');

/** A frame as a clock tells it: 'hh:mm:ss:ff', 'hh:mm:ss;ff' where numbers are dropped, '120', '5.00 s'. Whole frames from 0 on. */
export function clockText(rate: Rational, frame: number, clock: Clock): string {
  const dropping = clock === 'drop-frame' ? droppingRate(rate) : null;
  if (dropping !== null) return new Timecode(frame, [dropping.numerator, dropping.denominator], true).toString();
  if (clock === 'frames') return String(frame);
  if (clock === 'seconds') return `${(frame / toNumber(rate)).toFixed(2)} s`;
  const perSecond = Math.round(toNumber(rate));
  const seconds = Math.floor(frame / perSecond);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}:${two(frame % perSecond)}`;
}

/** The frame that is meant by what is typed: a timecode, or its last parts; with the clock of seconds '5.2' too. Null when it is none. */
export function parseClock(rate: Rational, typed: string, clock: Clock): number | null {
  const text = typed.trim();
  if (clock === 'seconds') {
    const seconds = /^(\d{1,6}(?:[.,]\d{1,6})?)\s*s?$/.exec(text)?.[1];
    if (seconds !== undefined) return Math.round(Number(seconds.replace(',', '.')) * toNumber(rate));
  }
  const parts = text.split(/[:;.]/).map((part) => (/^\d{1,6}$/.test(part) ? Number(part) : NaN));
  if (parts.length > 4 || parts.some(Number.isNaN)) return null;
  const [frames = 0, seconds = 0, minutes = 0, hours = 0] = parts.reverse();
  const perSecond = Math.round(toNumber(rate));
  const counted = ((hours * 60 + minutes) * 60 + seconds) * perSecond + frames;
  const dropping = clock === 'drop-frame' ? droppingRate(rate) : null;
  if (dropping === null || parts.length === 1) return counted;
  // of each minute but the tenth the first numbers are left out: two, or four at twice the rate
  const wholeMinutes = Math.floor(counted / (60 * perSecond));
  return counted - (perSecond / 15) * (wholeMinutes - Math.floor(wholeMinutes / 10));
}

/** The timecode so many frames after one that is read of a file, in its own way of counting; of frames past a day it goes on from 0. */
export function timecodeAfter(rate: Rational, timecode: string, frames: number): string {
  const clock = timecode.includes(';') && droppingRate(rate) !== null ? 'drop-frame' : 'timecode';
  const day = parseClock(rate, '24:00:00:00', clock)!;
  return clockText(rate, (parseClock(rate, timecode, clock)! + frames) % day, clock);
}
