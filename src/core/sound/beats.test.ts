import { SOUND_RATE } from '../film/sound';
import { describe, expect, it } from 'vitest';
import { findBeats, type Beats } from './beats';
import { ONSET_MARGIN, ONSET_RATE, onsetsOf } from './onsets';
import { drums, fMeasure, seeded, type DrumOptions } from './test-sounds';

function beatsOf(sound: Float32Array): Beats | null {
  const padded = new Float32Array(sound.length + ONSET_MARGIN);
  padded.set(sound, ONSET_MARGIN);
  return findBeats(onsetsOf(padded, Math.floor((sound.length / SOUND_RATE) * ONSET_RATE)));
}

const CASES: readonly (readonly [string, Omit<DrumOptions, 'seconds'>])[] = [
  ['straight, 112', { tempoAt: () => 112 }],
  ['slow, 63', { tempoAt: () => 63 }],
  ['fast, 168', { tempoAt: () => 168 }],
  ['swung, 96', { tempoAt: () => 96, swing: 0.66 }],
  ['speeding up', { tempoAt: (t) => 90 * (1 + t / 150), swing: 0.6 }],
  ['a new tempo in the middle', { tempoAt: (t) => (t < 9 ? 112 : 130) }],
  ['a third of the hits missing', { tempoAt: () => 124, missing: 0.33 }],
  ['in noise', { tempoAt: () => 104, noise: 0.15 }],
  [
    'played loosely, with all of it',
    { tempoAt: (t) => 118 * (1 + 0.06 * Math.sin(t / 6)), swing: 0.6, missing: 0.15, noise: 0.05, loose: 0.012 },
  ],
];

describe('findBeats', () => {
  it.each(CASES)('follows drums: %s', (_, options) => {
    const { sound, beats } = drums({ seconds: 30, seed: 5, ...options });
    const found = beatsOf(sound)!;
    expect(fMeasure(found.seconds, beats)).toBeGreaterThan(0.96);
    const gaps = beats.slice(1).map((t, i) => t - beats[i]!);
    const tempo = 60 / [...gaps].sort((a, b) => a - b)[gaps.length >> 1]!;
    expect(Math.abs(found.beatsPerMinute / tempo - 1)).toBeLessThan(0.015);
  });

  it('lays steady beats within 12 ms, bars on the bass drum', () => {
    const { sound, beats } = drums({ seconds: 20, tempoAt: () => 112, seed: 2 });
    const found = beatsOf(sound)!;
    for (const [i, t] of found.seconds.entries()) {
      const nearest = beats.reduce((best, b) => (Math.abs(b - t) < Math.abs(best - t) ? b : best));
      expect([i, Math.abs(nearest - t) < 0.012]).toEqual([i, true]);
    }
    const bar = found.seconds[found.downbeat]!;
    const index = beats.findIndex((b) => Math.abs(b - bar) < 0.03);
    expect(index % 2).toBe(0);
  });

  it('is sure of drums and less so of noise, and finds nothing in silence', () => {
    const random = seeded(9);
    const hiss = Float32Array.from({ length: 20 * SOUND_RATE }, () => 0.2 * (random() - 0.5));
    const sure = beatsOf(drums({ seconds: 20, tempoAt: () => 100 }).sound)!.confidence;
    expect(sure).toBeGreaterThan(0.5);
    expect(beatsOf(hiss)?.confidence ?? 0).toBeLessThan(0.6 * sure);
    expect(beatsOf(new Float32Array(10 * SOUND_RATE))).toBeNull();
    expect(beatsOf(new Float32Array(100))).toBeNull();
  });
});
