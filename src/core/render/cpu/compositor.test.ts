import { describe, expect, it } from 'vitest';
import { compose, IDENTITY, invert, rotation, scaling, translation, type Matrix } from '../../geometry/matrix';
import { createImage, type Image } from '../../image/pixels';
import { COLOUR_KEY } from '../../matte/key/key';
import { corner } from '../../matte/outline/outline';
import { UNTIDIED } from '../../matte/coverage/tidy';
import { CpuCompositor } from './compositor';
import { pictureOf, type FramePlan, type PlannedLayer } from '../../plan/frame-plan';
import { plainPlanned } from '../../plan/plan-shot';

const picture = (width: number, height: number, colour: (x: number, y: number) => readonly [number, number, number, number?]): Image => {
  const image = createImage(width, height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) image.data.set([...colour(x, y).slice(0, 3), colour(x, y)[3] ?? 255] as number[], i);
  return image;
};
const noise = (width: number, height: number, seed: number): Image =>
  picture(width, height, (x, y) => [(x * 37 + y * 91 + seed * 13) % 256, (x * 11 + y * 5 + seed) % 256, (x * y * 7 + seed * 3) % 256]);

const layer = (mediumId: string, width: number, height: number, rest: Partial<PlannedLayer> = {}): PlannedLayer => ({
  ...plainPlanned({ kind: 'picture', picture: { mediumId, frame: 0, width, height }, next: null }, width, height, IDENTITY),
  ...rest,
});
const planOf = (width: number, height: number, layers: readonly PlannedLayer[]): FramePlan => ({
  width,
  height,
  layers,
  finish: [],
  background: null,
  missing: [],
});

function draw(plan: FramePlan, pictures: Record<string, Image>, width = plan.width, height = plan.height): Image {
  const out = createImage(width, height);
  new CpuCompositor(width, height).draw(plan, (ref) => pictures[ref.mediumId] ?? null, out);
  return out;
}
const pixel = (image: Image, x: number, y: number): number[] => [
  ...image.data.subarray(4 * (y * image.width + x), 4 * (y * image.width + x) + 4),
];

/** The same layer in floating point, by the book: bilinear, edge repeated, premultiplied over black. */
function reference(plan: FramePlan, pictures: Record<string, Image>): Float64Array {
  const { width, height } = plan;
  const out = new Float64Array(4 * width * height);
  for (const l of [...plan.layers].reverse()) {
    const from = pictures[pictureOf(l)!.mediumId]!;
    const back: Matrix = invert(
      compose(
        compose(compose(translation(-from.width / 2, -from.height / 2), scaling(l.width / from.width, l.height / from.height)), l.matrix),
        translation(width / 2, height / 2),
      ),
    );
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++, o += 4) {
        const px = back[0] * (x + 0.5) + back[1] * (y + 0.5) + back[2];
        const py = back[3] * (x + 0.5) + back[4] * (y + 0.5) + back[5];
        if (px < 1 || py < 1 || px > from.width - 1 || py > from.height - 1) {
          out[o + 3] = NaN; // too near the border: the test looks inside only
          continue;
        }
        const [left, top] = [Math.floor(px - 0.5), Math.floor(py - 0.5)];
        const [fx, fy] = [px - 0.5 - left, py - 0.5 - top];
        for (let c = 0; c < 4; c++) {
          const at = (u: number, v: number): number => from.data[4 * ((top + v) * from.width + left + u) + c]!;
          const value = (at(0, 0) * (1 - fx) + at(1, 0) * fx) * (1 - fy) + (at(0, 1) * (1 - fx) + at(1, 1) * fx) * fy;
          out[o + c] = value * l.opacity + out[o + c]! * (1 - l.opacity);
        }
      }
  }
  return out;
}

