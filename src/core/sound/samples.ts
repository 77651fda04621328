import { SOUND_RATE } from '../film/sound';
import type { Rational } from '../geometry/rational';

/** Two channels of the same length, nominally −1..1. */
export interface Stereo {
  readonly left: Float32Array<ArrayBuffer>;
  readonly right: Float32Array<ArrayBuffer>;
}

export const silence = (count: number): Stereo => ({ left: new Float32Array(count), right: new Float32Array(count) });

/** The sample at which a film frame begins; the same for the page and for what is sent out. */
export const sampleOfFrame = ({ numerator, denominator }: Rational, frame: number): number =>
  Math.round((frame * SOUND_RATE * denominator) / numerator);

export const frameOfSample = ({ numerator, denominator }: Rational, sample: number): number =>
  (sample * numerator) / (SOUND_RATE * denominator);

/** Amplitude of a level in dB; nothing at and under `floor`. */
export const gainOf = (db: number, floor: number): number => (db <= floor ? 0 : 10 ** (db / 20));

/** 16-bit pairs, little-endian as every machine this runs on, as two channels into `out` from `at` on. */
export function unpackPairs(pairs: Int16Array, out: Stereo, at = 0): void {
  const { left, right } = out;
  for (let i = 0, o = at; i + 1 < pairs.length; i += 2, o++) {
    left[o] = pairs[i]! / 32768;
    right[o] = pairs[i + 1]! / 32768;
  }
}

/** Two channels as 16-bit pairs; what is louder than full scale is cut off. */
export function packPairs({ left, right }: Stereo): Int16Array<ArrayBuffer> {
  const pairs = new Int16Array(2 * left.length);
  for (let i = 0; i < left.length; i++) {
    pairs[2 * i] = Math.max(-32768, Math.min(32767, Math.round(left[i]! * 32768)));
    pairs[2 * i + 1] = Math.max(-32768, Math.min(32767, Math.round(right[i]! * 32768)));
  }
  return pairs;
}

/** The mean of both channels. */
export function monoOf({ left, right }: Stereo): Float32Array<ArrayBuffer> {
  const mono = new Float32Array(left.length);
  for (let i = 0; i < mono.length; i++) mono[i] = 0.5 * (left[i]! + right[i]!);
  return mono;
}
