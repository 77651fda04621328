import { ONSET_RATE, type Onsets } from './onsets';

/** Beats of a piece of music. */
export interface Beats {
  /** Rising. */
  readonly seconds: readonly number[];
  /** First beat that begins a bar, with `perBar` beats a bar. */
  readonly downbeat: number;
  readonly perBar: number;
  readonly beatsPerMinute: number;
  /** 0..1: how much louder what begins on the beats is than what begins between them. */
  readonly confidence: number;
}

const SLOWEST_BPM = 50;
const FASTEST_BPM = 220;
/** People tap so many beats a minute most readily, and by so many octaves around it. */
const USUAL_BPM = 118;
const USUAL_OCTAVES = 0.75;
/** Beats a minute that people count at least and at most, where both are to be had. */
const SLOWEST_COUNT = 55;
const FASTEST_COUNT = 190;
/** Seconds by which a strength rises before what begins is heard. */
const LATE = 0.006;
/** How strictly beats keep to the tempo. */
const TIGHTNESS = 110;
/** Seconds that are looked at for the tempo at one time, and seconds from one look to the next. */
const LOOK = 8;
const LOOK_STEP = 1;
/** Cost of a change of tempo from one look to the next, for a doubling. */
const TEMPO_CHANGE = 30;

/**
 * Tempo by the autocorrelation of onset strength along the piece, beats by dynamic programming between strong onsets and even
 * distances (Ellis 2007), with a tempo that may change: the best path of tempos is found first.
 */
export function findBeats({ all, low, loud }: Onsets): Beats | null {
  const strength = evened(all.map((v, i) => v + low[i]!));
  const periods = tempoPath(strength, evened(low));
  if (periods === null) return null;
  const first = trackBeats(strength, periods);
  if (first.length < 4) return null;
  const factor = countedFactor(first, loud);
  const frames =
    factor === 1
      ? first
      : trackBeats(
          strength,
          periods.map((p) => p / factor),
        );
  const seconds = steadied(frames.map((f) => refined(strength, f) / ONSET_RATE + LATE));
  const gaps = seconds.slice(1).map((s, i) => s - seconds[i]!);
  const downbeat = guessDownbeat(frames, evened(low), strength);
  return { seconds, downbeat, perBar: 4, beatsPerMinute: 60 / median(gaps), confidence: confidenceOf(strength, frames) };
}

/** Share of a beat's loudness over which what lies between two of them counts too, and under which every second beat does not. */
const STRONG_BETWEEN = 0.3;
const WEAK_SECOND = 0.13;
/** Beats are alike when the weaker ones have at least this share of the others' loudness. */
const ALIKE = 0.6;

/** 2 where people would count twice as fast, 0.5 where half as fast, by how loud beats are and what lies between them. */
function countedFactor(frames: readonly number[], loud: Float32Array): 0.5 | 1 | 2 {
  const around = (frame: number): number => {
    let most = 0;
    for (let f = frame - 3; f <= frame + 3; f++) most = Math.max(most, loud[f] ?? 0);
    return most;
  };
  const mean = (at: readonly number[]): number => at.reduce((sum, f) => sum + around(f), 0) / Math.max(1, at.length);
  const bpm = (60 * ONSET_RATE) / median(frames.slice(1).map((f, i) => f - frames[i]!));
  const between = mean(frames.slice(1).map((f, i) => Math.round((f + frames[i]!) / 2)));
  const [even, odd] = [0, 1].map((phase) => mean(frames.filter((_, i) => i % 2 === phase))) as [number, number];
  const [weak, strong] = [Math.min(even, odd), Math.max(even, odd)];
  if (2 * bpm <= FASTEST_COUNT && weak > ALIKE * strong && between > STRONG_BETWEEN * weak) return 2;
  return bpm / 2 >= SLOWEST_COUNT && weak < WEAK_SECOND * strong ? 0.5 : 1;
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0;

/** Strength against what is usual within a second around, in shares of its spread. */
function evened(values: Float32Array): Float32Array {
  const reach = ONSET_RATE;
  const sums = new Float64Array(values.length + 1);
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i]! + values[i]!;
  const out = new Float32Array(values.length);
  let power = 0;
  for (let i = 0; i < values.length; i++) {
    const from = Math.max(0, i - reach);
    const to = Math.min(values.length, i + reach + 1);
    out[i] = Math.max(0, values[i]! - (sums[to]! - sums[from]!) / (to - from));
    power += out[i]! ** 2;
  }
  const spread = Math.sqrt(power / Math.max(1, values.length));
  if (spread > 0) for (let i = 0; i < out.length; i++) out[i] = Math.min(6, out[i]! / spread);
  return out;
}

