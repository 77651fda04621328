import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { prepareMatch } from '../flow/match-layer';
import { createPlane, type Plane } from '../image/pixels';
import { lumaOf, sampleBilinear } from '../image/plane';
import { PointPatch, REACH, trackPoint, uprightAt, type PatchPlace } from './point-patch';

const [W, H] = [200, 150];
const picture = lumaOf(photoLike(W, H, 3, 0.3));

/** What is at offset (u, v) from (x, y) in `picture` is at `place` plus the offset as it maps it; `gain` and `bias` change the light. */
function moved(x: number, y: number, place: PatchPlace, gain = 1, bias = 0): Plane {
  const out = createPlane(W, H);
  const det = place.a * place.d - place.b * place.c;
  for (let i = 0; i < out.data.length; i++) {
    const [px, py] = [(i % W) + 0.5 - place.x, Math.floor(i / W) + 0.5 - place.y];
    const [u, v] = [(place.d * px - place.b * py) / det, (place.a * py - place.c * px) / det];
    out.data[i] = gain * sampleBilinear(picture, x + u, y + v) + bias;
  }
  return out;
}

const turned = (x: number, y: number, angle: number, scale: number): PatchPlace => {
  const [c, s] = [scale * Math.cos(angle), scale * Math.sin(angle)];
  return { x, y, a: c, b: -s, c: s, d: c };
};

describe('a patch around a point', () => {
  const at = [100.3, 74.8] as const;
  const patch = new PointPatch().take(picture, ...at);

  it('is found where it was moved by parts of a pixel', () => {
    for (const [dx, dy] of [
      [0.4, -0.7],
      [1.5, 1.2],
      [-2.2, 0.3],
    ] as const) {
      const there = patch.shift(moved(...at, uprightAt(at[0] + dx, at[1] + dy)), ...at);
      expect(Math.hypot(there.x - at[0] - dx, there.y - at[1] - dy)).toBeLessThan(0.1);
    }
  });

  it('is found turned, grown and in another light', () => {
    const truth = turned(at[0] + 0.9, at[1] - 0.6, 0.12, 1.08);
    const other = moved(...at, truth, 1.3, -12);
    // as from frame to frame: each search goes on from the shape before
    const found = patch.fit(other, patch.fit(other, patch.fit(other, uprightAt(...at))));
    expect(Math.hypot(found.x - truth.x, found.y - truth.y)).toBeLessThan(0.12);
    for (const p of ['a', 'b', 'c', 'd'] as const) expect(Math.abs(found[p] - truth[p])).toBeLessThan(0.05);
  });

  it('stays where it is, and keeps its shape, on the picture it was taken from', () => {
    const found = patch.fit(picture, uprightAt(...at));
    expect(Math.hypot(found.x - at[0], found.y - at[1])).toBeLessThan(0.01);
    expect(found.a).toBeCloseTo(1, 2);
    expect(found.b).toBeCloseTo(0, 2);
  });

  it('is alike only where it is, whatever the light', () => {
    const place = turned(90, 80, -0.3, 0.9);
    const other = moved(...at, place, 0.7, 40);
    expect(patch.correlation(other, place)).toBeGreaterThan(0.97);
    expect(patch.roughCorrelation(other, place)).toBeGreaterThan(0.95);
    for (const away of [12, 25]) {
      expect(patch.correlation(other, { ...place, x: place.x + away })).toBeLessThan(0.7);
      expect(patch.roughCorrelation(other, { ...place, x: place.x + away })).toBeLessThan(0.8);
    }
  });

  it('is like nothing flat, and like nothing of far less contrast', () => {
    const flat = createPlane(W, H);
    flat.data.fill(90);
    expect(patch.correlation(flat, uprightAt(...at))).toBe(0);
    expect(patch.roughCorrelation(flat, uprightAt(...at))).toBe(0);
    expect(patch.correlation(moved(...at, uprightAt(...at), 0.2, 60), uprightAt(...at))).toBe(0);
  });

  it('is less alike when its middle alone is hidden', () => {
    const hidden = createPlane(W, H);
    hidden.data.set(picture.data);
    for (let v = -4; v <= 4; v++)
      for (let u = -4; u <= 4; u++) {
        const i = (Math.floor(at[1]) + v) * W + Math.floor(at[0]) + u;
        hidden.data[i] = 255 - hidden.data[i]!;
      }
    expect(patch.correlation(picture, uprightAt(...at))).toBeCloseTo(1, 5);
    expect(patch.correlation(hidden, uprightAt(...at))).toBeLessThan(0.6);
  });

  it('can lie at the border, whose pixels repeat', () => {
    const corner = new PointPatch().take(picture, 2, 3);
    expect(corner.correlation(picture, uprightAt(2, 3))).toBeCloseTo(1, 5);
    const found = corner.shift(picture, 2.6, 2.7);
    expect(Math.hypot(found.x - 2, found.y - 3)).toBeLessThan(0.1);
  });

  it('reaches as far as it says', () => {
    const far = createPlane(W, H);
    far.data.set(picture.data);
    // everything beyond its reach is changed, and it does not see that
    for (let i = 0; i < far.data.length; i++)
      if (Math.max(Math.abs((i % W) + 0.5 - at[0]), Math.abs(Math.floor(i / W) + 0.5 - at[1])) > REACH + 1.5)
        far.data[i] = 255 - far.data[i]!;
    expect(patch.correlation(far, uprightAt(...at))).toBeCloseTo(1, 5);
  });
});

describe('a point from one picture to the next', () => {
  it('is tracked over many pixels, from coarse to fine', () => {
    for (const [dx, dy] of [
      [9.4, -6.3],
      [-14.2, 3.1],
    ] as const) {
      const to = moved(100, 75, uprightAt(100 + dx, 75 + dy));
      const found = trackPoint(prepareMatch(picture, 4), prepareMatch(to, 4), 100, 75, 0, 0);
      expect(Math.hypot(found.x - 100 - dx, found.y - 75 - dy)).toBeLessThan(0.15);
    }
  });

  it('goes on from where it is expected', () => {
    const to = moved(100, 75, uprightAt(140, 60));
    const found = trackPoint(prepareMatch(picture, 4), prepareMatch(to, 4), 100, 75, 38, -13);
    expect(Math.hypot(found.x - 140, found.y - 60)).toBeLessThan(0.15);
  });
});
