import { easedKeys } from '../../motion/eases';
import { describe, expect, it } from 'vitest';
import { createImage, type Image } from '../../image/pixels';
import { BRIGHTNESS_KEY, COLOUR_KEY, keyAtFrame, keyCoverage, takeSpill, type ColourKey, type KeyNow } from './key';

type Rgb = readonly [number, number, number];

const pixels = (...colours: Rgb[]): Image => {
  const image = createImage(colours.length, 1);
  colours.forEach((c, i) => image.data.set([...c, 255], 4 * i));
  return image;
};
const coverageOf = (image: Image, key: KeyNow): number[] => {
  const out = new Uint8Array(image.width * image.height);
  keyCoverage(image, key, out);
  return [...out];
};
const linear = (v: number): number => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4);
const display = (v: number): number => 255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
const exposed = (c: Rgb, by: number): Rgb => [display(linear(c[0]) * by), display(linear(c[1]) * by), display(linear(c[2]) * by)];

const GREEN: Rgb = [36, 142, 66];
const key: ColourKey = { ...COLOUR_KEY, colour: GREEN };

describe('a brightness key', () => {
  it('covers what is brighter, over a ramp around its threshold', () => {
    const now = keyAtFrame({ ...BRIGHTNESS_KEY, threshold: 0.5, softness: 0.4 }, 0);
    expect(coverageOf(pixels([0, 0, 0], [77, 77, 77], [128, 128, 128], [255, 255, 255]), now)).toEqual([0, 1, 129, 255]);
  });

  it('sweeps when its threshold has keyframes', () => {
    const sweep = {
      ...BRIGHTNESS_KEY,
      threshold: easedKeys('straight', [10, 1.2], [20, -0.2]),
    };
    const grey = pixels([128, 128, 128]);
    expect(coverageOf(grey, keyAtFrame(sweep, 5))).toEqual([0]);
    expect(coverageOf(grey, keyAtFrame(sweep, 15))[0]).toBeGreaterThan(120);
    expect(coverageOf(grey, keyAtFrame(sweep, 25))).toEqual([255]);
  });

  it('is cleaned at both ends', () => {
    const now: KeyNow = { kind: 'brightness', threshold: 0.5, softness: 1, cleanBlack: 0.2, cleanWhite: 0.8 };
    expect(coverageOf(pixels([51, 51, 51], [128, 128, 128], [204, 204, 204]), now)).toEqual([0, 128, 255]);
  });
});

describe('a colour key', () => {
  it('takes its own colour out in light and in shadow, and keeps greys, skin and other colours', () => {
    const out = coverageOf(
      pixels(GREEN, exposed(GREEN, 0.35), exposed(GREEN, 1.6), [90, 90, 90], [224, 172, 140], [180, 30, 30], [40, 60, 160], [230, 200, 60]),
      key,
    );
    expect(out.slice(0, 3)).toEqual([0, 0, 0]);
    for (const kept of out.slice(3)) expect(kept).toBeGreaterThan(250);
  });

  it('gives the share of the subject in pixels that mix it with the cloth', () => {
    const skin: Rgb = [224, 172, 140];
    const wanted = Array.from({ length: 21 }, (_, i) => i / 20);
    const mixed = wanted.map((a): Rgb => [0, 1, 2].map((c) => a * skin[c]! + (1 - a) * GREEN[c]!) as unknown as Rgb);
    const got = coverageOf(pixels(...mixed), { ...key, tolerance: 0.02, softness: 0.98 }).map((v) => v / 255);
    const error = got.reduce((sum, v, i) => sum + Math.abs(v - wanted[i]!), 0) / got.length;
    expect(error).toBeLessThan(0.12);
    for (let i = 1; i < got.length; i++) expect(got[i]!).toBeGreaterThanOrEqual(got[i - 1]! - 1e-9);
  });

  it('takes the cast from what stays and leaves other colours as they are', () => {
    const image = pixels([150, 190, 150], [200, 60, 50], [128, 128, 128]);
    const out = createImage(3, 1);
    takeSpill(image, { ...key, spill: 1 }, out);
    const [r, g, b] = out.data;
    expect(Math.abs(g! - (r! + b!) / 2)).toBeLessThan(10);
    for (let i = 4; i < 12; i++) expect(Math.abs(out.data[i]! - image.data[i]!)).toBeLessThanOrEqual(2);
    takeSpill(image, { ...key, spill: 0 }, out);
    expect([...out.data]).toEqual([...image.data]);
  });

  it('for a colour without hue goes by distance', () => {
    const out = coverageOf(pixels([128, 128, 128], [250, 250, 250], [128, 20, 20]), { ...key, colour: [128, 128, 128] });
    expect(out[0]).toBe(0);
    expect(out[1]).toBe(255);
    expect(out[2]).toBeGreaterThan(200);
  });
});

it('refuses an output of another size', () => {
  expect(() => keyCoverage(pixels(GREEN), key, new Uint8Array(2))).toThrow(RangeError);
});