const SHORTEST = Math.floor((60 * ONSET_RATE) / FASTEST_BPM);
const LONGEST = Math.ceil((60 * ONSET_RATE) / SLOWEST_BPM);

/** Period of the beat at each strength, frames; null where nothing repeats. */
function tempoPath(strength: Float32Array, low: Float32Array): Float32Array | null {
  const lags = Array.from({ length: LONGEST - SHORTEST + 1 }, (_, i) => SHORTEST + i);
  const looks = Math.max(1, Math.ceil((strength.length / ONSET_RATE - LOOK) / LOOK_STEP) + 1);
  const scores: Float64Array[] = [];
  for (let k = 0; k < looks; k++) {
    const from = Math.round(k * LOOK_STEP * ONSET_RATE);
    scores.push(periodicity(strength, low, from, Math.min(strength.length, from + LOOK * ONSET_RATE), lags));
  }
  if (scores.every((s) => s.every((v) => v <= 0))) return null;
  const path = bestPath(scores, lags);
  const periods = new Float32Array(strength.length);
  for (let i = 0; i < periods.length; i++) {
    const place = Math.max(0, Math.min(looks - 1, (i / ONSET_RATE - LOOK / 2) / LOOK_STEP));
    const k = Math.min(looks - 2, Math.floor(place));
    periods[i] = looks === 1 ? path[0]! : path[k]! + (path[k + 1]! - path[k]!) * (place - k);
  }
  return periods;
}

/** How well each period fits a span: likeness to itself one, two and four periods on, weighed by how usual it is. */
function periodicity(strength: Float32Array, low: Float32Array, from: number, to: number, lags: readonly number[]): Float64Array {
  const most = 4 * LONGEST + 2;
  const own = autocorrelation(strength, from, to, most);
  const lows = autocorrelation(low, from, to, most);
  const at = (lag: number): number => {
    // beats that drift lie a little beside their multiple
    const [i, reach] = [Math.round(lag), Math.max(1, Math.round(lag / 40))];
    let best = 0;
    for (let j = i - reach; j <= i + reach; j++) best = Math.max(best, (own[j] ?? 0) + (lows[j] ?? 0));
    return best;
  };
  return Float64Array.from(lags, (lag) => {
    const usual = Math.log2((60 * ONSET_RATE) / lag / USUAL_BPM) / USUAL_OCTAVES;
    return (
      (((own[lag] ?? 0) + (lows[lag] ?? 0)) * 1 + 0.8 * at(2 * lag) + 0.3 * at(3 * lag) + 0.6 * at(4 * lag)) *
      Math.exp(-0.5 * usual * usual)
    );
  });
}

/** Normalised so that a span is 1 like itself. */
function autocorrelation(values: Float32Array, from: number, to: number, most: number): Float64Array {
  const out = new Float64Array(most + 1);
  let own = 1e-9;
  for (let i = from; i < to; i++) own += values[i]! ** 2;
  for (let lag = 1; lag <= most && lag < to - from; lag++) {
    let sum = 0;
    for (let i = from + lag; i < to; i++) sum += values[i]! * values[i - lag]!;
    out[lag] = ((sum / own) * (to - from)) / (to - from - lag + 1);
  }
  return out;
}

/** The path of lags with the most score and the least change (Viterbi 1967). */
function bestPath(scores: readonly Float64Array[], lags: readonly number[]): Float32Array {
  const logs = lags.map(Math.log2);
  const back: Int32Array[] = [];
  let total = Float64Array.from(scores[0]!);
  for (let k = 1; k < scores.length; k++) {
    const from = new Int32Array(lags.length);
    const next = new Float64Array(lags.length);
    for (let i = 0; i < lags.length; i++) {
      let best = -Infinity;
      for (let j = 0; j < lags.length; j++) {
        const change = logs[i]! - logs[j]!;
        const value = total[j]! - TEMPO_CHANGE * change * change;
        if (value > best) [best, from[i]] = [value, j];
      }
      next[i] = best + scores[k]![i]!;
    }
    back.push(from);
    total = next;
  }
  let at = total.indexOf(Math.max(...total));
  const path = new Float32Array(scores.length);
  for (let k = scores.length - 1; k >= 0; k--) {
    path[k] = lags[at]!;
    if (k > 0) at = back[k - 1]![at]!;
  }
  return path;
}

