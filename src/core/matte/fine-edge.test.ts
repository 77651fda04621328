import { beforeAll, describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { createImage, type Image } from '../image/image';
import { createPlane, type Plane } from '../image/plane';
import { featuresOf } from './features';
import { fineEdge } from './fine-edge';

const [W, H] = [220, 160];
const [X, Y, RADIUS] = [110, 95, 34];
const HAIRS = 60;

/** Coverage of a disc with bent hairs of about a pixel's width around its upper half, from 16 samples a pixel. */
function hairy(): Float32Array {
  const alpha = new Float32Array(W * H);
  const fine = 4;
  for (let y = 0; y < fine * H; y++)
    for (let x = 0; x < fine * W; x++) {
      if (Math.hypot((x + 0.5) / fine - X, (y + 0.5) / fine - Y) < RADIUS)
        alpha[Math.floor(y / fine) * W + Math.floor(x / fine)]! += 1 / fine ** 2;
    }
  for (let k = 0; k < HAIRS; k++) {
    const angle = Math.PI + (Math.PI * (k + 0.5)) / HAIRS + 0.15 * Math.sin(7 * k);
    const length = 18 + 9 * Math.sin(3 * k);
    const strand = new Uint8Array(fine * W * fine * H);
    for (let t = 0; t <= 1; t += 0.004) {
      const at = angle + 0.5 * t * t * Math.sin(k);
      const [cx, cy] = [X + (RADIUS - 2 + length * t) * Math.cos(at), Y + (RADIUS - 2 + length * t) * Math.sin(at)];
      for (let v = -2; v <= 2; v++)
        for (let u = -2; u <= 2; u++) if (u * u + v * v <= 4) strand[Math.round(fine * cy + v) * fine * W + Math.round(fine * cx + u)] = 1;
    }
    for (let i = 0; i < strand.length; i++) {
      if (strand[i] === 0) continue;
      const o = Math.floor(i / (fine * W) / fine) * W + Math.floor((i % (fine * W)) / fine);
      alpha[o] = Math.min(1, alpha[o]! + 1 / fine ** 2);
    }
  }
  return alpha;
}

/** A dark brown subject before a photograph-like one, mixed as a camera mixes them. */
function pictureOf(alpha: Float32Array): Image {
  const image = createImage(W, H);
  const behind = photoLike(W, H, 40, 0.1);
  for (let i = 0; i < W * H; i++)
    for (let c = 0; c < 4; c++) {
      const own = [62, 44, 30][c]! + 5 * Math.sin(i * 0.7 + c);
      image.data[4 * i + c] =
        c === 3 ? 255 : alpha[i]! * own + (1 - alpha[i]!) * Math.min(255, 90 + 0.6 * behind.data[4 * i + c]!) + 2 * Math.sin(3.1 * i);
    }
  return image;
}

describe('fineEdge', () => {
  let truth: Float32Array;
  let features: Float32Array;
  let unknown: Uint8Array;
  /** The disc alone, as a cut would have it. */
  let cut: Plane;
  beforeAll(() => {
    truth = hairy();
    features = featuresOf(pictureOf(truth));
    unknown = new Uint8Array(W * H);
    cut = createPlane(W, H);
    for (let i = 0; i < W * H; i++) {
      const d = Math.hypot((i % W) - X, Math.floor(i / W) - Y);
      cut.data[i] = d < RADIUS ? 1 : 0;
      if (d > RADIUS - 5 && d < RADIUS + 34 && Math.floor(i / W) < Y + 6) unknown[i] = 1;
    }
  });
  const errorOf = ({ data }: Plane): number => {
    let sum = 0;
    let count = 0;
    for (let i = 0; i < data.length; i++) {
      if (unknown[i] === 0) continue;
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
    fineEdge(features, new Uint8Array(W * H), found);
    expect(found.data).toEqual(cut.data);
    fineEdge(features, unknown, found);
    found.data.forEach((v, i) => {
      if (unknown[i] === 0) expect(v).toBe(cut.data[i]);
      else expect(v >= 0 && v <= 1).toBe(true);
    });
  });

  it('covers nothing of what looks like the outside, and nothing without an inside', () => {
    const away = new Uint8Array(W * H);
    for (let y = 130; y < 150; y++) away.fill(1, y * W + 20, y * W + 200);
    const found = { ...cut, data: cut.data.slice() };
    fineEdge(features, away, found);
    let most = 0;
    for (let i = 0; i < found.data.length; i++) if (away[i] === 1) most = Math.max(most, found.data[i]!);
    expect(most).toBeLessThan(0.35);
    const none = createPlane(W, H);
    fineEdge(features, unknown, none);
    expect(none.data.every((v) => v < 0.02)).toBe(true);
  });
});
