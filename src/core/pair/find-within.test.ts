import { describe, expect, it } from 'vitest';
import { sampleBilinear } from '../image/plane';
import { createPlane, type Plane } from '../image/pixels';
import { findWithin } from './find-within';

const [W, H] = [320, 180];

/** A picture of many soft blobs and edges, the same on every run. */
function scene(seed: number): Plane {
  let state = seed;
  const chance = (): number => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return state / 0x80000000;
  };
  const boxes = Array.from({ length: 140 }, () => ({
    x: chance() * 1280,
    y: chance() * 720,
    w: 20 + chance() * 130,
    h: 20 + chance() * 130,
    v: 40 + chance() * 180,
  }));
  const out = createPlane(1280, 720);
  out.data.fill(90);
  for (const { x, y, w, h, v } of boxes)
    for (let py = Math.max(0, Math.round(y - h / 2)); py < Math.min(720, y + h / 2); py++)
      for (let px = Math.max(0, Math.round(x - w / 2)); px < Math.min(1280, x + w / 2); px++) out.data[py * 1280 + px] = v;
  return out;
}

/** A view of a scene: `size` of its width, about a place counted from its middle, turned clockwise. */
function view(of: Plane, size: number, x: number, y: number, gain: number, degrees = 0): Plane {
  const out = createPlane(W, H);
  const step = (size * of.width) / W;
  const [c, s] = [step * Math.cos((degrees * Math.PI) / 180), step * Math.sin((degrees * Math.PI) / 180)];
  for (let v = 0, i = 0; v < H; v++)
    for (let u = 0; u < W; u++, i++) {
      // the mean of what a pixel covers
      let sum = 0;
      for (const dy of [-0.3, 0.3])
        for (const dx of [-0.3, 0.3]) {
          const [across, down] = [u + 0.5 + dx - W / 2, v + 0.5 + dy - H / 2];
          sum += sampleBilinear(of, 640 + x + c * across - s * down, 360 + y + s * across + c * down);
        }
      out.data[i] = 20 + (gain * sum) / 4;
    }
  return out;
}

describe('findWithin', () => {
  for (const [size, x, y] of [
    [0.2, 180, -120],
    [0.6, 60, 40],
  ] as const)
    it(`finds a part of ${size} of the width, darker as it is, whichever of the two is asked for`, () => {
      const of = scene(7);
      const [wide, near] = [view(of, 1, 0, 0, 1), view(of, size, x, y, 0.6)];
      const found = findWithin(wide, near)!;
      expect(found.score).toBeGreaterThan(0.6);
      expect(Math.abs(found.placement.scale / size - 1)).toBeLessThan(0.02);
      expect(Math.hypot(found.placement.dx - x / 4, found.placement.dy - y / 4)).toBeLessThan(0.8);
      if (size > 0.5) return;
      const other = findWithin(near, wide)!;
      expect(Math.abs(other.placement.scale * size - 1)).toBeLessThan(0.02);
    });

  it.each([2, 9, -15])('finds a part that is turned by %i°', (degrees) => {
    const of = scene(7);
    const { placement } = findWithin(view(of, 1, 0, 0, 1), view(of, 0.45, 90, -50, 0.8, degrees))!;
    expect(Math.abs((placement.turn * 180) / Math.PI - degrees)).toBeLessThan(0.3);
    expect(Math.abs(placement.scale / 0.45 - 1)).toBeLessThan(0.02);
    expect(Math.hypot(placement.dx - 90 / 4, placement.dy + 50 / 4)).toBeLessThan(0.8);
  });

  it('tells by its score that neither is a part of the other', () => {
    expect(findWithin(view(scene(7), 1, 0, 0, 1), view(scene(900), 0.3, 0, 0, 1))!.score).toBeLessThan(0.4);
  });
});
