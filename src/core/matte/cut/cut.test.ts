import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../../bench/known-pictures';
import { createImage, createPlane, type Image, type Plane } from '../../image/pixels';
import { StrokeCutter } from './cut';
import { regionAndContour } from '../../../../bench/measures';
import { bytesOf } from '../coverage/resize';
import { paintSeeds } from './seeds';
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

  it('lets a later stroke lie on top of an earlier one', () => {
    const spot = (turn: number): Strokes['keep'][number] => ({ radius: 6, points: [[120, 80]], turn });
    const at = (keepTurn: number, dropTurn: number): number =>
      new StrokeCutter(picture).cut({ keep: [...strokes.keep, spot(keepTurn)], drop: [...strokes.drop, spot(dropTurn)] }).data[
        80 * W + 120
      ]!;
    expect(at(2, 1)).toBe(1);
    expect(at(1, 2)).toBe(0);
    expect(at(1, 1)).toBe(0);
  });

  it('gives the same matte twice', () => {
    const cutter = new StrokeCutter(picture);
    expect(cutter.cut(strokes).data).toEqual(cutter.cut(strokes).data);
  });
});

describe('strokes that correct', () => {
  // both sides share their colours, so that a stroke for one part speaks for others too
  const { picture, truth } = composite(photoLike(W, H, 5, 0.45), photoLike(W, H, 70, 0.45));
  const inTurns: Strokes = {
    keep: strokes.keep.map((s, i) => ({ ...s, turn: 1 + 4 * i })),
    drop: strokes.drop.map((s, i) => ({ ...s, turn: [2, 3, 4, 6][i]! })),
  };
  const upTo = (turn: number): Strokes => ({
    keep: inTurns.keep.filter((s) => s.turn! <= turn),
    drop: inTurns.drop.filter((s) => s.turn! <= turn),
  });
  const away = (before: Plane, after: Plane): number => {
    let changed = 0;
    for (let i = 0; i < truth.length; i++) if (before.data[i]! >= 0.5 !== after.data[i]! >= 0.5) changed++;
    return changed;
  };

  it('change less than strokes that are taken all at once', () => {
    const without = ({ keep, drop }: Strokes): Strokes => ({
      keep: keep.map(({ radius, points }) => ({ radius, points })),
      drop: drop.map(({ radius, points }) => ({ radius, points })),
    });
    const changes = (stages: readonly Strokes[]): number => {
      const cutter = new StrokeCutter(picture);
      const cuts = stages.map((stage) => cutter.cut(stage));
      return cuts.slice(1).reduce((sum, cut, i) => sum + away(cuts[i]!, cut), 0);
    };
    const stages = [3, 4, 5].map(upTo);
    const [held, free] = [changes(stages), changes(stages.map(without))];
    expect(held).toBeLessThan(0.8 * free);
  });

  it('give the same matte when painted one by one, taken back and brought back, and when read from a file', () => {
    const cutter = new StrokeCutter(picture);
    const fresh = new StrokeCutter(picture).cut(upTo(4));
    for (const turn of [2, 3, 5, 3]) cutter.cut(upTo(turn));
    expect(cutter.cut(upTo(4)).data).toEqual(fresh.data);
  });
});
