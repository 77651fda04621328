// Small building blocks of synthesised sound. Samples are floats in −1..1 at RATE; randomness is seeded.
import { spawnSync } from 'node:child_process';

export const RATE = 48_000;

/** A generator of numbers in [0, 1): the same seed gives the same sound (mulberry32). */
export function seededRandom(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Adds `note(seconds since its start)` to `out` from `start` for `length` seconds. */
export function addNote(out, start, length, note) {
  const first = Math.max(0, Math.round(start * RATE));
  const last = Math.min(out.length, Math.round((start + length) * RATE));
  for (let i = first; i < last; i++) out[i] += note(i / RATE - start);
}

/** A struck bell: inharmonic partials, the high ones dying first. */
export function bell(frequency, seconds) {
  const partials = [
    [0.5, 0.5, 1.2],
    [1, 1, 1],
    [1.183, 0.35, 0.8],
    [1.506, 0.4, 0.7],
    [2, 0.55, 0.6],
    [2.66, 0.3, 0.4],
    [3.9, 0.18, 0.25],
    [5.3, 0.1, 0.15],
  ];
  return (t) =>
    partials.reduce(
      (sum, [ratio, level, life]) => sum + level * Math.exp(-t / (life * seconds * 0.35)) * Math.sin(2 * Math.PI * frequency * ratio * t),
      0,
    ) *
    Math.min(1, t * 900) *
    0.3;
}

/** Noise that leans to the low end: white noise through one pole at `hertz`, about −1..1. */
export function softNoise(length, hertz, seed) {
  const random = seededRandom(seed);
  const out = new Float32Array(length);
  const keep = Math.exp((-2 * Math.PI * hertz) / RATE);
  let value = 0;
  for (let i = 0; i < length; i++) {
    value = keep * value + (1 - keep) * (2 * random() - 1);
    out[i] = value / Math.sqrt((1 - keep) / (1 + keep)) / 1.73;
  }
  return out;
}

/** Runs `command`, gives what it wrote, and fails when it fails. */
export function run(command, args, input) {
  const done = spawnSync(command, args, { input, maxBuffer: 2 ** 30 });
  if (done.error) throw done.error;
  if (done.status !== 0) throw new Error(`${command} failed: ${done.stderr}`);
  return done.stdout;
}

/** Encodes channels of floats to `file`, whose ending says how; `args` go to the encoder. */
export function writeSound(file, channels, ...args) {
  const length = channels[0].length;
  const mixed = new Float32Array(length * channels.length);
  channels.forEach((channel, c) => channel.forEach((v, i) => (mixed[i * channels.length + c] = Math.max(-1, Math.min(1, v)))));
  const raw = ['-f', 'f32le', '-ar', String(RATE), '-ac', String(channels.length), '-i', 'pipe:0'];
  run('ffmpeg', ['-v', 'error', '-y', ...raw, ...args, file], Buffer.from(mixed.buffer));
}
