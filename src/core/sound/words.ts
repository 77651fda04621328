import { SOUND_RATE } from '../film/sound';
import { MelBands, Spectra } from './spectrum';

/** Frames a second that speech is looked at. */
const FRAMES = 200;
const HOP = SOUND_RATE / FRAMES;
const SIZE = 1024;
const BANDS = 26;
const COEFFICIENTS = 12;
const FLOOR = 1e-7;

/** Seconds. */
export interface SecondsSpan {
  readonly start: number;
  readonly end: number;
}

/** One word in two takes. */
export interface SharedWord {
  readonly a: SecondsSpan;
  readonly b: SecondsSpan;
  /** Where to go over from one to the other: the same place of the word in both. */
  readonly cutA: number;
  readonly cutB: number;
  /** 0..1: how alike both sound along the word. */
  readonly likeness: number;
}

/** Mel-frequency cepstra of mono speech at `SOUND_RATE`, with loudness; level, and what is the same all along, taken out. */
interface Cepstra {
  readonly frames: number;
  readonly values: Float32Array;
  /** Loudness of each frame, dB. */
  readonly loudness: Float32Array;
}

/** Values of a frame: cepstra without the first, how they change, and how loudness changes. */
const WIDTH = 2 * COEFFICIENTS + 1;
/** Frames over which change is measured, either way. */
const CHANGE = 4;

/** `stretch`: how much higher the resonances of this voice are taken to lie. */
function cepstraOf(speech: Float32Array, stretch = 1): Cepstra {
  const frames = Math.max(1, Math.floor(speech.length / HOP));
  const spectra = new Spectra(SIZE);
  const bands = new MelBands(BANDS, SIZE, SOUND_RATE, 80 * stretch, 6500 * stretch);
  const energies = new Float32Array(BANDS);
  const still = new Float32Array(frames * COEFFICIENTS);
  const loudness = new Float32Array(frames);
  for (let i = 0; i < frames; i++) {
    bands.of(spectra.at(speech, i * HOP + HOP / 2 - SIZE / 2), energies);
    loudness[i] = 10 * Math.log10(FLOOR + energies.reduce((sum, e) => sum + e, 0));
    for (let c = 0; c < COEFFICIENTS; c++) {
      let sum = 0;
      for (let b = 0; b < BANDS; b++) sum += Math.log(FLOOR + energies[b]!) * Math.cos((Math.PI * (c + 1) * (b + 0.5)) / BANDS);
      still[i * COEFFICIENTS + c] = sum / BANDS;
    }
  }
  evenOut(still, loudness, frames);
  const values = new Float32Array(frames * WIDTH);
  const at = (i: number): number => Math.max(0, Math.min(frames - 1, i));
  for (let i = 0; i < frames; i++) {
    for (let c = 0; c < COEFFICIENTS; c++) {
      values[i * WIDTH + c] = still[i * COEFFICIENTS + c]!;
      values[i * WIDTH + COEFFICIENTS + c] = still[at(i + CHANGE) * COEFFICIENTS + c]! - still[at(i - CHANGE) * COEFFICIENTS + c]!;
    }
    values[i * WIDTH + WIDTH - 1] = (loudness[at(i + CHANGE)]! - loudness[at(i - CHANGE)]!) / LOUDNESS_SHARE;
  }
  return { frames, values, loudness };
}

/** dB of change that count as much as one unit of cepstra. */
const LOUDNESS_SHARE = 20;
/** Frames so far under the loudest are not speech, dB. */
const SPEECH_RANGE = 35;

/** Takes out of each coefficient what it is on the whole in speech: the room, the microphone and much of the voice. */
function evenOut(still: Float32Array, loudness: Float32Array, frames: number): void {
  const least = Math.max(...loudness) - SPEECH_RANGE;
  for (let c = 0; c < COEFFICIENTS; c++) {
    let [sum, squares, count] = [0, 0, 0];
    for (let i = 0; i < frames; i++) {
      if (loudness[i]! < least) continue;
      sum += still[i * COEFFICIENTS + c]!;
      squares += still[i * COEFFICIENTS + c]! ** 2;
      count++;
    }
    const mean = sum / Math.max(1, count);
    const spread = Math.sqrt(Math.max(1e-6, squares / Math.max(1, count) - mean * mean));
    for (let i = 0; i < frames; i++) still[i * COEFFICIENTS + c] = (still[i * COEFFICIENTS + c]! - mean) / spread;
  }
}

/** How much longer or shorter the other's vocal tract may be (Lee & Rose 1996 for the search among a few). */
const VOICES = [0.84, 0.92, 1, 1.09, 1.19] as const;

/** Distance of one frame of `a` from one of `b`. */
function distance(a: Cepstra, i: number, b: Cepstra, j: number): number {
  let sum = 0;
  for (let c = 0; c < WIDTH; c++) {
    const d = a.values[i * WIDTH + c]! - b.values[j * WIDTH + c]!;
    sum += c < COEFFICIENTS ? d * d : 0.5 * d * d;
  }
  return Math.sqrt(sum);
}

/**
 * Finds in speech `b` what is said in `a` between two seconds, by aligning their cepstra (Müller 2007, subsequence dynamic time warping;
 * steps such that neither runs more than twice as fast as the other). Both mono at `SOUND_RATE`.
 * @returns null where `b` is too short to hold it
 */
