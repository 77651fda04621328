import { expect, it } from 'vitest';
import { createImage, shrinkImage } from './image';

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

it('refuses to enlarge and impossible sizes', () => {
  expect(() => shrinkImage(createImage(2, 2), createImage(3, 2))).toThrow(RangeError);
  expect(() => createImage(0, 5)).toThrow(RangeError);
  expect(() => createImage(2.5, 5)).toThrow(RangeError);
});
