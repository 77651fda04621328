import { SOUND_RATE } from '../film/sound';
import { MelBands, Spectra } from './spectrum';

/** Onset strengths a second. */
export const ONSET_RATE = 100;
const HOP = SOUND_RATE / ONSET_RATE;
const SIZE = 2048;
const BANDS = 40;
/** Bands up to here are the low ones: drums that carry the beat rather than fill it. */
const LOW_BANDS = 8;
/** Power under which a band counts as silent. */
const FLOOR = 1e-6;

/**
 * How strongly something begins, `ONSET_RATE` times a second: over all bands, over the low ones
 * alone, and how much louder it gets.
 */
export interface Onsets {
  readonly all: Float32Array;
  readonly low: Float32Array;
  readonly loud: Float32Array;
}

/** Samples that lie before and after the strengths asked for of a part of a sound. */
export const ONSET_MARGIN = SIZE;
export const samplesOfOnsets = (count: number): number => count * HOP;

/**
 * Onset strength as the rise of the logarithm of mel bands from one piece to the next, summed (Ellis 2007; Böck & Widmer 2013 for the
 * comparison with the greatest of neighbouring bands, which leaves vibrato out). `sound` is mono at `SOUND_RATE` and begins
 * `ONSET_MARGIN` samples before the first strength.
 */
export function onsetsOf(sound: Float32Array, count: number): Onsets {
  const spectra = new Spectra(SIZE);
  const bands = new MelBands(BANDS, SIZE, SOUND_RATE, 30, 12_000);
  const all = new Float32Array(count);
  const low = new Float32Array(count);
  const loud = new Float32Array(count);
  let amplitude = 0;
  let before = new Float32Array(BANDS);
  let now = new Float32Array(BANDS);
  for (let i = -1; i < count; i++) {
    // the piece is centred a quarter of it past the strength's own time, so that its rise is steepest there
    bands.of(spectra.at(sound, ONSET_MARGIN + i * HOP - SIZE / 2), now);
    const amplitudeBefore = amplitude;
    amplitude = Math.sqrt(now.reduce((sum, v) => sum + v, 0));
    for (let b = 0; b < BANDS; b++) now[b] = Math.log10(1 + now[b]! / FLOOR);
    if (i >= 0) {
      let sum = 0;
      let lows = 0;
      for (let b = 0; b < BANDS; b++) {
        const held = Math.max(before[Math.max(0, b - 1)]!, before[b]!, before[Math.min(BANDS - 1, b + 1)]!);
        const rise = Math.max(0, now[b]! - held);
        sum += rise;
        if (b < LOW_BANDS) lows += rise;
      }
      all[i] = sum / BANDS;
      low[i] = lows / LOW_BANDS;
      loud[i] = Math.max(0, amplitude - amplitudeBefore);
    }
    [before, now] = [now, before];
  }
  return { all, low, loud };
}
