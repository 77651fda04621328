import { describe, expect, it } from 'vitest';
import { signedEdgeDistance } from '../../image/distance';
import { createPlane } from '../../image/pixels';
import { coverAlongEdge, rampAlongEdge } from './edge-cover';

const [W, H] = [24, 16];

/** An upright edge at `edge` between two colours, two pixels soft, as features; `rough` is how much both sides vary. */
function edgeAt(
  edge: number,
  left: number,
  right: number,
  rough: number,
): { features: Float32Array; truth: Float32Array; signed: Float32Array } {
  const features = new Float32Array(3 * W * H);
  const truth = new Float32Array(W * H);
  for (let i = 0; i < truth.length; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    truth[i] = Math.max(0, Math.min(1, 0.5 + (edge - x - 0.5) / 2));
    features[3 * i] = truth[i]! * left + (1 - truth[i]!) * right + rough * (((x * 7 + y * 13) % 5) - 2);
  }
  return { features, truth, signed: signedEdgeDistance({ width: W, height: H, data: truth }) };
}

describe('coverage along a cut edge', () => {
  it('is the share between the colours of both sides, to a part of a pixel', () => {
    const { features, truth, signed } = edgeAt(11.3, 200, 60, 0);
    const out = createPlane(W, H);
    rampAlongEdge(signed, out);
    coverAlongEdge(features, signed, W, H, out);
    for (let x = 4; x < 20; x++) expect(out.data[8 * W + x]).toBeCloseTo(truth[8 * W + x]!, 1);
  });

  it('stays as given where the sides look alike, or vary more than they differ', () => {
    for (const { features, signed } of [edgeAt(11.3, 100, 103, 0), edgeAt(11.3, 120, 80, 30)]) {
      const out = createPlane(W, H);
      rampAlongEdge(signed, out);
      const given = out.data.slice();
      coverAlongEdge(features, signed, W, H, out);
      for (let i = 0; i < given.length; i++) expect(Math.abs(out.data[i]! - given[i]!)).toBeLessThan(0.12);
    }
  });

  it('goes by what is known to lie behind where the outside varies, unless that is not what is in view', () => {
    const { features, truth, signed } = edgeAt(11.3, 200, 60, 0);
    const behind = { colours: new Float32Array(3 * W * H), seen: { width: W, height: H, data: new Float32Array(W * H).fill(1) } };
    for (let i = 0; i < truth.length; i++) {
      // stripes along the edge: their mean tells little of the one that the edge lies over
      const stripe = 60 + (i % W < 13 ? 90 : 0) + 10 * (Math.floor(i / W) % 2);
      behind.colours[3 * i] = stripe;
      features[3 * i] = truth[i]! * 200 + (1 - truth[i]!) * stripe;
    }
    const worstOf = (known: typeof behind | null): number => {
      const out = createPlane(W, H);
      rampAlongEdge(signed, out);
      coverAlongEdge(features, signed, W, H, out, known);
      return out.data.reduce((most, v, i) => Math.max(most, Math.abs(v - truth[i]!)), 0);
    };
    expect(worstOf(behind)).toBeLessThan(0.12);
    expect(worstOf(null)).toBeGreaterThan(0.2);
    const wrong = { ...behind, colours: behind.colours.map((v) => 250 - v) };
    expect(worstOf(wrong)).toBe(worstOf(null));
  });

  it('leaves what lies away from the edge as it is', () => {
    const { features, signed } = edgeAt(11.3, 200, 60, 0);
    const out = createPlane(W, H);
    out.data.fill(0.25);
    coverAlongEdge(features, signed, W, H, out);
    expect(out.data[8 * W + 2]).toBe(0.25);
    expect(out.data[8 * W + 21]).toBe(0.25);
  });

  it('goes from nothing to all over two pixels where only the cut is known', () => {
    const out = createPlane(6, 1);
    rampAlongEdge(signedEdgeDistance({ width: 6, height: 1, data: Float32Array.of(0, 0, 0, 1, 1, 1) }), out);
    expect([...out.data]).toEqual([0, 0, 0.25, 0.75, 1, 1]);
  });
});
