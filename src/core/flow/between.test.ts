import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { cropImage } from '../../../tests/fixtures/pictures';
import { createImage, type Image } from '../image/pixels';
import { lumaOf } from '../image/plane';
import { between, flowPair } from './between';
import { denseFlow, prepareFlow } from './dense-flow';

const [W, H] = [240, 136];
const scene = photoLike(W + 60, H + 40, 7, 0.3);
const view = (x: number, y: number): Image => cropImage(scene, x, y, W, H);

function psnr(a: Image, b: Image): number {
  let sum = 0;
  for (let i = 0; i < a.data.length; i++) if (i % 4 !== 3) sum += (a.data[i]! - b.data[i]!) ** 2;
  return 10 * Math.log10((255 * 255) / Math.max(1e-9, sum / (0.75 * a.data.length)));
}

function faded(a: Image, b: Image): Image {
  const out = createImage(a.width, a.height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = (a.data[i]! + b.data[i]!) / 2;
  return out;
}

describe('denseFlow', () => {
  it('finds a shift everywhere but at the border it leaves by', () => {
    const [a, b] = [view(30, 20), view(18, 26)];
    const field = denseFlow(prepareFlow(lumaOf(a)), prepareFlow(lumaOf(b)), 'fine');
    let wrong = 0;
    for (let y = 20; y < field.height - 20; y++)
      for (let x = 30; x < field.width - 30; x++) {
        const i = y * field.width + x;
        if (Math.hypot(field.u[i]! - 12, field.v[i]! + 6) > 0.5) wrong++;
      }
    expect(wrong).toBe(0);
  });
});

describe('the picture between two', () => {
  it('is the first at 0 and the second at 1', () => {
    const [a, b] = [view(30, 20), view(24, 20)];
    const pair = flowPair(a, b, 'fine');
    expect(psnr(between(pair, 0), a)).toBeGreaterThan(38);
    expect(psnr(between(pair, 1), b)).toBeGreaterThan(38);
  });

  it('is what a camera on its way would see, far better than a fade', () => {
    const [a, truth, b] = [view(30, 20), view(24, 23), view(18, 26)];
    const made = between(flowPair(a, b, 'fine'), 0.5);
    expect(psnr(made, truth)).toBeGreaterThan(psnr(faded(a, b), truth) + 8);
  });

  it('is no worse than a fade where nothing moves but grain', () => {
    const grain = (seed: number): Image => {
      const out = createImage(W, H);
      out.data.set(view(30, 20).data);
      let state = seed;
      for (let i = 0; i < out.data.length; i++) {
        state = (Math.imul(state, 1664525) + 1013904223) | 0;
        if (i % 4 !== 3) out.data[i] = out.data[i]! + ((state >>> 24) - 128) / 16;
      }
      return out;
    };
    const [a, b, truth] = [grain(1), grain(2), view(30, 20)];
    expect(psnr(between(flowPair(a, b, 'fine'), 0.5), truth)).toBeGreaterThan(psnr(faded(a, b), truth) - 0.5);
  });

  it('moves a small thing over a still ground without tearing either', () => {
    const ground = view(10, 10);
    const thing = photoLike(30, 30, 91, 0.8);
    const at = (x: number): Image => {
      const out = createImage(W, H);
      out.data.set(ground.data);
      for (let y = 0; y < 30; y++) out.data.set(thing.data.subarray(120 * y, 120 * (y + 1)), 4 * ((50 + y) * W + x));
      return out;
    };
    const made = between(flowPair(at(80), at(104), 'fine'), 0.5);
    expect(psnr(made, at(92))).toBeGreaterThan(psnr(faded(at(80), at(104)), at(92)) + 3);
  });
});
