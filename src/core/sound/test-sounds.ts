import { SOUND_RATE } from '../film/sound';

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

/** A vowel or consonant of a made voice: its first three resonances in hertz, and how much of it is hiss. */
interface Phone {
  readonly resonances: readonly [number, number, number];
  readonly hiss: number;
  readonly loudness: number;
  readonly seconds: number;
}

const PHONES: Readonly<Record<string, Phone>> = {
  a: { resonances: [750, 1200, 2500], hiss: 0.02, loudness: 1, seconds: 0.12 },
  i: { resonances: [300, 2300, 3000], hiss: 0.02, loudness: 0.8, seconds: 0.1 },
  u: { resonances: [320, 800, 2300], hiss: 0.02, loudness: 0.8, seconds: 0.11 },
  e: { resonances: [500, 1800, 2500], hiss: 0.02, loudness: 0.9, seconds: 0.1 },
  m: { resonances: [250, 1100, 2100], hiss: 0.02, loudness: 0.35, seconds: 0.08 },
  s: { resonances: [3500, 5200, 6200], hiss: 1, loudness: 0.3, seconds: 0.1 },
  t: { resonances: [3000, 4200, 5200], hiss: 1, loudness: 0.05, seconds: 0.06 },
  l: { resonances: [380, 1000, 2700], hiss: 0.02, loudness: 0.5, seconds: 0.07 },
};

export interface Speaker {
  readonly pitch: number;
  /** Times as fast as usual. */
  readonly pace: number;
  /** How much higher the resonances lie. */
  readonly size?: number;
  readonly seed?: number;
}

/** Says words of the letters above, with where each word lies in seconds. */
export function speak(
  words: readonly string[],
  { pitch, pace, size = 1, seed = 1 }: Speaker,
): {
  readonly sound: Float32Array;
  readonly spans: readonly { readonly start: number; readonly end: number }[];
} {
  const random = seeded(seed);
  const out: number[] = new Array<number>(Math.round(0.2 * SOUND_RATE)).fill(0);
  const spans: { start: number; end: number }[] = [];
  // resonators keep ringing from phone to phone
  const state = [0, 1, 2].map(() => [0, 0] as [number, number]);
  let phase = 0;
  let shape: readonly number[] | null = null;
  let loud = 0;
  for (const word of words) {
    const start = out.length / SOUND_RATE;
    for (const letter of word) {
      const phone = PHONES[letter]!;
      const length = Math.round((phone.seconds * SOUND_RATE) / pace);
      for (let i = 0; i < length; i++) {
        const glide = 1 - Math.exp(-1 / (0.008 * SOUND_RATE));
        shape = phone.resonances.map((hertz, k) => (shape?.[k] ?? hertz) + glide * (hertz - (shape?.[k] ?? hertz)));
        loud += glide * (phone.loudness - loud);
        phase += (pitch * (1 + 0.03 * Math.sin(out.length / 4000))) / SOUND_RATE;
        const pulse = phase >= 1 ? 1 : 0;
        phase %= 1;
        const source = loud * ((1 - phone.hiss) * pulse * 8 + phone.hiss * (random() - 0.5));
        let sum = 0;
        for (let k = 0; k < 3; k++) {
          const radius = Math.exp((-Math.PI * (70 + 40 * k)) / SOUND_RATE);
          const turn = (2 * Math.PI * shape[k]! * size) / SOUND_RATE;
          const [y1, y2] = state[k]!;
          const y = source * (1 - radius) + 2 * radius * Math.cos(turn) * y1 - radius * radius * y2;
          state[k] = [y, y1];
          sum += y * [1, 0.6, 0.35][k]!;
        }
        out.push(0.5 * sum + 0.0006 * (random() - 0.5));
      }
    }
    spans.push({ start, end: out.length / SOUND_RATE });
    const pause = Math.round(((0.03 + 0.05 * random()) * SOUND_RATE) / pace);
    for (let i = 0; i < pause; i++) out.push(0.0006 * (random() - 0.5));
    loud = 0;
  }
  for (let i = 0; i < 0.3 * SOUND_RATE; i++) out.push(0.0006 * (random() - 0.5));
  return { sound: Float32Array.from(out), spans };
}
