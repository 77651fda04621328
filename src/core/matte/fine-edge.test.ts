import { beforeAll, describe, expect, it } from 'vitest';
import { HAIR_HEIGHT, HAIR_WIDTH, hairyCoverage, hairyPicture, HEAD } from '../../../bench/hairy-subject';
import { createPlane, type Plane } from '../image/plane';
import { featuresOf } from './features';
import { fineEdge } from './fine-edge';

const [W, H] = [HAIR_WIDTH, HAIR_HEIGHT];

describe('fineEdge', () => {
  let truth: Float32Array;
  let features: Float32Array;
  let unknown: Plane;
  /** The disc alone, as a cut would have it. */
  let cut: Plane;
  beforeAll(() => {
    truth = hairyCoverage();
    features = featuresOf(hairyPicture(truth));
    unknown = createPlane(W, H);
    cut = createPlane(W, H);
    for (let i = 0; i < W * H; i++) {
      const d = Math.hypot((i % W) - HEAD.x, Math.floor(i / W) - HEAD.y);
      cut.data[i] = d < HEAD.radius ? 1 : 0;
      if (d > HEAD.radius - 5 && d < HEAD.radius + 34 && Math.floor(i / W) < HEAD.y + 6) unknown.data[i] = 1;
    }
  });
  const errorOf = ({ data }: Plane): number => {
    let sum = 0;
    let count = 0;
    for (let i = 0; i < data.length; i++) {
      if (unknown.data[i] === 0) continue;
      sum += Math.abs(data[i]! - truth[i]!);
      count++;
    }
    return sum / count;
  };

  it('finds the hairs that a cut cannot', () => {
    const found = { ...cut, data: cut.data.slice() };
    const before = errorOf(found);
    fineEdge(features, unknown, found);
    expect(before).toBeGreaterThan(0.15);
    expect(errorOf(found)).toBeLessThan(0.3 * before);
  });

  it('leaves what is known as it is, and everything where nothing is asked', () => {
    const found = { ...cut, data: cut.data.slice() };
    fineEdge(features, createPlane(W, H), found);
    expect(found.data).toEqual(cut.data);
    fineEdge(features, unknown, found);
    found.data.forEach((v, i) => {
      if (unknown.data[i] === 0) expect(v).toBe(cut.data[i]);
      else expect(v >= 0 && v <= 1).toBe(true);
    });
  });

  it('covers nothing of what looks like the outside, and nothing without an inside', () => {
    const away = createPlane(W, H);
    for (let y = 130; y < 150; y++) away.data.fill(1, y * W + 20, y * W + 200);
    const found = { ...cut, data: cut.data.slice() };
    fineEdge(features, away, found);
    let most = 0;
    for (let i = 0; i < found.data.length; i++) if (away.data[i] === 1) most = Math.max(most, found.data[i]!);
    expect(most).toBeLessThan(0.35);
    const none = createPlane(W, H);
    fineEdge(features, unknown, none);
    expect(none.data.every((v) => v < 0.02)).toBe(true);
  });
});
