import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { createImage, type Image } from '../image/pixels';
import { invertMap, mapPoint, type Homography } from '../geometry/fit-map';
import { PlaneFollower } from './plane-follower';
import type { Corner } from './plane-template';

const [W, H] = [200, 140];
const board = photoLike(160, 120, 21, 0.3);
const behind = photoLike(W, H, 60, 0.8);

function sample({ width, height, data }: Image, x: number, y: number, c: number): number {
  const px = Math.max(0, Math.min(width - 1.001, x - 0.5));
  const py = Math.max(0, Math.min(height - 1.001, y - 0.5));
  const i = 4 * ((py | 0) * width + (px | 0)) + c;
  const [fx, fy] = [px - (px | 0), py - (py | 0)];
  const upper = data[i]! * (1 - fx) + data[i + 4]! * fx;
  const lower = data[i + 4 * width]! * (1 - fx) + data[i + 4 * width + 4]! * fx;
  return upper * (1 - fy) + lower * fy;
}

/** The board laid down by `map` (board pixels to picture pixels) over the background, nine samples a pixel; `bar` hides a part. */
function laid(map: Homography, bar: number | null = null, light = 1): Image {
  const image = createImage(W, H);
  const back = invertMap(map);
  const sums = new Float64Array(3);
  for (let i = 0; i < W * H; i++) {
    sums.fill(0);
    for (let s = 0; s < 9; s++) {
      const [x, y] = [(i % W) + ((s % 3) + 0.5) / 3, Math.floor(i / W) + (Math.floor(s / 3) + 0.5) / 3];
      const [u, v] = mapPoint(back, x, y);
      const on = u >= 0 && v >= 0 && u < board.width && v < board.height;
      for (let c = 0; c < 3; c++)
        sums[c]! += bar !== null && Math.abs(x - bar) < 9 ? 30 : on ? light * sample(board, u, v, c) : behind.data[4 * i + c]!;
    }
    for (let c = 0; c < 3; c++) image.data[4 * i + c] = sums[c]! / 9;
    image.data[4 * i + 3] = 255;
  }
  return image;
}

const CORNERS: readonly Corner[] = [
  [0, 0],
  [160, 0],
  [160, 120],
  [0, 120],
];

/** Frame `t`: the board drifts, turns, grows and tilts. */
function pose(t: number): Homography {
  const a = 0.02 * t;
  const s = 0.75 * (1 + 0.012 * t);
  return Float64Array.of(
    s * Math.cos(a),
    -s * Math.sin(a),
    38 + 1.6 * t,
    s * Math.sin(a),
    s * Math.cos(a),
    26 - 0.9 * t,
    0.00008 * t,
    -0.00006 * t,
    1,
  );
}

const cornersOf = (map: Homography): Corner[] => CORNERS.map(([x, y]) => mapPoint(map, x, y));
const errorOf = (found: readonly Corner[], truth: readonly Corner[]): number =>
  found.reduce((sum, [x, y], i) => sum + Math.hypot(x - truth[i]![0], y - truth[i]![1]), 0) / found.length;