describe('one layer', () => {
  it('comes out byte for byte when nothing moves', () => {
    const image = noise(7, 5, 1);
    expect(draw(planOf(7, 5, [layer('a', 7, 5)]), { a: image }).data).toEqual(image.data);
  });

  it('is shown at the size it was decoded at, as large as its medium says', () => {
    const small = picture(2, 1, (x) => [x * 200, 0, 0]);
    const out = draw(planOf(8, 4, [layer('a', 8, 4)]), { a: small });
    expect(pixel(out, 0, 0)).toEqual([0, 0, 0, 255]);
    expect(pixel(out, 7, 3)).toEqual([200, 0, 0, 255]);
  });

  it('has a border with exact coverage', () => {
    const white = picture(4, 4, () => [255, 255, 255]);
    const out = draw(planOf(6, 6, [layer('a', 4, 4, { matrix: translation(0.25, 0) })]), { a: white });
    expect(pixel(out, 1, 3)[3]).toBe(191);
    expect(pixel(out, 5, 3)[3]).toBe(64);
    expect(pixel(out, 3, 3)).toEqual([255, 255, 255, 255]);
    expect(pixel(out, 3, 0)[3]).toBe(0);
  });

  it('turned by any angle covers its own area', () => {
    const white = picture(20, 12, () => [255, 255, 255]);
    for (const degrees of [10, 45, 123]) {
      const out = draw(planOf(40, 40, [layer('a', 20, 12, { matrix: rotation(degrees) })]), { a: white });
      let area = 0;
      for (let i = 3; i < out.data.length; i += 4) area += out.data[i]! / 255;
      expect(Math.abs(area - 240)).toBeLessThan(0.3);
    }
  });

  it('agrees with the slow version within 2/255 under scale, turn and shift', () => {
    for (const matrix of [
      translation(0.3, -0.7),
      compose(scaling(1.37), rotation(17)),
      compose(scaling(0.8, 1.3), translation(2.2, 1.1)),
    ]) {
      const plan = planOf(24, 18, [layer('a', 24, 18, { matrix })]);
      const pictures = { a: noise(24, 18, 4) };
      const out = draw(plan, pictures);
      const slow = reference(plan, pictures);
      for (let i = 0; i < slow.length; i++) {
        if (Number.isNaN(slow[i | 3]!)) continue;
        expect(Math.abs(out.data[i]! - slow[i]!)).toBeLessThanOrEqual(2);
      }
    }
  });

  it('goes on mirrored beyond its border when asked to', () => {
    const row = picture(4, 1, (x) => [50 * x, 0, 0]);
    const out = draw(planOf(12, 1, [layer('a', 4, 1, { edges: 'mirrored' })]), { a: row });
    expect(Array.from({ length: 12 }, (_, x) => pixel(out, x, 0)[0])).toEqual([150, 100, 50, 0, 0, 50, 100, 150, 150, 100, 50, 0]);
    expect(Array.from({ length: 12 }, (_, x) => pixel(out, x, 0)[3])).toEqual(new Array(12).fill(255));
  });

  it('scaled to nothing is not there', () => {
    expect(draw(planOf(3, 3, [layer('a', 3, 3, { matrix: scaling(0) })]), { a: noise(3, 3, 1) }).data.every((v) => v === 0)).toBe(true);
  });

  it('without a picture is left out', () => {
    expect(draw(planOf(2, 2, [layer('gone', 2, 2)]), {}).data.every((v) => v === 0)).toBe(true);
  });
});

describe('several layers', () => {
  it('lie front to back', () => {
    const red = picture(2, 2, () => [255, 0, 0]);
    const blue = picture(2, 2, () => [0, 0, 255]);
    expect(pixel(draw(planOf(2, 2, [layer('r', 2, 2), layer('b', 2, 2)]), { r: red, b: blue }), 0, 0)).toEqual([255, 0, 0, 255]);
    expect(pixel(draw(planOf(2, 2, [layer('r', 2, 2, { opacity: 0.4 }), layer('b', 2, 2)]), { r: red, b: blue }), 0, 0)).toEqual([
      102, 0, 153, 255,
    ]);
  });

  it('of one colour stay that colour at any opacity', () => {
    const grey = picture(3, 3, () => [77, 130, 201]);
    for (let opacity = 0.05; opacity < 1; opacity += 0.05) {
      const out = draw(planOf(3, 3, [layer('g', 3, 3, { opacity }), layer('g', 3, 3)]), { g: grey });
      expect(pixel(out, 1, 1)).toEqual([77, 130, 201, 255]);
    }
  });

  it('honours see-through pixels of a picture', () => {
    const half = picture(1, 1, () => [200, 100, 0, 128]);
    const black = picture(1, 1, () => [0, 0, 0]);
    const [r, g, , a] = pixel(draw(planOf(1, 1, [layer('h', 1, 1), layer('k', 1, 1)]), { h: half, k: black }), 0, 0);
    expect([r, g, a]).toEqual([100, 50, 255]);
  });
});

