import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createFilm } from '../src/core/film/film';
import { rational } from '../src/core/geometry/rational';
import { findBeats } from '../src/core/sound/beats';
import { ONSET_MARGIN, ONSET_RATE, onsetsOf } from '../src/core/sound/onsets';
import { SOUND_RATE } from '../src/core/film/sound';
import { drums, fMeasure, speak, type DrumOptions } from '../src/core/sound/test-sounds';
import { findWord } from '../src/core/sound/words';
import { rootFolder } from '../src/server/base/data-folder';
import { openDb } from '../src/server/database/db';
import { look } from '../src/server/video/ffmpeg';
import { addFilm } from '../src/server/films/films';
import { copyMedium } from '../src/server/media/media';
import { takeSound } from '../src/server/media/sound-files';
import type { Line } from './line';

const RUNS = 3;
const MINUTES = 10;

const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

/** Kinds of drumming, each at several tempos and seeds. */
const DRUMS: readonly ((bpm: number) => Omit<DrumOptions, 'seconds'>)[] = [
  (bpm) => ({ tempoAt: () => bpm }),
  (bpm) => ({ tempoAt: () => bpm, swing: 0.66 }),
  (bpm) => ({ tempoAt: (t) => bpm * (1 + t / 200), swing: 0.6 }),
  (bpm) => ({ tempoAt: (t) => (t < 12 ? bpm : bpm * 1.12) }),
  (bpm) => ({ tempoAt: () => bpm, missing: 0.3 }),
  (bpm) => ({ tempoAt: () => bpm, noise: 0.12 }),
  (bpm) => ({ tempoAt: (t) => bpm * (1 + 0.05 * Math.sin(t / 6)), swing: 0.6, missing: 0.15, noise: 0.05, loose: 0.012 }),
];
const TEMPOS = [68, 84, 104, 126, 150];

/** The best that beats laid evenly at the true mean tempo can do, whatever their phase. */
function evenGrid(beats: readonly number[]): number {
  const gap = (beats.at(-1)! - beats[0]!) / (beats.length - 1);
  const tried = Array.from({ length: 20 }, (_, i) => beats.map((_, k) => beats[0]! + (k + i / 20 - 0.5) * gap));
  return Math.max(...tried.map((grid) => fMeasure(grid, beats)));
}

function beatLines(): Line[] {
  const found: { f: number; tempo: number; even: number }[] = [];
  for (const made of DRUMS)
    for (const [seed, bpm] of TEMPOS.entries()) {
      const { sound, beats } = drums({ seconds: 30, seed: seed + 11, ...made(bpm) });
      const padded = new Float32Array(sound.length + ONSET_MARGIN);
      padded.set(sound, ONSET_MARGIN);
      const result = findBeats(onsetsOf(padded, Math.floor((sound.length / SOUND_RATE) * ONSET_RATE)))!;
      const gaps = beats
        .slice(1)
        .map((t, i) => t - beats[i]!)
        .sort((a, b) => a - b);
      found.push({
        f: fMeasure(result.seconds, beats),
        tempo: Math.abs((result.beatsPerMinute * gaps[gaps.length >> 1]!) / 60 - 1),
        even: evenGrid(beats),
      });
    }
  return [
    {
      what: `beats in ${found.length} made pieces, F at 70 ms, mean and least`,
      value: `${mean(found.map((f) => f.f)).toFixed(3)} ${Math.min(...found.map((f) => f.f)).toFixed(2)}`,
      against: `even beats at the exact mean tempo ${mean(found.map((f) => f.even)).toFixed(3)}`,
    },
    {
      what: 'their tempo: mean and greatest error',
      value: `${(100 * mean(found.map((f) => f.tempo))).toFixed(2)} % ${(100 * Math.max(...found.map((f) => f.tempo))).toFixed(1)} %`,
      against: 'the middle one of the gaps between true beats',
    },
  ];
}

function wordLine(): Line {
  const said = ['sali', 'temu', 'milasu', 'aleta', 'uma'];
  const others = ['lumi', 'asetu', 'milasu', 'tali'];
  const mine = speak(said, { pitch: 110, pace: 1, seed: 4 });
  const errors: number[] = [];
  for (const pitch of [90, 118, 150, 190])
    for (const pace of [0.75, 0.9, 1.1, 1.3]) {
      const theirs = speak(others, { pitch, pace, size: pitch > 140 ? 1.1 : 1, seed: pitch + Math.round(10 * pace) });
      const found = findWord(mine.sound, mine.spans[2]!, theirs.sound);
      const truth = theirs.spans[2]!;
      errors.push(...(found === null ? [1, 1] : [Math.abs(found.b.start - truth.start), Math.abs(found.b.end - truth.end)]));
    }
  return {
    what: 'edges of a shared word in 16 other voices: mean and greatest error',
    value: `${(1000 * mean(errors)).toFixed(0)} ms ${(1000 * Math.max(...errors)).toFixed(0)} ms`,
    against: 'made voices, pitch 90 to 190 Hz, pace 0.75 to 1.3',
  };
}

async function takingLine(): Promise<Line> {
  const folder = mkdtempSync(join(tmpdir(), 'irimi-bench-'));
  process.env.IRIMI_DATA = folder;
  const db = await openDb(join(folder, 'irimi.sqlite'));
  try {
    const music = join(rootFolder(), 'demo/media/small-hours.opus');
    const long = join(folder, 'long.opus');
    const ffmpeg = (...args: string[]): void => {
      const run = spawnSync('ffmpeg', ['-v', 'error', '-y', '-nostdin', ...args]);
      if (run.status !== 0) throw new Error(String(run.stderr));
    };
    ffmpeg('-stream_loop', '-1', '-i', music, '-t', String(60 * MINUTES), '-c:a', 'libopus', '-b:a', '96k', long);
    const filmId = await addFilm(db, createFilm('Bench', 640, 360, rational(24, 1)));
    const id = await copyMedium(db, filmId, 'long.opus', long);
    const { sound } = await look(long);
    let [ours, theirs] = [Infinity, Infinity];
    for (let i = 0; i < RUNS; i++) {
      let began = performance.now();
      await takeSound(id, 'long', sound!, null, new AbortController().signal, () => undefined);
      ours = Math.min(ours, performance.now() - began);
      began = performance.now();
      ffmpeg('-i', long, '-f', 'null', '-');
      theirs = Math.min(theirs, performance.now() - began);
    }
    return {
      what: `${MINUTES} minutes of Opus decoded, kept and their peaks taken`,
      value: `${(ours / 1000).toFixed(2)} s`,
      against: `ffmpeg decoding them alone ${(theirs / 1000).toFixed(2)} s: ${((ours - theirs) / 1000).toFixed(2)} s beside it`,
    };
  } finally {
    await db.destroy();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Sounds: taken in, their beats and shared words found. */
export async function benchSound(): Promise<Line[]> {
  return [await takingLine(), ...beatLines(), wordLine()];
}
