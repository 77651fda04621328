import { describe, expect, it } from 'vitest';
import { createImage, type Image } from '../image/pixels';
import { valuesAt, type ParamValues } from './effect';
import { effectNamed, EFFECTS } from './registry';

const NAMES = EFFECTS.map((e) => e.kind);
import { smoothNoise } from './noise';

const [WIDTH, HEIGHT] = [96, 64];

const picture = (colour: (x: number, y: number) => readonly [number, number, number, number]): Image => {
  const image = createImage(WIDTH, HEIGHT);
  for (let y = 0, o = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, o += 4) {
      const [r, g, b, a] = colour(x, y);
      image.data.set([(r * a) / 255, (g * a) / 255, (b * a) / 255, a], o);
    }
  return image;
};
const busy = picture((x, y) => [128 + 80 * Math.sin(x / 5), 128 + 80 * Math.cos(y / 4), 128 + 60 * Math.sin((x + y) / 9), 255]);
/** A grey square in the middle of nothing. */
const square = picture((x, y) => [120, 120, 120, x >= 36 && x < 60 && y >= 20 && y < 44 ? 255 : 0]);

function drawn(kind: string, src: Image, values: ParamValues, scale = 1): Image {
  const out = createImage(src.width, src.height);
  effectNamed(kind).draw(src, out, valuesAt(effectNamed(kind), values, scale));
  return out;
}
const at = (image: Image, x: number, y: number): number[] => [
  ...image.data.subarray(4 * (y * image.width + x), 4 * (y * image.width + x) + 4),
];
const most = (a: Image, b: Image): number => a.data.reduce((worst, v, i) => Math.max(worst, Math.abs(v - b.data[i]!)), 0);

describe('every effect', () => {
  it.each(NAMES)('%s is named by its own key and does the same each time', (kind) => {
    expect(effectNamed(kind).kind).toBe(kind);
    const { amount, params } = effectNamed(kind);
    expect(amount === null || params[amount] !== undefined).toBe(true);
    for (const src of [busy, square]) expect(most(drawn(kind, src, { frame: 7 }), drawn(kind, src, { frame: 7 }))).toBe(0);
  });

  it.each(NAMES.filter((k) => effectNamed(k).amount !== null))('%s does nothing when its amount is 0', (kind) => {
    const none = { [effectNamed(kind).amount!]: 0, frame: 3 };
    for (const src of [busy, square]) expect(most(drawn(kind, src, none), src)).toBeLessThanOrEqual(1);
  });

  it.each(NAMES)('%s keeps colours within what they cover', (kind) => {
    const { data } = drawn(kind, square, { frame: 2 });
    for (let o = 0; o < data.length; o += 4) expect(Math.max(data[o]!, data[o + 1]!, data[o + 2]!)).toBeLessThanOrEqual(data[o + 3]! + 1);
  });
});

describe('shake', () => {
  it('moves smoothly, as its seed says, and stays within its strength', () => {
    const wave = Array.from({ length: 4000 }, (_, i) => smoothNoise(i / 50, 3));
    expect(Math.max(...wave.map(Math.abs))).toBeLessThanOrEqual(1);
    expect(Math.max(...wave.slice(1).map((v, i) => Math.abs(v - wave[i]!)))).toBeLessThan(0.09);
    expect(Math.max(...wave.map(Math.abs))).toBeGreaterThan(0.4);
    expect(most(drawn('shake', busy, { frame: 5, seed: 1 }), drawn('shake', busy, { frame: 5, seed: 2 }))).toBeGreaterThan(20);
  });

  it('leaves nothing bare', () => {
    const { data } = drawn('shake', busy, { frame: 11, strengthPx: 60, turn: 1 });
    expect(Math.min(...data.filter((_, i) => i % 4 === 3))).toBe(255);
  });
});

describe('flash', () => {
  it('is half way to its colour at half its amount, by the book', () => {
    const made = drawn('flash', busy, { amount: 0.5, red: 255, green: 0, blue: 100 });
    for (const [x, y] of [
      [3, 5],
      [50, 40],
    ] as const) {
      const [r, g, b] = at(busy, x, y) as [number, number, number];
      at(made, x, y).forEach((v, i) => expect(Math.abs(v - [(r + 255) / 2, g / 2, (b + 100) / 2, 255][i]!)).toBeLessThanOrEqual(1));
    }
  });
});

