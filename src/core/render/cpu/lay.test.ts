import { describe, expect, it } from 'vitest';
import { compose, IDENTITY, invert, rotation, scaling, translation, type Matrix } from '../../geometry/matrix';
import { createImage, type Image } from '../../image/pixels';
import { Arena } from '../../kernels/kernels';
import { Hidden, isOpaque } from './lay';

/** One layer laid over `out`. */
function blend(picture: Image, inverse: Matrix | null, mirrored: boolean, coverage: Uint8Array, opacity: number, out: Image): void {
  const hidden = new Hidden(out.width, out.height, { top: 0, bottom: out.height }, new Arena());
  hidden.layPicture(picture, isOpaque(picture), inverse, mirrored, coverage, opacity, 0, out);
}

/** Numbers from 0 to 1 that are the same every time. */
function random(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

function noise(width: number, height: number, seed: number, alpha: () => number = () => 255): Image {
  const next = random(seed);
  const image = createImage(width, height);
  for (let i = 0; i < image.data.length; i++) image.data[i] = i % 4 === 3 ? alpha() : 256 * next();
  return image;
}

/** A row's pixel at `place` by the book: repeated beyond its ends, or mirrored about them. */
function index(place: number, length: number, mirrored: boolean): number {
  if (!mirrored) return Math.max(0, Math.min(length - 1, place));
  const t = ((place % (2 * length)) + 2 * length) % (2 * length);
  return t < length ? t : 2 * length - 1 - t;
}

/** The same in floating point, channel by channel. */
function byTheBook(picture: Image, inverse: Matrix, mirrored: boolean, coverage: Uint8Array, opacity: number, out: Image): Float64Array {
  const result = Float64Array.from(out.data);
  for (let y = 0, i = 0; y < out.height; y++) {
    for (let x = 0; x < out.width; x++, i++) {
      const px = inverse[0] * (x + 0.5) + inverse[1] * (y + 0.5) + inverse[2] - 0.5;
      const py = inverse[3] * (x + 0.5) + inverse[4] * (y + 0.5) + inverse[5] - 0.5;
      const [left, top] = [Math.floor(px), Math.floor(py)];
      const sample = (c: number): number => {
        let sum = 0;
        for (const [u, wu] of [
          [left, 1 - (px - left)],
          [left + 1, px - left],
        ] as const)
          for (const [v, wv] of [
            [top, 1 - (py - top)],
            [top + 1, py - top],
          ] as const) {
            const at = index(v, picture.height, mirrored) * picture.width + index(u, picture.width, mirrored);
            sum += wu * wv * picture.data[4 * at + c]!;
          }
        return sum;
      };
      const share = ((coverage[i]! / 255) * opacity * sample(3)) / 255 / 255;
      for (let c = 0; c < 4; c++) result[4 * i + c] = share * (c === 3 ? 255 : sample(c)) + (1 - share) * out.data[4 * i + c]!;
    }
  }
  return result;
}

const worst = (found: Image, wanted: Float64Array): number =>
  found.data.reduce((most, v, i) => Math.max(most, Math.abs(v - wanted[i]!)), 0);

const [W, H] = [37, 23];
const everywhere = new Uint8Array(W * H).fill(255);
const scattered = (seed: number): Uint8Array => {
  const next = random(seed);
  return Uint8Array.from({ length: W * H }, () => (next() < 0.3 ? 0 : 256 * next()));
};

describe('blend', () => {
  const turned = compose(compose(compose(translation(-10, -8), rotation(24)), scaling(0.83)), translation(W / 2, H / 2));

  it.each([false, true])('agrees with floating point for a picture that is turned and scaled, mirrored beyond its edge: %s', (mirrored) => {
    const picture = noise(20, 16, 1);
    const out = noise(W, H, 2);
    const coverage = scattered(3);
    const wanted = byTheBook(picture, invert(turned), mirrored, coverage, 255, out);
    blend(picture, invert(turned), mirrored, coverage, 255, out);
    // places are rounded to 256ths of a pixel, colours once for each way and once for laying them down
    expect(worst(out, wanted)).toBeLessThan(2.5);
  });

  it('mirrors a picture that is far away as often as it takes', () => {
    const picture = noise(5, 4, 4);
    const out = createImage(W, H);
    const far = translation(-1003, 777);
    const wanted = byTheBook(picture, far, true, everywhere, 255, out);
    blend(picture, far, true, everywhere, 255, out);
    expect(worst(out, wanted)).toBeLessThan(0.5);
  });

  it('takes coverage, opacity and the own alpha of the picture together', () => {
    const next = random(9);
    const picture = noise(W, H, 5, () => 256 * next());
    const coverage = scattered(6);
    for (const inverse of [null, IDENTITY]) {
      const out = noise(W, H, 7);
      const wanted = byTheBook(picture, IDENTITY, false, coverage, 140, out);
      blend(picture, inverse, false, coverage, 140, out);
      // three shares are multiplied with a rounding each
      expect(worst(out, wanted)).toBeLessThan(2.5);
    }
  });

  it('leaves what is not covered, and what is seen at no opacity, byte for byte', () => {
    const out = noise(W, H, 8);
    const before = out.data.slice();
    blend(noise(W, H, 9), null, false, new Uint8Array(W * H), 255, out);
    blend(noise(20, 16, 9), turned, true, everywhere, 0, out);
    expect(out.data).toEqual(before);
  });

  it('is the picture itself where it is wholly covered, and a colour over itself stays itself', () => {
    const picture = noise(W, H, 10);
    const out = noise(W, H, 11);
    blend(picture, IDENTITY, false, everywhere, 255, out);
    expect(out.data).toEqual(picture.data);
    for (const share of [1, 77, 128, 254]) blend(picture, null, false, everywhere, share, out);
    expect(out.data).toEqual(picture.data);
  });
});
