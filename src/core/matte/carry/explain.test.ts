import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../../bench/known-pictures';
import { emptyField } from '../../flow/flow-field';
import type { FlowField } from '../../flow/field';
import { createImage, createPlane } from '../../image/pixels';
import { explain } from './explain';
import { featuresOf } from '../cut/features';

const [W, H] = [60, 40];
const whole = { left: 0, top: 0, right: W, bottom: H };
const picture = photoLike(W, H, 5, 0.5);
const all = new Uint8Array(W * H).fill(1);

/** The picture moved right and down by whole pixels, its edge repeated. */
function moved(dx: number, dy: number): ReturnType<typeof createImage> {
  const out = createImage(W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const from = 4 * (Math.max(0, y - dy) * W + Math.max(0, x - dx));
      out.data.set(picture.data.subarray(from, from + 4), 4 * (y * W + x));
    }
  return out;
}

function still(dx: number, dy: number): FlowField {
  const field = emptyField({ left: 0, top: 0, right: W / 2, bottom: H / 2 }, 2);
  field.u.fill(dx);
  field.v.fill(dy);
  return field;
}

const half = createPlane(W, H);
for (let i = 0; i < half.data.length; i++) half.data[i] = i % W < W / 2 ? 1 : 0;

describe('explain', () => {
  it('finds nothing to explain when nothing has moved', () => {
    const { miss, cover, other } = explain(featuresOf(picture), featuresOf(picture), still(0, 0), half, half, whole, all);
    expect(Math.max(...miss.data)).toBeLessThan(1e-3);
    expect(cover.data[5 * W + 10]).toBe(1);
    expect(cover.data[5 * W + 50]).toBe(0);
    expect(other.data).toEqual(cover.data);
  });

  it('follows the motion it is given: no miss under the right one, much under another', () => {
    const to = featuresOf(moved(4, 2));
    const right = explain(featuresOf(picture), to, still(4, 2), half, half, whole, all);
    const wrong = explain(featuresOf(picture), to, still(0, 0), half, half, whole, all);
    const at = 20 * W + 40;
    expect(right.miss.data[at]).toBeLessThan(1e-3);
    expect(wrong.miss.data.reduce((a, b) => a + b, 0)).toBeGreaterThan(50 * right.miss.data.reduce((a, b) => a + b, 0));
    // the coverage's border has moved along
    expect(right.cover.data[20 * W + 33]).toBe(1);
    expect(right.cover.data[20 * W + 35]).toBe(0);
  });

  it('knows what was not shown before: what comes in over the border, and where the motion tears open', () => {
    const to = featuresOf(moved(4, 2));
    const { shown } = explain(featuresOf(picture), to, still(4, 2), half, half, whole, all);
    expect(shown[20 * W + 1]).toBe(0);
    expect(shown[0 * W + 30]).toBe(0);
    expect(shown[20 * W + 30]).toBe(1);
    // the right half has run away from the left one by a quarter of the picture
    const torn = still(0, 0);
    for (let i = 0; i < torn.u.length; i++) if (i % (W / 2) >= 15) torn.u[i] = 15;
    const { shown: parted } = explain(featuresOf(picture), to, torn, half, half, whole, all);
    expect(parted[20 * W + 10]).toBe(1);
    expect(parted[20 * W + 37]).toBe(0);
    expect(parted[20 * W + 54]).toBe(1);
    // growing evenly tears nothing
    const growing = still(0, 0);
    for (let i = 0; i < growing.u.length; i++) growing.u[i] = 0.3 * 2 * ((i % (W / 2)) - 15);
    expect(explain(featuresOf(picture), to, growing, half, half, whole, all).shown[20 * W + 37]).toBe(1);
  });

  it('looks only where it is asked to, in the region it is given', () => {
    const region = { left: 10, top: 8, right: 30, bottom: 20 };
    const wanted = new Uint8Array(20 * 12);
    wanted[5 * 20 + 7] = 1;
    const { cover, miss } = explain(featuresOf(picture), featuresOf(picture), still(0, 0), half, half, region, wanted);
    expect([cover.width, cover.height, miss.data.length]).toEqual([20, 12, 240]);
    expect(cover.data.reduce((a, b) => a + b, 0)).toBe(1);
    expect(cover.data[5 * 20 + 7]).toBe(1);
  });
});