describe('mattes', () => {
  const points = [corner(0, -100), corner(100, -100), corner(100, 100), corner(0, 100)];
  const matte = {
    kind: 'outline' as const,
    combine: 'intersect' as const,
    points,
    growPx: 0,
    featherPx: 0,
    matrix: IDENTITY,
    rides: true,
  };

  it('take away one side and let the layer below through', () => {
    const plan = planOf(4, 2, [layer('r', 4, 2, { mattes: [{ ...matte, side: 'outside' }] }), layer('b', 4, 2)]);
    const out = draw(plan, { r: picture(4, 2, () => [255, 0, 0]), b: picture(4, 2, () => [0, 0, 255]) });
    expect(pixel(out, 1, 0)).toEqual([255, 0, 0, 255]);
    expect(pixel(out, 2, 0)).toEqual([0, 0, 255, 255]);
  });

  it('inside and outside of the same matte leave nothing uncovered over a full layer', () => {
    const slanted = { ...matte, points: [corner(-1.3, -100), corner(100, -100), corner(100, 100), corner(1.9, 100)], featherPx: 3 };
    const plan = planOf(9, 9, [layer('r', 9, 9, { mattes: [{ ...slanted, side: 'outside' }] }), layer('b', 9, 9)]);
    const out = draw(plan, { r: noise(9, 9, 1), b: noise(9, 9, 2) });
    for (let i = 3; i < out.data.length; i += 4) expect(out.data[i]).toBe(255);
  });

  it('combine in their order: only what both cover, what either covers, one without the other', () => {
    const box = (left: number, right: number, rest: object) => ({
      ...matte,
      side: 'inside' as const,
      points: [corner(left, -9), corner(right, -9), corner(right, 9), corner(left, 9)],
      ...rest,
    });
    const alphas = (...mattes: ReturnType<typeof box>[]): number[] => {
      const out = draw(planOf(6, 1, [layer('r', 6, 1, { mattes })]), { r: picture(6, 1, () => [255, 255, 255]) });
      return Array.from({ length: 6 }, (_, x) => pixel(out, x, 0)[3]! / 255);
    };
    const [left, right] = [box(-3, 1, {}), (combine: 'add' | 'subtract' | 'intersect') => box(-1, 3, { combine })];
    expect(alphas(left, right('intersect'))).toEqual([0, 0, 1, 1, 0, 0]);
    expect(alphas(left, right('add'))).toEqual([1, 1, 1, 1, 1, 1]);
    expect(alphas(left, right('subtract'))).toEqual([1, 1, 0, 0, 0, 0]);
    expect(alphas(right('subtract'), left)).toEqual([0, 0, 1, 1, 0, 0]); // the first stands for itself
    expect(alphas(left, { ...right('subtract'), side: 'outside' as never })).toEqual([0, 0, 1, 1, 0, 0]);
  });

  it('from a colour key take the cloth out and its cast from what stays', () => {
    const key = { ...COLOUR_KEY, colour: [30, 150, 60] as const, spill: 1 };
    const shot = picture(3, 1, (x) => [[30, 150, 60] as const, [130, 170, 130] as const, [200, 60, 50] as const][x]!);
    const planned = {
      kind: 'key' as const,
      tidying: UNTIDIED,
      key,
      picture: pictureOf(layer('s', 3, 1))!,
      rides: true,
      side: 'inside' as const,
      combine: 'intersect' as const,
    };
    const rest = { growPx: 0, featherPx: 0, matrix: IDENTITY };
    const out = draw(planOf(3, 1, [layer('s', 3, 1, { mattes: [{ ...planned, ...rest }] })]), { s: shot });
    expect(pixel(out, 0, 0)[3]).toBe(0);
    expect(pixel(out, 2, 0)).toEqual([200, 60, 50, 255]);
    const [r, g, b] = pixel(out, 1, 0);
    expect(g! - (r! + b!) / 2).toBeLessThan(20);
  });

  it('with a clean edge show the subject’s colour where they are soft, wherever the layer is', () => {
    const shot = picture(120, 20, (x) => {
      const share = Math.max(0, Math.min(1, (65.5 - x) / 10));
      return [200 * share, 0, 200 * (1 - share)];
    });
    const soft = { ...matte, side: 'outside' as const, featherPx: 10, points: matte.points };
    const drawn = (cleanEdge: number, matrix: Matrix): Image =>
      draw(planOf(120, 20, [layer('s', 120, 20, { cleanEdge, matrix, mattes: [{ ...soft, matrix }] })]), { s: shot });
    for (const dx of [0, 7]) {
      const at = 63 + dx;
      const [dirty, clean] = [drawn(0, translation(dx, 0)), drawn(1, translation(dx, 0))].map((i) => pixel(i, at, 10));
      expect(dirty![2]! / dirty![3]!).toBeGreaterThan(0.3);
      expect(clean![2]! / clean![3]!).toBeLessThan(0.12);
      expect(clean![3]).toBe(dirty![3]);
    }
  });

  it('ride on the size of the output', () => {
    const plan = planOf(100, 100, [layer('r', 100, 100, { mattes: [{ ...matte, side: 'inside' }] })]);
    const out = draw(plan, { r: picture(100, 100, () => [255, 255, 255]) }, 50, 50);
    expect(pixel(out, 24, 25)[3]).toBe(0);
    expect(pixel(out, 25, 25)[3]).toBe(255);
  });
});

