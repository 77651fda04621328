import { expect, it } from 'vitest';
import { createImage } from './pixels';
import { shrinkImage } from './image';

it('averages the pixels that become one', () => {
  const from = createImage(4, 2);
  from.data.set([0, 10, 20, 255, 20, 30, 40, 255, 1, 1, 1, 255, 1, 1, 1, 255, 0, 10, 20, 255, 20, 30, 40, 255, 3, 3, 3, 255, 3, 3, 3, 255]);
  const out = createImage(2, 1);
  shrinkImage(from, out);
  expect([...out.data]).toEqual([10, 20, 30, 255, 2, 2, 2, 255]);
});

it('leaves a picture of the same size as it is, and copes with odd ratios', () => {
  const from = createImage(5, 3);
  from.data.forEach((_, i) => (from.data[i] = i));
  const same = createImage(5, 3);
  shrinkImage(from, same);
  expect(same.data).toEqual(from.data);
  const plain = createImage(7, 5);
  plain.data.fill(200);
  const small = createImage(3, 2);
  shrinkImage(plain, small);
  expect(small.data.every((v) => v === 200)).toBe(true);
});

it('keeps a straight edge straight and in its place when the ratio is not whole', () => {
  const from = createImage(64, 2);
  for (let i = 0; i < 64 * 2; i++) from.data.fill(i % 64 < 32 ? 0 : 240, 4 * i, 4 * i + 4);
  const out = createImage(45, 1);
  shrinkImage(from, out);
  const reds = Array.from({ length: 45 }, (_, x) => out.data[4 * x]!);
  // the edge at 32 of 64 lies in the middle of pixel 22 of 45
  expect(reds).toEqual(Array.from({ length: 45 }, (_, x) => (x < 22 ? 0 : x === 22 ? 120 : 240)));
});

it('gives every pixel of a slope the mean of what it covers', () => {
  const from = createImage(10, 1);
  for (let x = 0; x < 10; x++) from.data.fill(10 * x, 4 * x, 4 * x + 4);
  const out = createImage(4, 1);
  shrinkImage(from, out);
  // 2.5 source pixels each: (0 + 10 + 20/2) / 2.5, …
  expect([0, 4, 8, 12].map((i) => out.data[i])).toEqual([8, 32, 58, 82]);
});

it('refuses to enlarge and impossible sizes', () => {
  expect(() => shrinkImage(createImage(2, 2), createImage(3, 2))).toThrow(RangeError);
  expect(() => createImage(0, 5)).toThrow(RangeError);
  expect(() => createImage(2.5, 5)).toThrow(RangeError);
});
