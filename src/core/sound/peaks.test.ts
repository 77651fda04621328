import { describe, expect, it } from 'vitest';
import { levelFor, PEAK_SCALES, PeakBuilder, peakLevels } from './peaks';
import { seeded } from './test-sounds';

describe('PeakBuilder', () => {
  it('gives least and greatest of both channels at every scale, whatever parts it was given', () => {
    const random = seeded(3);
    const pairs = Int16Array.from({ length: 2 * 70_001 }, () => Math.round((random() - 0.5) * 60_000));
    const builder = new PeakBuilder();
    for (let at = 0, step = 2; at < pairs.length; at += step, step = 2 + ((step * 7) % 9000)) builder.push(pairs.subarray(at, at + step));
    const all = builder.finish();
    expect(builder.samples).toBe(70_001);
    for (const { scale, offset, pairs: count } of peakLevels(70_001))
      for (let p = 0; p < count; p++) {
        const part = pairs.subarray(2 * p * scale, 2 * (p + 1) * scale);
        const low = part.reduce((a, b) => Math.min(a, b));
        const high = part.reduce((a, b) => Math.max(a, b));
        expect([all[offset + 2 * p], all[offset + 2 * p + 1]]).toEqual([Math.floor(low / 256), Math.min(127, Math.ceil(high / 256))]);
      }
  });

  it('holds the last, partly filled pair, and nothing of no sound', () => {
    const builder = new PeakBuilder();
    builder.push(Int16Array.of(512, -768));
    expect([...builder.finish()]).toEqual([-3, 2, -3, 2, -3, 2, -3, 2]);
    expect(new PeakBuilder().finish().length).toBe(0);
  });
});

describe('levelFor', () => {
  it('takes the coarsest scale that is fine enough', () => {
    const levels = peakLevels(1e6);
    expect([1, 64, 511, 512, 1e9].map((s) => levelFor(levels, s).scale)).toEqual([64, 64, 64, 512, PEAK_SCALES.at(-1)]);
  });
});
