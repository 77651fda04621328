import { describe, expect, it } from 'vitest';
import { SOUND_RATE } from '../film/sound';
import { silence, type Stereo } from './samples';
import { Stretched } from './stretch';

const LENGTH = 4 * SOUND_RATE;

/** A voice-like tone of 150 Hz with harmonics, swelling twice a second; medium sample `n` of it. */
const toneAt = (n: number): number => {
  if (n < 0 || n >= LENGTH) return 0;
  const t = n / SOUND_RATE;
  const swell = 0.6 + 0.4 * Math.sin(2 * Math.PI * 2 * t);
  return 0.3 * swell * [1, 2, 3, 4].reduce((sum, k) => sum + Math.sin(2 * Math.PI * 150 * k * t + k) / k, 0);
};
const read = (from: number, count: number): Promise<Stereo> => {
  const out = silence(count);
  for (let i = 0; i < count; i++) out.left[i] = out.right[i] = toneAt(from + i);
  return Promise.resolve(out);
};
const at = (speed: number, begin = 0) => new Stretched((n) => begin + n * speed, read);

/** Hertz of the strongest repetition between 100 and 400. */
function pitchOf(sound: Float32Array): number {
  let [best, most] = [0, -Infinity];
  for (let lag = SOUND_RATE / 400; lag < SOUND_RATE / 100; lag++) {
    let sum = 0;
    for (let i = 0; i + lag < sound.length; i += 3) sum += sound[i]! * sound[i + Math.round(lag)]!;
    if (sum > most) [most, best] = [sum, Math.round(lag)];
  }
  return SOUND_RATE / best;
}

describe('Stretched', () => {
  it('is the sound itself at its own speed', async () => {
    const { left } = await at(1).block(5000, 9000);
    for (let i = 0; i < 9000; i++) expect(left[i]).toBeCloseTo(toneAt(5000 + i), 5);
  });

  it.each([0.5, 0.8, 1.25, 2])('keeps the pitch at %s of the speed, without gaps', async (speed) => {
    const { left } = await at(speed).block(20_000, 24_000);
    expect(pitchOf(left)).toBeCloseTo(150, -0.5);
    // the loudness follows the sound's own, nowhere torn
    const power = (from: number): number => Math.sqrt(left.subarray(from, from + 2000).reduce((s, v) => s + v * v, 0) / 2000);
    for (let from = 0; from < 22_000; from += 2000) {
      const t = ((20_000 + from + 1000) * speed) / SOUND_RATE;
      const expected = 0.3 * (0.6 + 0.4 * Math.sin(4 * Math.PI * t)) * Math.sqrt(0.5 * (1 + 1 / 4 + 1 / 9 + 1 / 16));
      expect(power(from)).toBeGreaterThan(0.75 * expected);
      expect(power(from)).toBeLessThan(1.25 * expected);
    }
  });

  it('gives the same whatever was asked before', async () => {
    const whole = await at(0.7).block(0, 60_000);
    const parts = at(0.7);
    await parts.block(50_000, 100);
    const piece = await parts.block(30_001, 1234);
    expect([...piece.left]).toEqual([...whole.left.subarray(30_001, 31_235)]);
  });

  it('runs backwards', async () => {
    const { left } = await at(-1, 100_000).block(4096, 4000);
    for (let i = 0; i < 4000; i++) expect(left[i]).toBeCloseTo(toneAt(100_000 - 4096 - i), 5);
    expect(pitchOf((await at(-0.6, 100_000).block(4096, 24_000)).left)).toBeCloseTo(150, -0.5);
  });

  it.each([0, 0.4, 2.5, -3])('is silent at %s of the speed', async (speed) => {
    const { left } = await at(speed, 50_000).block(0, 5000);
    expect(left.every((v) => v === 0)).toBe(true);
  });
});
