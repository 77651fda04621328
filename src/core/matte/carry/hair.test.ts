import { describe, expect, it } from 'vitest';
import { HAIR_HEIGHT, HAIR_WIDTH, hairyCoverage, hairyPicture, HEAD } from '../../../../bench/hairy-subject';
import { createPlane, type Plane } from '../../image/pixels';
import { MatteCarrier } from './carry';
import { CarriedHair } from './hair';

const [W, H] = [HAIR_WIDTH, HAIR_HEIGHT];
const plane = (data: Float32Array): Plane => ({ ...createPlane(W, H), data: Float32Array.from(data) });
/** Where the hair is, moved by `dx`. */
const isHairy = (i: number, dx = 0): boolean => {
  const d = Math.hypot((i % W) - HEAD.x - dx, Math.floor(i / W) - HEAD.y);
  return d > HEAD.radius + 2 && d < HEAD.radius + 24 && Math.floor(i / W) < HEAD.y - 8;
};
const meanOf = (values: (i: number) => number, dx = 0): number => {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < W * H; i++) {
    if (!isHairy(i, dx)) continue;
    sum += values(i);
    count++;
  }
  return sum / count;
};

describe('CarriedHair', () => {
  it('is none where an edge is plain, hard or a few pixels soft', () => {
    for (const ramp of [0.01, 1, 3]) {
      const disc = createPlane(W, H);
      for (let i = 0; i < W * H; i++) {
        const d = HEAD.radius - Math.hypot((i % W) - HEAD.x, Math.floor(i / W) - HEAD.y);
        disc.data[i] = Math.max(0, Math.min(1, 0.5 + d / ramp));
      }
      expect(CarriedHair.of(disc)).toBeNull();
    }
  });

  it('parts the strands from what is solid', () => {
    const alpha = plane(hairyCoverage());
    const { solid } = CarriedHair.of(alpha)!;
    const before = meanOf((i) => alpha.data[i]!);
    expect(before).toBeGreaterThan(0.15);
    expect(meanOf((i) => solid.data[i]!)).toBeLessThan(0.25 * before);
    // the head and all below the hair stay
    for (let y = HEAD.y + 12; y < H; y++)
      for (let x = 0; x < W; x++) expect(Math.abs(solid.data[y * W + x]! - alpha.data[y * W + x]!)).toBeLessThan(0.01);
  });
});

describe('a carried matte with hair', () => {
  it('has its swaying strands on every frame, and loses them without being told of hair', () => {
    const frames = [0, 2, 4, 6, 8].map((dx) => ({ dx, truth: hairyCoverage(dx, 0.06 * dx) }));
    const pictures = frames.map(({ truth }) => hairyPicture(truth));
    const errorOf = (hasHair: boolean): number => {
      const carrier = new MatteCarrier(pictures[0]!, plane(frames[0]!.truth), hasHair);
      let error = 0;
      for (const [k, { dx, truth }] of frames.entries()) {
        if (k === 0) continue;
        const { data } = carrier.step(pictures[k]!).coverage;
        error = meanOf((i) => Math.abs(data[i]! / 255 - truth[i]!), dx);
      }
      return error;
    };
    const told = errorOf(true);
    expect(told).toBeLessThan(0.16);
    expect(told).toBeLessThan(0.6 * errorOf(false));
  });
});
