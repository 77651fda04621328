import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { createImage, createPlane, type Image, type Plane } from '../image/pixels';
import { lumaOf, sampleBilinear } from '../image/plane';
import { invertMap, mapPoint, type Homography } from '../geometry/fit-map';
import type { Corner } from './plane-template';
import { PointFollower } from './point-follower';
import { PointPatch, uprightAt } from './point-patch';

const [W, H] = [180, 130];
const board = photoLike(220, 170, 21, 0.3);
const channels = [0, 1, 2].map((c): Plane => {
  const plane = createPlane(board.width, board.height);
  plane.data.forEach((_, i) => (plane.data[i] = board.data[4 * i + c]!));
  return plane;
});

/** The board laid down by `map`, with a dark bar of 24 pixels around `bar` in front; `light` times as bright. */
function laid(map: Homography, bar: number | null = null, light = 1): Image {
  const image = createImage(W, H);
  const back = invertMap(map);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [(i % W) + 0.5, Math.floor(i / W) + 0.5];
    const [u, v] = mapPoint(back, x, y);
    const hidden = bar !== null && Math.abs(x - bar) < 12;
    channels.forEach((plane, c) => (image.data[4 * i + c] = hidden ? 25 + ((3 * x + 5 * y) % 11) : light * sampleBilinear(plane, u, v)));
    image.data[4 * i + 3] = 255;
  }
  return image;
}

/** Frame `t`: the board drifts, turns and grows. */
function pose(t: number): Homography {
  const [a, s] = [0.015 * t, 0.9 * (1 + 0.01 * t)];
  return Float64Array.of(s * Math.cos(a), -s * Math.sin(a), 3.2 * t - 12, s * Math.sin(a), s * Math.cos(a), -8 - 0.7 * t, 0, 0, 1);
}

const PLACES: readonly Corner[] = [
  [70, 60],
  [110, 50],
  [90, 90],
  [130, 80],
];
const truth = (t: number): Corner[] => PLACES.map(([x, y]) => mapPoint(pose(t), x, y));

describe('PointPatch', () => {
  const luma = lumaOf(laid(pose(0)));

  it('finds its own place from a pixel and a half away, and looks like itself there alone', () => {
    const patch = new PointPatch().take(luma, 80.3, 60.7);
    const found = patch.shift(luma, 81.4, 59.6);
    expect(found.x).toBeCloseTo(80.3, 1);
    expect(found.y).toBeCloseTo(60.7, 1);
    expect(patch.correlation(luma, uprightAt(80.3, 60.7))).toBeCloseTo(1, 5);
    expect(patch.correlation(luma, uprightAt(100, 40))).toBeLessThan(0.6);
  });

  it('tells how it has turned and grown, in other light', () => {
    const patch = new PointPatch().take(luma, ...truth(0)[0]!);
    const next = lumaOf(laid(pose(4), null, 0.7));
    const place = patch.fit(next, uprightAt(truth(4)[0]![0] + 0.8, truth(4)[0]![1] - 0.6));
    expect(Math.hypot(place.x - truth(4)[0]![0], place.y - truth(4)[0]![1])).toBeLessThan(0.15);
    expect(Math.abs(place.a - 1.04 * Math.cos(0.06))).toBeLessThan(0.06);
    expect(Math.abs(place.c - 1.04 * Math.sin(0.06))).toBeLessThan(0.06);
    expect(patch.correlation(next, place)).toBeGreaterThan(0.97);
  });

  it('is like nothing flat, and beyond the border goes on with its pixels', () => {
    const flat = createPlane(W, H);
    flat.data.fill(90);
    expect(new PointPatch().take(luma, 80, 60).correlation(flat, uprightAt(80, 60))).toBe(0);
    expect(new PointPatch().take(flat, 80, 60).shift(flat, 82, 61)).toEqual({ x: 82, y: 61 });
    expect(Number.isFinite(new PointPatch().take(luma, 1, 1).correlation(luma, uprightAt(-40, 400)))).toBe(true);
  });
});

describe('PointFollower', () => {
  it('stays within half a pixel through drift, turn, growth and changing light, without adding up errors', () => {
    const follower = new PointFollower(laid(pose(0)), truth(0));
    for (let t = 1; t <= 12; t++) {
      follower.step(laid(pose(t), null, 1 - 0.02 * t)).forEach(({ x, y, confidence }, i) => {
        expect(confidence).toBeGreaterThan(0.5);
        expect(Math.hypot(x - truth(t)[i]![0], y - truth(t)[i]![1])).toBeLessThan(0.5);
      });
    }
  });

  it('says which points a bar hides, goes on with the others, and finds them again', () => {
    const follower = new PointFollower(laid(pose(0)), truth(0));
    let hidden = 0;
    for (let t = 1; t <= 14; t++) {
      const bar = 10 + 14 * t;
      follower.step(laid(pose(t), bar)).forEach(({ x, y, confidence }, i) => {
        const [tx, ty] = truth(t)[i]!;
        if (Math.abs(tx - bar) < 10) {
          hidden++;
          expect(confidence).toBe(0);
          expect(Math.hypot(x - tx, y - ty)).toBeLessThan(4);
        } else if (Math.abs(tx - bar) > 24) {
          expect(confidence).toBeGreaterThan(0.3);
          expect(Math.hypot(x - tx, y - ty)).toBeLessThan(0.7);
        }
      });
    }
    expect(hidden).toBeGreaterThan(3);
  });

  it('never sees a point beyond the border, and lets one go that leaves', () => {
    const slide = (t: number): Homography => Float64Array.of(1, 0, -14 * t, 0, 1, 0, 0, 0, 1);
    const follower = new PointFollower(laid(slide(0)), [
      [-5, 30],
      [40, 60],
    ]);
    const seen: boolean[] = [];
    for (let t = 1; t <= 4; t++) {
      const [never, leaving] = follower.step(laid(slide(t)));
      expect(never!.confidence).toBe(0);
      seen.push(leaving!.confidence > 0);
    }
    expect(seen[0]).toBe(true);
    expect(seen[3]).toBe(false);
  });

  it('refuses a picture of another size', () => {
    const follower = new PointFollower(laid(pose(0)), truth(0));
    expect(() => follower.step(createImage(10, 10))).toThrow('PointFollower.step');
  });
});