/** Frames of the beats: strong, and a period apart. */
function trackBeats(strength: Float32Array, periods: Float32Array): number[] {
  const length = strength.length;
  const smooth = smoothed(strength);
  const score = new Float64Array(length);
  const back = new Int32Array(length).fill(-1);
  for (let t = 0; t < length; t++) {
    const period = periods[t]!;
    let best = 0;
    for (let s = Math.max(0, t - Math.round(2 * period)); s <= t - Math.round(period / 2); s++) {
      const ratio = Math.log((t - s) / period);
      const value = score[s]! - TIGHTNESS * ratio * ratio;
      if (value > best) [best, back[t]] = [value, s];
    }
    score[t] = smooth[t]! + best;
  }
  // the last beat is among the last periods that still sound
  let end = length - 1;
  for (let t = Math.max(0, length - Math.round(2 * periods[length - 1]!)); t < length; t++) if (score[t]! > score[end]!) end = t;
  const frames: number[] = [];
  for (let t = end; t >= 0; t = back[t]!) frames.unshift(t);
  return trimmed(frames, smooth);
}

/** Onsets a frame or two beside still count for a beat. */
function smoothed(values: Float32Array): Float32Array {
  const weights = [0.25, 0.7, 1, 0.7, 0.25];
  return values.map((_, i) => weights.reduce((sum, w, j) => sum + w * (values[i + j - 2] ?? 0), 0));
}

/** Without beats in the silence before and after the music. */
function trimmed(frames: readonly number[], strength: Float32Array): number[] {
  const peaks = frames.map((f) => strength[f]!);
  const enough = 0.4 * Math.sqrt(peaks.reduce((sum, p) => sum + p * p, 0) / Math.max(1, peaks.length));
  const first = peaks.findIndex((p) => p > enough);
  const last = peaks.findLastIndex((p) => p > enough);
  return first < 0 ? [] : frames.slice(first, last + 1);
}

/** The top of the onset near a beat, between two frames; the beat itself where there is none. */
function refined(strength: Float32Array, frame: number): number {
  let top = frame;
  for (let f = Math.max(1, frame - 3); f <= Math.min(strength.length - 2, frame + 3); f++) if (strength[f]! > strength[top]!) top = f;
  const [a, b, c] = [strength[top - 1] ?? 0, strength[top]!, strength[top + 1] ?? 0];
  if (b <= 0) return frame;
  const bend = a - 2 * b + c;
  return bend < 0 ? top + Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : top;
}

/** Beats on either side that a beat is evened with, and their weights. */
const STEADY = [3, 2, 1] as const;

/** Each beat on the straight line through its neighbours: what is heard of one strays by some milliseconds, the pulse does not. */
function steadied(seconds: readonly number[]): number[] {
  return seconds.map((_, i) => {
    let [w, x, y, xx, xy] = [0, 0, 0, 0, 0];
    for (let d = 1 - STEADY.length; d < STEADY.length; d++) {
      const t = seconds[i + d];
      const weight = STEADY[Math.abs(d)]!;
      if (t === undefined) continue;
      w += weight;
      x += weight * d;
      y += weight * t;
      xx += weight * d * d;
      xy += weight * d * t;
    }
    return (y * xx - x * xy) / (w * xx - x * x);
  });
}

/** The phase of bars of four whose first beats begin most strongly, low drums before all. */
function guessDownbeat(frames: readonly number[], low: Float32Array, strength: Float32Array): number {
  const around = (values: Float32Array, frame: number): number => Math.max(...[-2, -1, 0, 1, 2].map((j) => values[frame + j] ?? 0));
  const sums = [0, 0, 0, 0];
  const counts = [0, 0, 0, 0];
  frames.forEach((frame, i) => {
    sums[i % 4]! += 2 * around(low, frame) + around(strength, frame);
    counts[i % 4]! += 1;
  });
  const means = sums.map((s, i) => s / Math.max(1, counts[i]!));
  return means.indexOf(Math.max(...means));
}

function confidenceOf(strength: Float32Array, frames: readonly number[]): number {
  const isOn = new Uint8Array(strength.length);
  for (const f of frames) isOn.fill(1, Math.max(0, f - 3), f + 4);
  let [on, off] = [0, 0];
  for (let f = frames[0]!; f <= frames.at(-1)!; f++) {
    if (isOn[f] === 1) on += strength[f]!;
    else off += strength[f]!;
  }
  return on + off > 0 ? on / (on + off) : 0;
}
