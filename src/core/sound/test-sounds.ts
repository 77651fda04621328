import { SOUND_RATE } from './samples';

/** Made sounds with exact truth, for tests and measures. */

/** Numbers 0..1 that look random, the same every time (mulberry32). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

export interface DrumOptions {
  readonly seconds: number;
  /** Beats a minute at a time in seconds. */
  readonly tempoAt: (seconds: number) => number;
  /** Where the eighth between two beats lies: 0.5 straight, 0.67 swung. */
  readonly swing?: number;
  /** Share of drum hits that are left out. */
  readonly missing?: number;
  /** Level of white noise under it all. */
  readonly noise?: number;
  /** Seconds by which hits stray. */
  readonly loose?: number;
  readonly first?: number;
  readonly seed?: number;
}

export interface Drums {
  readonly sound: Float32Array;
  readonly beats: readonly number[];
}

/** Bass drum on one and three, snare on two and four, hats on every eighth. */
export function drums(options: DrumOptions): Drums {
  const { seconds, tempoAt, swing = 0.5, missing = 0, noise = 0, loose = 0, first = 0.3, seed = 1 } = options;
  const random = seeded(seed);
  const sound = new Float32Array(Math.round(seconds * SOUND_RATE));
  const beats: number[] = [];
  const hit = (at: number, make: (t: number) => number, length: number): void => {
    if (random() < missing) return;
    const start = Math.round((at + loose * (random() - 0.5) * 2) * SOUND_RATE);
    for (let i = 0; i < length * SOUND_RATE; i++) if (start + i >= 0 && start + i < sound.length) sound[start + i]! += make(i / SOUND_RATE);
  };
  const hat = (t: number): number => 0.12 * (random() * 2 - 1) * Math.exp(-t / 0.02);
  let count = 0;
  for (let t = first; t < seconds - 0.2; count++) {
    const beat = 60 / tempoAt(t);
    beats.push(t);
    if (count % 2 === 0) hit(t, (s) => 0.7 * Math.sin(2 * Math.PI * (48 * s + 6 * (1 - Math.exp(-s / 0.02)))) * Math.exp(-s / 0.1), 0.3);
    else hit(t, (s) => (0.35 * (random() * 2 - 1) + 0.2 * Math.sin(2 * Math.PI * 190 * s)) * Math.exp(-s / 0.07), 0.25);
    hit(t, hat, 0.1);
    hit(t + swing * beat, hat, 0.1);
    t += beat;
  }
  if (noise > 0) for (let i = 0; i < sound.length; i++) sound[i]! += noise * (random() * 2 - 1);
  return { sound, beats };
}

/** Share of both lists that pair within `tolerance` seconds, as an F measure. */
export function fMeasure(found: readonly number[], truth: readonly number[], tolerance = 0.07): number {
  let hits = 0;
  let j = 0;
  for (const t of truth) {
    while (j < found.length && found[j]! < t - tolerance) j++;
    if (j < found.length && found[j]! <= t + tolerance) {
      hits++;
      j++;
    }
  }
  return found.length + truth.length === 0 ? 1 : (2 * hits) / (found.length + truth.length);
}