export function findWord(a: Float32Array, span: SecondsSpan, b: Float32Array): SharedWord | null {
  const said = cepstraOf(a);
  const first = Math.max(0, Math.min(said.frames - 2, Math.round(span.start * FRAMES)));
  const last = Math.max(first + 1, Math.min(said.frames - 1, Math.round(span.end * FRAMES) - 1));
  let best: { readonly path: readonly Pair[]; readonly other: Cepstra; readonly mean: number } | null = null;
  for (const voice of VOICES) {
    const other = cepstraOf(b, voice);
    const path = align(said, first, last, other);
    if (path === null) continue;
    const mean = path.reduce((sum, [i, j]) => sum + distance(said, i, other, j), 0) / path.length;
    if (best === null || mean < best.mean) best = { path, other, mean };
  }
  if (best === null) return null;
  const { path, other, mean } = best;
  const start = path[0]!;
  const end = path.at(-1)!;
  const cut = bestPlace(said, other, path);
  return {
    a: { start: first / FRAMES, end: (last + 1) / FRAMES },
    b: { start: start[1] / FRAMES, end: (end[1] + 1) / FRAMES },
    cutA: (cut[0] + 0.5) / FRAMES,
    cutB: (cut[1] + 0.5) / FRAMES,
    likeness: Math.exp(-mean / Math.sqrt(2 * WIDTH)),
  };
}

type Pair = readonly [a: number, b: number];

/** Pairs of frames along the best alignment of `first` … `last` of `a` with any part of `b`. */
function align(a: Cepstra, first: number, last: number, b: Cepstra): Pair[] | null {
  const rows = last - first + 1;
  const columns = b.frames;
  if (columns < rows / 2) return null;
  const cost = new Float32Array(rows * columns).fill(Infinity);
  const from = new Uint8Array(rows * columns);
  for (let i = 0; i < rows; i++)
    for (let j = 0; j < columns; j++) {
      const d = distance(a, first + i, b, j);
      if (i === 0) {
        cost[j] = d;
        continue;
      }
      const step = (k: number, di: number, dj: number, weight: number): void => {
        if (i < di || j < dj) return;
        const value = cost[(i - di) * columns + j - dj]! + weight * d;
        if (value < cost[i * columns + j]!) {
          cost[i * columns + j] = value;
          from[i * columns + j] = k;
        }
      };
      step(1, 1, 1, 1);
      step(2, 1, 2, 1.2);
      step(3, 2, 1, 2);
    }
  let end = 0;
  for (let j = 1; j < columns; j++) if (cost[(rows - 1) * columns + j]! < cost[(rows - 1) * columns + end]!) end = j;
  if (!Number.isFinite(cost[(rows - 1) * columns + end]!)) return null;
  const path: Pair[] = [];
  for (let i = rows - 1, j = end; ;) {
    path.unshift([first + i, j]);
    const step = from[i * columns + j]!;
    if (i === 0 || step === 0) return path;
    if (step === 3) path.unshift([first + i - 1, j]);
    i -= step === 3 ? 2 : 1;
    j -= step === 2 ? 2 : 1;
  }
}

/** Frames around a place over which both must agree. */
const AGREE = 8;

/** The pair inside the word where both sound most alike for a while, its edges left out. */
function bestPlace(a: Cepstra, b: Cepstra, path: readonly Pair[]): Pair {
  const apart = path.map(([i, j]) => distance(a, i, b, j) + Math.abs(a.loudness[i]! - b.loudness[j]!) / LOUDNESS_SHARE);
  const edge = Math.floor(path.length / 5);
  let best = path.length >> 1;
  let least = Infinity;
  for (let k = edge; k < path.length - edge; k++) {
    let sum = 0;
    let count = 0;
    for (let n = Math.max(0, k - AGREE); n <= Math.min(path.length - 1, k + AGREE); n++, count++) sum += apart[n]!;
    if (sum / count < least) [least, best] = [sum / count, k];
  }
  return path[best]!;
}

/** Seconds under which a pause is none. */
const SHORTEST_PAUSE = 0.08;
const SHORTEST_SOUND = 0.03;
/** dB over the quietest tenth that still count as silence, but at most so far under the loudest. */
const OVER_FLOOR = 8;
const UNDER_TOP = 40;

/** The silent spans of speech; their ends are where something begins or ends to be heard. */
export function findSilences(speech: Float32Array): SecondsSpan[] {
  const frames = Math.floor(speech.length / HOP);
  const levels = new Float32Array(frames);
  for (let i = 0; i < frames; i++) {
    let power = 0;
    for (let s = i * HOP; s < (i + 1) * HOP; s++) power += speech[s]! ** 2;
    levels[i] = 10 * Math.log10(1e-10 + power / HOP);
  }
  const sorted = Float32Array.from(levels).sort();
  const floor = sorted[Math.floor(frames / 10)] ?? -100;
  const top = sorted[Math.floor(frames * 0.98)] ?? -100;
  const limit = Math.max(Math.min(floor + OVER_FLOOR, top - 12), top - UNDER_TOP);
  const spans: { start: number; end: number }[] = [];
  for (let i = 0; i < frames; i++) {
    if (levels[i]! >= limit) continue;
    const before = spans.at(-1);
    if (before !== undefined && (i - before.end) / FRAMES < SHORTEST_SOUND) before.end = i + 1;
    else spans.push({ start: i, end: i + 1 });
  }
  return spans.map(({ start, end }) => ({ start: start / FRAMES, end: end / FRAMES })).filter((s) => s.end - s.start >= SHORTEST_PAUSE);
}