describe('PlaneFollower', () => {
  it('stays within a fifth of a pixel on average through turn, growth, tilt and changing light', () => {
    const follower = new PlaneFollower(laid(pose(0)), cornersOf(pose(0)), 'perspective');
    let sum = 0;
    for (let t = 1; t <= 14; t++) {
      const { corners, confidence } = follower.step(laid(pose(t), null, 1 + 0.02 * t));
      sum += errorOf(corners, cornersOf(pose(t)));
      expect(confidence).toBeGreaterThan(0.8);
    }
    expect(sum / 14).toBeLessThan(0.2);
  });

  it('holds on while a bar passes in front, and says how much it sees', () => {
    const follower = new PlaneFollower(laid(pose(0)), cornersOf(pose(0)), 'perspective');
    const confidences: number[] = [];
    for (let t = 1; t <= 14; t++) {
      const { corners, confidence } = follower.step(laid(pose(t), -10 + 17 * t));
      expect(errorOf(corners, cornersOf(pose(t)))).toBeLessThan(0.8);
      confidences.push(confidence);
    }
    expect(Math.min(...confidences)).toBeLessThan(0.85);
    expect(confidences[0]).toBeGreaterThan(0.9);
  });

  it('marks a frame on which the region is gone, goes on as it went, and finds it again', () => {
    const follower = new PlaneFollower(laid(pose(0)), cornersOf(pose(0)), 'similarity');
    const drift = (t: number): Homography => Float64Array.of(0.75, 0, 38 + 2 * t, 0, 0.75, 26, 0, 0, 1);
    const start = new PlaneFollower(laid(drift(0)), cornersOf(drift(0)), 'similarity');
    for (let t = 1; t <= 3; t++) start.step(laid(drift(t)));
    const gone = start.step(photoLike(W, H, 99, 0.5));
    expect(gone.confidence).toBeLessThan(0.3);
    expect(errorOf(gone.corners, cornersOf(drift(4)))).toBeLessThan(1);
    const back = start.step(laid(drift(5)));
    expect(back.confidence).toBeGreaterThan(0.8);
    expect(errorOf(back.corners, cornersOf(drift(5)))).toBeLessThan(0.3);
    expect(follower.step(laid(pose(0))).confidence).toBeGreaterThan(0.9);
  });

  it('never follows what passes in front: hidden wholly for some frames, it is found again where it went', () => {
    const slide = (t: number): Homography => Float64Array.of(0.5, 0, 30 + 1.5 * t, 0, 0.5, 40, 0, 0, 1);
    const wall = photoLike(W, H, 77, 0.3);
    const follower = new PlaneFollower(laid(slide(0)), cornersOf(slide(0)), 'perspective');
    for (let t = 1; t <= 22; t++) {
      const picture = laid(slide(t));
      // a textured wall comes in from the right, 24 pixels a frame, covers everything, and goes on
      const [left, right] = [W - 24 * (t - 3), W - 24 * (t - 13)];
      for (let y = 0; y < H; y++) {
        for (let x = Math.max(0, left); x < Math.min(W, right); x++) {
          const from = 4 * (y * W + Math.min(W - 1, Math.abs(x - left) % W));
          picture.data.set(wall.data.subarray(from, from + 4), 4 * (y * W + x));
        }
      }
      const { corners, confidence } = follower.step(picture);
      const error = errorOf(corners, cornersOf(slide(t)));
      if (confidence > 0.3) expect(error).toBeLessThan(1.5);
      if (t >= 21) expect(confidence).toBeGreaterThan(0.8);
    }
  });

  it('is not misled by a flat part that moves with it and holds only noise', () => {
    const noise = photoLike(W, H, 5, 1);
    const flat = (t: number): Image => {
      const picture = laid(pose(t));
      const back = invertMap(pose(t));
      for (let i = 0; i < W * H; i++) {
        const [u, v] = mapPoint(back, (i % W) + 0.5, Math.floor(i / W) + 0.5);
        if (u < 0 || v < 0 || u >= 160 || v >= 80) continue;
        for (let c = 0; c < 3; c++) picture.data[4 * i + c] = 235 + ((noise.data[(4 * (i + 977 * t) + c) % noise.data.length]! - 128) >> 4);
      }
      return picture;
    };
    const follower = new PlaneFollower(flat(0), cornersOf(pose(0)), 'affine');
    let sum = 0;
    for (let t = 1; t <= 5; t++) sum += errorOf(follower.step(flat(t)).corners, cornersOf(pose(t)));
    expect(sum / 5).toBeLessThan(2);
  });

  it('finds it after a jump', () => {
    const at = (x: number): Homography => Float64Array.of(0.6, 0, x, 0, 0.6, 30, 0, 0, 1);
    const follower = new PlaneFollower(laid(at(40)), cornersOf(at(40)), 'affine');
    const { corners } = follower.step(laid(at(64)));
    expect(errorOf(corners, cornersOf(at(64)))).toBeLessThan(0.3);
  });

  it('refuses a region outside the picture', () => {
    expect(
      () =>
        new PlaneFollower(
          behind,
          [
            [500, 500],
            [520, 500],
            [520, 520],
          ],
          'affine',
        ),
    ).toThrow('too few pixels');
  });
});