it('refuses an output of another size', () => {
  expect(() => new CpuCompositor(4, 4).draw(planOf(4, 4, []), () => null, createImage(3, 4))).toThrow(RangeError);
});

describe('subjects that go over into each other', () => {
  it('lie over their ground with clean edges, and nothing of their own ground shows', () => {
    const [width, height] = [96, 64];
    const disc = (x: number): PlannedLayer['mattes'][number] => ({
      kind: 'outline',
      side: 'inside',
      combine: 'intersect',
      growPx: 0,
      featherPx: 1,
      matrix: IDENTITY,
      rides: true,
      points: Array.from({ length: 24 }, (_, i) => corner(x + 16 * Math.cos((i * Math.PI) / 12), 16 * Math.sin((i * Math.PI) / 12))),
    });
    const places = (x: number): { x: number; y: number }[] =>
      Array.from({ length: 24 }, (_, i) => ({ x: x + 16 * Math.cos((i * Math.PI) / 12), y: 16 * Math.sin((i * Math.PI) / 12) }));
    const red = picture(width, height, () => [220, 40, 40]);
    const blue = picture(width, height, () => [40, 40, 220]);
    const melt: PlannedLayer = plainPlanned(
      {
        kind: 'melt',
        from: [layer('red', width, height, { mattes: [disc(-20)] })],
        to: [layer('blue', width, height, { mattes: [disc(20)] })],
        warped: 0.5,
        mixed: 0.5,
        quality: 'fast',
        anchors: [],
        lines: { places: [{ from: places(-20), to: places(20), closed: true }], borders: 'pinned' },
      },
      width,
      height,
      IDENTITY,
    );
    const made = draw(planOf(width, height, [melt, layer('white', width, height)]), {
      red,
      blue,
      white: picture(width, height, () => [255, 255, 255]),
    });
    const [r, g, b, a] = pixel(made, 48, 32) as [number, number, number, number];
    expect(Math.max(Math.abs(r - 130), Math.abs(g - 40), Math.abs(b - 130))).toBeLessThan(12);
    expect(a).toBe(255);
    for (const [x, y] of [
      [5, 5],
      [28, 32],
      [68, 32],
      [90, 60],
    ] as const)
      expect(Math.min(...pixel(made, x, y))).toBeGreaterThan(248);
    // at the rim both mix without a dark line
    for (let x = 48; x < 80; x++) expect(pixel(made, x, 32)[1]!).toBeGreaterThanOrEqual(34);
  });
});
