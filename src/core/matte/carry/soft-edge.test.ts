import { describe, expect, it } from 'vitest';
import { signedEdgeDistance } from '../../image/distance';
import { createPlane, type Plane } from '../../image/pixels';
import { softEdge } from './soft-edge';

const [W, H] = [48, 40];

/** A disc about the middle whose edge is `soft` pixels wide. */
function disc(radius: number, soft: number): Plane {
  const plane = createPlane(W, H);
  for (let i = 0; i < plane.data.length; i++) {
    const d = radius - Math.hypot((i % W) + 0.5 - W / 2, Math.floor(i / W) + 0.5 - H / 2);
    plane.data[i] = Math.max(0, Math.min(1, 0.5 + d / soft));
  }
  return plane;
}

const areaOf = ({ data }: Plane): number => data.reduce((sum, v) => sum + v, 0);

describe('coverage along a cut edge', () => {
  it('has the softness of the matte that has moved there, on the cut, although that lost what the cut has found', () => {
    const truth = disc(14, 4);
    const alpha = softEdge(signedEdgeDistance(truth), disc(13.2, 4));
    const worst = alpha.data.reduce((most, v, i) => Math.max(most, Math.abs(v - truth.data[i]!)), 0);
    expect(worst).toBeLessThan(0.13);
    expect(Math.abs(areaOf(alpha) / areaOf(truth) - 1)).toBeLessThan(0.01);
  });

  it('is hard where the moved matte lies elsewhere', () => {
    const alpha = softEdge(signedEdgeDistance(disc(14, 4)), disc(8, 4));
    expect(alpha.data.filter((v) => v > 0.1 && v < 0.9).length).toBe(0);
  });
});
