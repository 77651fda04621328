// The film's music, 40 s at 112 beats a minute: drums, bass, a bell with a little swing.
import { writeFileSync } from 'node:fs';
import { addNote, bell, RATE, seededRandom, writeSound } from './synth.mjs';

const SECONDS = 40;
const BEATS_PER_MINUTE = 112;
const BEAT = 60 / BEATS_PER_MINUTE;
const FIRST_BEAT = 0.25;
/** The bell's off-beats come this part of a beat late. */
const SWING = 0.09;

const hertz = (semitonesFromA) => 220 * 2 ** (semitonesFromA / 12);
/** Four bars, each a root in semitones from A: minor, then home by way of the sixth. */
const ROOTS = [-12, -16, -9, -14];
const TUNE = [
  [0, 12],
  [1.5, 15],
  [2, 19],
  [3.5, 17],
  [4, 15],
  [5.5, 12],
  [6, 8],
  [8, 15],
  [9.5, 19],
  [10, 24],
  [11.5, 22],
  [12, 19],
  [13.5, 17],
  [14, 14],
];

function drum(random) {
  const hiss = Float32Array.from({ length: RATE }, () => 2 * random() - 1);
  const noise = (t) => hiss[Math.floor(t * RATE) % RATE];
  return {
    kick: (t) =>
      0.85 * Math.exp(-t * 9) * Math.sin(2 * Math.PI * (46 * t + (1 - Math.exp(-t * 38)) * 2.6)) + 0.2 * Math.exp(-t * 260) * noise(t),
    brush: (t) =>
      0.24 * Math.exp(-t * 17) * (noise(t) - 0.6 * noise(Math.max(0, t - 1 / RATE))) +
      0.2 * Math.exp(-t * 26) * Math.sin(2 * Math.PI * 186 * t),
    tick: (t) => 0.075 * Math.exp(-t * 85) * (noise(t) - noise(Math.max(0, t - 1 / RATE))),
  };
}

export function makeMusic(mediaFolder, truthFolder) {
  const random = seededRandom(112);
  const left = new Float32Array(SECONDS * RATE);
  const right = new Float32Array(SECONDS * RATE);
  const both = (start, length, note, pan = 0) => {
    addNote(left, start, length, (t) => note(t) * Math.cos(((pan + 1) * Math.PI) / 4) * 1.2);
    addNote(right, start, length, (t) => note(t) * Math.sin(((pan + 1) * Math.PI) / 4) * 1.2);
  };
  const { kick, brush, tick } = drum(random);
  const count = Math.floor((SECONDS - FIRST_BEAT - 1.2) / BEAT);
  const beats = [];
  for (let n = 0; n < count; n++) {
    const at = FIRST_BEAT + n * BEAT;
    beats.push(Math.round(at * 10000) / 10000);
    const inBar = n % 4;
    const bar = Math.floor(n / 4);
    const full = bar >= 2 && bar < 16;
    if (inBar === 0 || inBar === 2) both(at, 0.45, kick);
    if (full && (inBar === 1 || inBar === 3)) both(at, 0.35, brush, 0.15);
    if (full) both(at, 0.12, tick, -0.35);
    if (full) both(at + BEAT / 2, 0.12, (t) => 0.7 * tick(t), 0.4);
    if (full && inBar === 3 && bar % 4 === 3) both(at + BEAT / 2, 0.45, (t) => 0.6 * kick(t));
    const root = hertz(ROOTS[bar % 4]);
    const pluck = (f) => (t) =>
      0.34 *
      Math.min(1, t * 300) *
      Math.exp(-t * 3.2) *
      (Math.sin(2 * Math.PI * f * t) +
        0.35 * Math.sin(4 * Math.PI * f * t) * Math.exp(-t * 5) +
        0.12 * Math.sin(6 * Math.PI * f * t) * Math.exp(-t * 9));
    if (bar >= 1 && inBar === 0) both(at, BEAT * 1.9, pluck(root / 2), -0.1);
    if (bar >= 1 && inBar === 2) both(at, BEAT * 0.95, pluck((root / 2) * 1.498), -0.1);
    if (bar >= 2 && inBar === 3) both(at + BEAT / 2, BEAT * 0.5, pluck(root / 2), -0.1);
    if (inBar === 0)
      for (const [step, pan] of [
        [0, -0.5],
        [7, 0.5],
        [15, 0.1],
      ]) {
        const f = root * 2 ** (step / 12);
        const life = 4 * BEAT;
        both(
          at,
          life,
          (t) =>
            0.034 *
            Math.min(1, t * 3) *
            Math.min(1, (life - t) * 3) *
            (Math.sin(2 * Math.PI * f * t + 0.6 * Math.sin(2 * Math.PI * 4.1 * t)) + 0.4 * Math.sin(4 * Math.PI * f * 1.003 * t)),
          pan,
        );
      }
  }
  for (let phrase = 0; phrase * 16 < count - 8; phrase++)
    for (const [beat, note] of TUNE) {
      if (phrase === 0 && beat < 4) continue;
      const late = beat % 1 === 0 ? 0 : SWING;
      both(FIRST_BEAT + (phrase * 16 + beat + late) * BEAT, 2.4, bell(hertz(note), 1.5), 0.25 * Math.sin(beat + phrase));
    }
  for (const channel of [left, right])
    for (let i = 0; i < channel.length; i++) {
      const end = Math.min(1, (SECONDS - i / RATE) / 1.2);
      channel[i] = Math.tanh(0.72 * channel[i]) * end;
    }
  writeSound(`${mediaFolder}/small-hours.opus`, [left, right], '-c:a', 'libopus', '-b:a', '128k');
  writeFileSync(`${truthFolder}/small-hours.beats.json`, `${JSON.stringify({ beatsPerMinute: BEATS_PER_MINUTE, beats })}\n`);
}
