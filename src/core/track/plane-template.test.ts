import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { prepareMatch, type MatchPicture } from '../flow/match-layer';
import { createPlane, type Plane } from '../image/pixels';
import { lumaOf, sampleBilinear } from '../image/plane';
import { mapPoint, multiply, type Homography } from '../geometry/fit-map';
import { isFollowable, PlaneTemplate, regionWeights, type Corner } from './plane-template';

const [W, H] = [220, 150];
const wide = lumaOf(photoLike(320, 260, 33, 0.4));

/** The large picture seen through a window that is turned, sized and shifted around (110, 75). */
function seen(turn: number, size: number, dx: number, dy: number): MatchPicture {
  const out = createPlane(W, H);
  const [c, s] = [Math.cos(-turn) / size, Math.sin(-turn) / size];
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [(i % W) + 0.5 - 110 - dx, Math.floor(i / W) + 0.5 - 75 - dy];
    out.data[i] = sampleBilinear(wide, 160 + c * x - s * y, 130 + s * x + c * y);
  }
  return prepareMatch(out);
}
const box: readonly Corner[] = [
  [80, 50],
  [140, 50],
  [140, 100],
  [80, 100],
];
/** Where (x, y) of the window as it was first is once it has been turned, sized and shifted. */
const moved = (turn: number, size: number, dx: number, dy: number): Homography => {
  const [c, s] = [size * Math.cos(turn), size * Math.sin(turn)];
  return Float64Array.of(c, -s, 110 + dx - c * 110 + s * 75, s, c, 75 + dy - s * 110 - c * 75, 0, 0, 1);
};
const missOf = (found: Homography, home: Homography, truth: Homography): number =>
  Math.max(
    ...box.map(([x, y]) => {
      const unit = [(x - home[2]!) / home[0]!, (y - home[5]!) / home[0]!] as const;
      const [a, b] = [mapPoint(found, ...unit), mapPoint(truth, x, y)];
      return Math.hypot(a[0] - b[0], a[1] - b[1]);
    }),
  );

describe('PlaneTemplate', () => {
  const first = seen(0, 1, 0, 0);
  const template = new PlaneTemplate(first, box, 'perspective');

  it('agrees with its own picture at home in every cell, and nowhere else', () => {
    const { agreement, cells, map } = template.align(first, template.home);
    expect(agreement).toBeCloseTo(1, 2);
    expect(Math.min(...cells)).toBeGreaterThan(0.95);
    expect(missOf(map, template.home, moved(0, 1, 0, 0))).toBeLessThan(0.02);
    const other = prepareMatch(lumaOf(photoLike(W, H, 8, 0.4)));
    expect(template.align(other, template.home).agreement).toBeLessThan(0.3);
  });

  it('is laid on a picture that has turned, grown and moved to within a tenth of a pixel', () => {
    const next = seen(0.06, 1.05, 3, -2);
    const { agreement, map } = template.align(next, template.home);
    expect(agreement).toBeGreaterThan(0.95);
    expect(missOf(map, template.home, moved(0.06, 1.05, 3, -2))).toBeLessThan(0.1);
  });

  it('is found anywhere by its coarse look, at other sizes and turns', () => {
    for (const [turn, size, dx, dy] of [
      [0, 1, 55, -30],
      [0.2, 0.8, -50, 28],
      [-0.2, 1.2, 30, 20],
    ] as const) {
      const next = seen(turn, size, dx, dy);
      const best = template
        .seek(next, template.home)
        .map((start) => template.align(next, start))
        .sort((a, b) => b.agreement - a.agreement)[0];
      expect(best?.agreement).toBeGreaterThan(0.9);
      expect(missOf(best!.map, template.home, moved(turn, size, dx, dy))).toBeLessThan(0.3);
    }
  });

  it('offers no place in a flat picture', () => {
    const flat = createPlane(W, H);
    flat.data.fill(120);
    expect(template.seek(prepareMatch(flat), template.home)).toEqual([]);
  });

  it('takes only what can be seen: a hidden half has no say', () => {
    const right = new PlaneTemplate(first, box, 'affine', (x) => x > 110);
    const { luma } = seen(0, 1, 4, 1).levels[0]!;
    // the other half now shows something else
    const half: Plane = { ...luma, data: Float32Array.from(luma.data, (v, i) => (i % W < 112 ? 30 + (i % 7) * 9 : v)) };
    const { agreement, map } = right.align(prepareMatch(half), right.home);
    expect(agreement).toBeGreaterThan(0.95);
    const [x, y] = mapPoint(multiply(map, Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1)), 0, 0);
    expect(Math.hypot(x - right.home[2]! - 4, y - right.home[5]! - 1)).toBeLessThan(0.15);
  });

  it('needs a few pixels of the picture', () => {
    expect(isFollowable(box, W, H)).toBe(true);
    expect(isFollowable(box.slice(0, 2), W, H)).toBe(false);
    const speck: Corner[] = [
      [4, 4],
      [6, 4],
      [6, 6],
    ];
    expect(isFollowable(speck, W, H)).toBe(false);
    expect(() => new PlaneTemplate(first, speck, 'affine')).toThrow('too few pixels');
    const outside = box.map(([x, y]): Corner => [x + 500, y]);
    expect(isFollowable(outside, W, H)).toBe(false);
  });
});

describe('regionWeights', () => {
  it('is the share of each pixel that the region covers', () => {
    const weights = regionWeights(
      [
        [1, 1],
        [3.5, 1],
        [3.5, 3],
        [1, 3],
      ],
      5,
      4,
    );
    const row = (y: number): number[] => [...weights.data.subarray(5 * y, 5 * y + 5)].map((v) => Math.round(10 * v) / 10);
    expect(row(0)).toEqual([0, 0, 0, 0, 0]);
    expect(row(1)).toEqual([0, 1, 1, 0.5, 0]);
    expect(row(2)).toEqual([0, 1, 1, 0.5, 0]);
    expect(row(3)).toEqual([0, 0, 0, 0, 0]);
  });
});
