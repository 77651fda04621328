import { describe, expect, it } from 'vitest';
import { createImage, type Image } from '../../image/pixels';
import { cleanEdge } from './clean-edge';

const [W, H] = [240, 80];
const RED = [200, 60, 40] as const;
const BLUE = [30, 70, 190] as const;

/** A red left half that turns into blue over 12 pixels, as a blurred subject does. */
function softEdge(): { image: Image; alpha: Uint8Array } {
  const image = createImage(W, H);
  const alpha = new Uint8Array(W * H);
  for (let y = 0, i = 0; y < H; y++)
    for (let x = 0; x < W; x++, i++) {
      const share = Math.max(0, Math.min(1, (126 - x) / 12));
      alpha[i] = Math.round(255 * share);
      for (let c = 0; c < 3; c++) image.data[4 * i + c] = share * RED[c]! + (1 - share) * BLUE[c]!;
      image.data[4 * i + 3] = 255;
    }
  return { image, alpha };
}

describe('cleaning an edge', () => {
  it('gives a soft edge the subject’s own colour', () => {
    const { image, alpha } = softEdge();
    const out = createImage(W, H);
    cleanEdge(image, alpha, 1, out);
    for (const x of [118, 120, 123]) {
      const at = 4 * (40 * W + x);
      const off = (from: Image): number => RED.reduce((sum, v, c) => sum + Math.abs(from.data[at + c]! - v), 0);
      expect(off(out)).toBeLessThan(0.2 * off(image));
    }
  });

  it('leaves whole and uncovered pixels, and everything at no strength, as they are', () => {
    const { image, alpha } = softEdge();
    const out = createImage(W, H);
    cleanEdge(image, alpha, 1, out);
    for (const x of [20, 110, 130, 200])
      expect([...out.data.subarray(4 * x, 4 * x + 4)]).toEqual([...image.data.subarray(4 * x, 4 * x + 4)]);
    cleanEdge(image, alpha, 0, out);
    expect([...out.data]).toEqual([...image.data]);
  });

  it('does nothing to a hard matte, nor where no subject is near', () => {
    const { image } = softEdge();
    const out = createImage(W, H);
    cleanEdge(
      image,
      Uint8Array.from({ length: W * H }, (_, i) => (i % W < 120 ? 255 : 0)),
      1,
      out,
    );
    expect([...out.data]).toEqual([...image.data]);
    expect(() => cleanEdge(image, new Uint8Array(3), 1, out)).toThrow(RangeError);
  });
});
