import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { createImage, type Image } from '../image/image';
import { createPlane } from '../image/plane';
import { paintSeeds, StrokeCutter } from './cut';
import { regionAndContour } from './measures';
import { bytesOf } from './resize-matte';
import type { Strokes } from './strokes';

const [W, H] = [240, 160];

/** A blob of one photograph on another, and its exact coverage. */
function composite(subject: Image, background: Image): { picture: Image; truth: Uint8Array } {
  const picture = createImage(W, H);
  const truth = new Uint8Array(W * H);
  for (let i = 0; i < truth.length; i++) {
    const x = (i % W) - 120;
    const y = Math.floor(i / W) - 80;
    const radius = 45 + 9 * Math.sin(3 * Math.atan2(y, x)) + 5 * Math.cos(5 * Math.atan2(y, x));
    truth[i] = Math.max(0, Math.min(255, 255 * (0.5 + radius - Math.hypot(x, y))));
    for (let c = 0; c < 4; c++)
      picture.data[4 * i + c] = (truth[i]! * subject.data[4 * i + c]! + (255 - truth[i]!) * background.data[4 * i + c]!) / 255;
  }
  return { picture, truth };
}

const strokes: Strokes = {
  keep: [
    {
      radius: 5,
      points: [
        [95, 70],
        [145, 90],
      ],
    },
    {
      radius: 5,
      points: [
        [120, 55],
        [115, 105],
      ],
    },
  ],
  drop: [
    {
      radius: 5,
      points: [
        [20, 20],
        [220, 18],
      ],
    },
    {
      radius: 5,
      points: [
        [20, 140],
        [220, 145],
      ],
    },
    {
      radius: 5,
      points: [
        [40, 40],
        [45, 120],
      ],
    },
    {
      radius: 5,
      points: [
        [200, 40],
        [195, 120],
      ],
    },
  ],
};

describe('StrokeCutter', () => {
  const { picture, truth } = composite(photoLike(W, H, 5, 0.05), photoLike(W, H, 70, 0.45));

  it('cuts the subject out along its own edge', () => {
    const { j, f } = regionAndContour(bytesOf(new StrokeCutter(picture).cut(strokes)), truth, W, H);
    expect(j).toBeGreaterThan(0.97);
    expect(f).toBeGreaterThan(0.97);
  });

  it('takes what no stroke has touched for background unless it looks like the subject', () => {
    const { j } = regionAndContour(bytesOf(new StrokeCutter(picture).cut({ keep: strokes.keep, drop: [] })), truth, W, H);
    expect(j).toBeGreaterThan(0.95);
  });

  it('answers nearly as well on the small copy', () => {
    expect(regionAndContour(bytesOf(new StrokeCutter(picture, true).cut(strokes)), truth, W, H).j).toBeGreaterThan(0.93);
  });

  it('goes on from the cut before while a stroke is being painted', () => {
    const cutter = new StrokeCutter(picture, true);
    cutter.cut({ keep: strokes.keep.slice(0, 1), drop: strokes.drop.slice(0, 2) });
    expect(regionAndContour(bytesOf(cutter.cut(strokes)), truth, W, H).j).toBeGreaterThan(0.93);
  });

  it('keeps what is painted keep and drops what is painted drop', () => {
    const { data } = new StrokeCutter(picture).cut({ ...strokes, drop: [...strokes.drop, { radius: 6, points: [[120, 80]] }] });
    const seeds = paintSeeds({ keep: strokes.keep, drop: [...strokes.drop, { radius: 6, points: [[120, 80]] }] }, W, H, 1);
    expect(data[80 * W + 120]).toBe(0);
    // away from where both kinds of paint meet, the edge cannot soften them
    for (let i = 0; i < seeds.length; i += 5)
      if (seeds[i] === 2 && Math.hypot((i % W) - 120, Math.floor(i / W) - 80) > 20) expect(data[i]).toBeLessThan(0.1);
  });

  it('covers nothing without a keep stroke', () => {
    expect(new StrokeCutter(picture).cut({ keep: [], drop: strokes.drop }).data.every((v) => v === 0)).toBe(true);
  });

  it('changes a given matte only around the strokes that correct it', () => {
    const prior = createPlane(W, H);
    truth.forEach((v, i) => (prior.data[i] = v / 255));
    // the prior has lost its right end and gained a piece far away
    for (let i = 0; i < prior.data.length; i++) {
      if (i % W > 145) prior.data[i] = 0;
      if (i % W < 12 && i < 12 * W) prior.data[i] = 1;
    }
    const out = new StrokeCutter(picture).cut(
      {
        keep: [
          {
            radius: 6,
            points: [
              [152, 70],
              [155, 90],
            ],
          },
        ],
        drop: [],
      },
      prior,
    );
    expect(out.data[80 * W + 155]).toBeGreaterThan(0.9);
    expect(out.data[5 * W + 5]).toBe(1);
    expect(out.data[80 * W + 110]).toBe(1);
  });

  it('gives the same matte twice', () => {
    const cutter = new StrokeCutter(picture);
    expect(cutter.cut(strokes).data).toEqual(cutter.cut(strokes).data);
  });
});
