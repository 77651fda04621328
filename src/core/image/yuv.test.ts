import { describe, expect, it } from 'vitest';
import { createImage, type Image } from './pixels';
import { rgbOfYuv, yuvBytes, yuvOfRgb } from './yuv';

const image = (width: number, height: number, colour: (x: number, y: number) => readonly [number, number, number]): Image => {
  const out = createImage(width, height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i += 4) out.data.set([...colour(x, y), 255], i);
  return out;
};

/** A colour by the standard's own numbers. */
function byTheBook([r, g, b]: readonly [number, number, number]): readonly [number, number, number] {
  const light = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  return [16 + (219 * light) / 255, 128 + (224 * (b - light)) / 1.8556 / 255, 128 + (224 * (r - light)) / 1.5748 / 255];
}

describe('YUV', () => {
  it('has every plain colour as the standard has it', () => {
    for (const colour of [
      [0, 0, 0],
      [255, 255, 255],
      [255, 0, 0],
      [0, 255, 0],
      [0, 0, 255],
      [13, 200, 77],
      [128, 128, 128],
    ] as const) {
      const planes = new Uint8Array(yuvBytes(6, 4));
      yuvOfRgb(
        image(6, 4, () => colour),
        planes,
      );
      const wanted = byTheBook(colour);
      for (const [at, plane] of [
        [7, 0],
        [24 + 2, 1],
        [24 + 6 + 4, 2],
      ] as const)
        expect(Math.abs(planes[at]! - wanted[plane])).toBeLessThanOrEqual(0.51);
      const back = createImage(6, 4);
      rgbOfYuv(planes, back);
      for (let c = 0; c < 3; c++) expect(Math.abs(back.data[4 * 9 + c]! - colour[c]!)).toBeLessThanOrEqual(2);
      expect(back.data[4 * 9 + 3]).toBe(255);
    }
  });

  it('keeps every grey as it is, both ways', () => {
    const greys = image(256, 2, (x) => [x, x, x]);
    const planes = new Uint8Array(yuvBytes(256, 2));
    yuvOfRgb(greys, planes);
    const back = createImage(256, 2);
    rgbOfYuv(planes, back);
    for (let i = 0; i < back.data.length; i++) expect(Math.abs(back.data[i]! - greys.data[i]!)).toBeLessThanOrEqual(1);
    const again = new Uint8Array(planes.length);
    yuvOfRgb(back, again);
    expect(again).toEqual(planes);
  });

  it('takes chroma for what lies on the left of two columns, between two rows', () => {
    const [width, height] = [8, 6];
    const planes = new Uint8Array(yuvBytes(width, height)).fill(128);
    for (let j = 0; j < 3; j++) for (let k = 0; k < 4; k++) planes[width * height + j * 4 + k] = 100 + 10 * k + 4 * j;
    const out = createImage(width, height);
    rgbOfYuv(planes, out);
    for (let y = 1; y < height - 1; y++)
      for (let x = 0; x < width - 2; x++) {
        const u = 100 + 5 * x + 4 * ((y - 0.5) / 2) - 128;
        const blue = Math.max(0, Math.min(255, (255 / 219) * (128 - 16) + (255 / 224) * 1.8556 * u));
        expect(Math.abs(out.data[4 * (y * width + x) + 2]! - blue)).toBeLessThanOrEqual(0.6);
      }
  });

  it('brings soft pictures of any size back, and counts what is not whole', () => {
    for (const [width, height] of [
      [17, 9],
      [32, 18],
      [5, 5],
      [1, 1],
    ] as const) {
      const soft = image(width, height, (x, y) => [100 + 3 * x, 180 - 2 * y, 90 + x + y]);
      const planes = new Uint8Array(yuvBytes(width, height) + 3).fill(7);
      expect(yuvOfRgb(soft, planes, 253)).toBe(0);
      expect([...planes.subarray(-3)]).toEqual([7, 7, 7]);
      const back = createImage(width, height);
      rgbOfYuv(planes, back);
      for (let i = 0; i < back.data.length; i++) expect(Math.abs(back.data[i]! - soft.data[i]!)).toBeLessThanOrEqual(4);
      soft.data[3] = 252;
      expect(yuvOfRgb(soft, planes, 253)).toBe(1);
    }
  });

  it('refuses planes that are too small', () => {
    expect(() => rgbOfYuv(new Uint8Array(23), createImage(4, 4))).toThrow(RangeError);
    expect(() => yuvOfRgb(createImage(4, 4), new Uint8Array(23))).toThrow(RangeError);
  });
});