describe('what lies around a thing', () => {
  it('a shadow falls where it is sent, under what casts it', () => {
    const made = drawn('drop shadow', square, { amount: 1, distancePx: 10, angle: 0, softPx: 0 });
    expect(at(made, 65, 30)).toEqual([0, 0, 0, 255]);
    expect(at(made, 71, 30)[3]).toBe(0);
    expect(at(made, 50, 30)).toEqual([120, 120, 120, 255]);
    expect(at(made, 30, 30)[3]).toBe(0);
  });

  it('a soft shadow is the mean of what covers around', () => {
    const made = drawn('drop shadow', square, { amount: 1, distancePx: 0, softPx: 8 });
    const inside = (x: number, y: number): number => (x >= 36 && x < 60 && y >= 20 && y < 44 ? 1 : 0);
    const boxed = (of: (x: number, y: number) => number, x: number, y: number): number => {
      let sum = 0;
      for (let dy = -4; dy <= 4; dy++) for (let dx = -4; dx <= 4; dx++) sum += of(x + dx, y + dy) / 81;
      return sum;
    };
    const once = (x: number, y: number): number => boxed(inside, x, y);
    for (const x of [60, 62, 64, 66]) expect(Math.abs(at(made, x, 32)[3]! - 255 * boxed(once, x, 32))).toBeLessThanOrEqual(2);
  });

  it('an outline is as wide as it is told', () => {
    const made = drawn('outline', square, { widthPx: 5, red: 255, green: 0, blue: 0 });
    expect(at(made, 62, 32)).toEqual([255, 0, 0, 255]);
    expect(at(made, 67, 32)[3]).toBe(0);
    expect(at(made, 50, 32)).toEqual([120, 120, 120, 255]);
    // twice as large at twice the size
    expect(at(drawn('outline', square, { widthPx: 5, red: 255, green: 0, blue: 0 }, 2), 68, 32)[0]).toBe(255);
  });

  it('copies of the outline lie apart and grow fainter', () => {
    const made = drawn('outline copies', square, { count: 2, apartPx: 8, widthPx: 4, fall: 0.5 });
    const [first, between, second] = [at(made, 67, 32)[3]!, at(made, 71, 32)[3]!, at(made, 75, 32)[3]!];
    expect(first).toBeGreaterThan(240);
    expect(between).toBeLessThan(10);
    expect(second / first).toBeCloseTo(0.5, 1);
  });

  it('a rough edge only takes away, and nothing deep inside', () => {
    const made = drawn('rough edge', square, { depthPx: 6, sizePx: 4 });
    let taken = 0;
    for (let o = 3; o < made.data.length; o += 4) {
      expect(made.data[o]!).toBeLessThanOrEqual(square.data[o]!);
      if (square.data[o]! - made.data[o]! > 100) taken++;
    }
    expect(taken).toBeGreaterThan(60);
    expect(at(made, 48, 32)).toEqual([120, 120, 120, 255]);
  });
});

describe('glow', () => {
  it('shines around what is bright and leaves the rest', () => {
    const lamp = picture((x, y) => (Math.hypot(x - 48, y - 32) < 6 ? [255, 255, 255, 255] : [20, 20, 20, 255]));
    const made = drawn('glow', lamp, { amount: 1, radiusPx: 12, from: 0.5 });
    expect(at(made, 57, 32)[0]!).toBeGreaterThan(40);
    expect(at(made, 90, 5)[0]!).toBe(20);
    expect(
      most(
        drawn(
          'glow',
          picture(() => [90, 90, 90, 255]),
          { from: 0.9 },
        ),
        picture(() => [90, 90, 90, 255]),
      ),
    ).toBeLessThanOrEqual(1);
  });
});

describe('drawn sketch', () => {
  it('has ink where brightness changes and paper where it does not', () => {
    const step = picture((x) => (x < 48 ? [90, 90, 90, 255] : [230, 230, 230, 255]));
    const made = drawn('drawn sketch', step, { hatch: 0, strength: 1 });
    expect(at(made, 48, 30)[0]!).toBeLessThan(80);
    expect(at(made, 90, 30).slice(0, 3)).toEqual([244, 238, 224]);
  });
});

describe('crop and flip', () => {
  it('crops by shares of the frame', () => {
    const made = drawn('crop', busy, { left: 25, bottom: 50 });
    expect([at(made, 10, 10)[3], at(made, 40, 10)[3], at(made, 40, 50)[3]]).toEqual([0, 255, 0]);
    expect(at(made, 40, 10)).toEqual(at(busy, 40, 10));
  });

  it('flips exactly, and back', () => {
    const once = drawn('flip', busy, { across: 1, down: 1 });
    expect(at(once, 0, 0)).toEqual(at(busy, WIDTH - 1, HEIGHT - 1));
    expect(most(drawn('flip', once, { across: 1, down: 1 }), busy)).toBe(0);
  });
});
