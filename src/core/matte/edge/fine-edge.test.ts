import { beforeAll, describe, expect, it } from 'vitest';
import { HAIR_HEIGHT, HAIR_WIDTH, hairyCoverage, hairyPicture, HEAD } from '../../../../bench/hairy-subject';
import { createPlane, type Plane } from '../../image/pixels';
import { beginCall, kernels, putBytes, putFloats, reserve, takeFloats } from '../../kernels/kernels';
import { featuresOf } from '../cut/features';
import { fineEdge } from './fine-edge';

const [W, H] = [HAIR_WIDTH, HAIR_HEIGHT];

/** Pixels of known coverage around one unknown pixel, met by walking from it. */
function metFrom(x: number, y: number, width: number, height: number, known: Uint8Array, wanted: (i: number) => boolean): number[] {
  const met: number[] = [];
  for (const dy of [-1, 0, 1])
    for (const dx of [-1, 0, 1]) {
      if (dx === 0 && dy === 0) continue;
      for (let [px, py] = [x + dx, y + dy]; px >= 0 && py >= 0 && px < width && py < height; px += dx, py += dy)
        if (known[py * width + px] === 1 && wanted(py * width + px)) {
          met.push(py * width + px);
          break;
        }
    }
  return met;
}

describe('mixColours', () => {
  it('takes the pair of colours met around that explains a pixel best, as a walk from it does', () => {
    const [width, height] = [37, 29];
    const n = width * height;
    const noise = (i: number): number => 0.5 + 0.5 * Math.sin(12.9898 * i) * Math.cos(78.233 * i);
    const features = Float32Array.from({ length: 3 * n }, (_, i) => 255 * noise(i));
    const unknown = Uint8Array.from({ length: n }, (_, i) => (noise(7 * i + 3) > 0.45 ? 1 : 0));
    const known = unknown.map((v) => 1 - v);
    const alpha = Float32Array.from({ length: n }, (_, i) => [0, 0.5, 1][Math.floor(2.999 * noise(5 * i + 1))]!);
    beginCall();
    const [covered, weight] = [putFloats(alpha), reserve(n)];
    kernels.mixColours(
      putFloats(features),
      putBytes(unknown),
      covered,
      width,
      height,
      putFloats(new Float32Array(20).fill(1e6)),
      4,
      reserve(16 * n),
      weight,
    );
    const [found, sure] = [new Float32Array(n), new Float32Array(n)];
    takeFloats(covered, found);
    takeFloats(weight, sure);
    const colour = (i: number): number[] => [...features.subarray(3 * i, 3 * i + 3)];
    const dot = (a: number[], b: number[]): number => a.reduce((sum, v, c) => sum + v * b[c]!, 0);
    for (let i = 0; i < n; i++) {
      if (unknown[i] === 0) {
        expect([found[i], sure[i]]).toEqual([alpha[i], 1]);
        continue;
      }
      const [x, y] = [i % width, Math.floor(i / width)];
      const away = (j: number): number => Math.hypot((j % width) - x, Math.floor(j / width) - y);
      let [least, share] = [Infinity, 0];
      for (const o of metFrom(x, y, width, height, known, (j) => alpha[j]! === 0))
        for (const q of metFrom(x, y, width, height, known, (j) => alpha[j]! === 1)) {
          const across = colour(q).map((v, c) => v - colour(o)[c]!);
          const from = colour(i).map((v, c) => v - colour(o)[c]!);
          const part = Math.max(0, Math.min(1, dot(across, from) / (dot(across, across) + 400)));
          const left = from.map((v, c) => v - part * across[c]!);
          const cost = dot(left, left) + 1.5 * (part * away(q) + (1 - part) * away(o));
          if (cost < least) [least, share] = [cost, part];
        }
      expect(found[i]).toBeCloseTo(share, 3);
      expect(sure[i]).toBeGreaterThanOrEqual(0.02 - 1e-6);
      expect(sure[i]).toBeLessThanOrEqual(1);
    }
  });
});

describe('followColour', () => {
  it('finds coverage that is linear in colour again, from a few sure pixels among wrong ones', () => {
    const [width, height] = [30, 21];
    const n = width * height;
    const features = Float32Array.from(
      { length: 3 * n },
      (_, i) => 120 + 90 * Math.sin(0.7 * i + (i % 3)) + 30 * Math.cos(0.11 * i * (1 + (i % 3))),
    );
    const truth = Float32Array.from(
      { length: n },
      (_, i) => 0.002 * features[3 * i]! + 0.001 * features[3 * i + 1]! - 0.0005 * features[3 * i + 2]! + 0.1,
    );
    const isSure = (i: number): boolean => i % 3 !== 1;
    beginCall();
    const covered = putFloats(truth.map((v, i) => (isSure(i) ? v : 1 - v)));
    const weight = putFloats(truth.map((_, i) => (isSure(i) ? 1 : 0.0005)));
    kernels.followColour(putFloats(features), weight, covered, width, height, 3, reserve(15 * n + width + 4));
    const found = new Float32Array(n);
    takeFloats(covered, found);
    found.forEach((v, i) => expect(Math.abs(v - truth[i]!)).toBeLessThan(0.02));
  });
});

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
