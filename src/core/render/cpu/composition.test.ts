import { describe, expect, it } from 'vitest';
import { apply, compose, depthAt, IDENTITY, invert, scaling, translation, type Matrix } from '../../geometry/matrix';
import { toDisplay, toLinear } from '../../image/light';
import { createImage, type Image } from '../../image/pixels';
import { corner } from '../../matte/outline/outline';
import { motionAt, STILL } from '../../motion/motion';
import { seen } from '../../motion/transform';
import type { Content, FramePlan, PlannedLayer } from '../../plan/frame-plan';
import { plainPlanned } from '../../plan/plan-shot';
import { CpuCompositor } from './compositor';

const picture = (width: number, height: number, colour: (x: number, y: number) => readonly number[]): Image => {
  const image = createImage(width, height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i += 4) image.data.set([...colour(x, y), 255].slice(0, 4), i);
  return image;
};
const shown = (mediumId: string, width: number, height: number): Content => ({
  kind: 'picture',
  picture: { mediumId, frame: 0, width, height },
  next: null,
});
const layer = (mediumId: string, width: number, height: number, rest: Partial<PlannedLayer> = {}): PlannedLayer => ({
  ...plainPlanned(shown(mediumId, width, height), width, height, IDENTITY),
  ...rest,
});
const planOf = (width: number, height: number, layers: readonly PlannedLayer[], rest: Partial<FramePlan> = {}): FramePlan => ({
  ...{ width, height, layers, finish: [], background: null, missing: [] },
  ...rest,
});
function draw(plan: FramePlan, pictures: Record<string, Image>): Image {
  const out = createImage(plan.width, plan.height);
  new CpuCompositor(plan.width, plan.height).draw(
    plan,
    (ref) => pictures[`${ref.mediumId}${ref.frame}`] ?? pictures[ref.mediumId] ?? null,
    out,
  );
  return out;
}
const pixel = (image: Image, x: number, y: number): number[] => [
  ...image.data.subarray(4 * (y * image.width + x), 4 * (y * image.width + x) + 4),
];
const noise = (width: number, height: number): Image =>
  picture(width, height, (x, y) => [(x * 37 + y * 91) % 256, (x * 11 + y * 5) % 256, (x * y * 7) % 256]);

describe('the open shutter', () => {
  it('adds up light, not bytes: a white bar that passes over black for half the time', () => {
    const bar = picture(8, 1, (x) => (x < 4 ? [255, 255, 255] : [0, 0, 0]));
    const samples = [IDENTITY, translation(4, 0)];
    const out = draw(planOf(8, 1, [layer('a', 8, 1, { samples, edges: 'repeated' })]), { a: bar });
    // half the light, everywhere
    const half = Math.round(255 * toDisplay(0.5));
    for (let x = 0; x < 8; x++) expect(Math.abs(pixel(out, x, 0)[0]! - half)).toBeLessThanOrEqual(1);
  });

  it('of a layer that stands still is the layer', () => {
    const image = noise(24, 18);
    const out = draw(planOf(24, 18, [layer('a', 24, 18, { samples: [IDENTITY, IDENTITY, IDENTITY] })]), { a: image });
    for (let i = 0; i < out.data.length; i++) expect(Math.abs(out.data[i]! - image.data[i]!)).toBeLessThanOrEqual(1);
  });

  it('softens the alpha of what moves, by the time it was there', () => {
    const white = picture(4, 4, () => [255, 255, 255]);
    const samples = [0, 1, 2, 3].map((x) => translation(x - 1.5, 0));
    const out = draw(planOf(12, 4, [layer('a', 4, 4, { samples })]), { a: white });
    const alphas = Array.from({ length: 12 }, (_, x) => pixel(out, x, 2)[3]!);
    // covered from 2.5 to 9.5, a quarter more with each step
    expect(Math.max(...alphas)).toBeGreaterThan(200);
    expect(alphas.reduce((sum, a) => sum + a / 255, 0)).toBeCloseTo(4, 1);
  });
});

describe('perspective', () => {
  const turned = (tiltY: number, depth = 0): Matrix => seen(motionAt({ ...STILL, tiltY, depth }, 0), 60);

  it('agrees with the slow version', () => {
    const [w, h] = [40, 30];
    const image = picture(w, h, (x, y) => [6 * x, 8 * y, 100]);
    const map = turned(40);
    const out = draw(planOf(w, h, [layer('a', w, h, { matrix: map })]), { a: image });
    const back = invert(map);
    let looked = 0;
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const p = apply(back, { x: x + 0.5 - w / 2, y: y + 0.5 - h / 2 });
        const [u, v] = [p.x + w / 2, p.y + h / 2];
        if (u < 1.5 || v < 1.5 || u > w - 1.5 || v > h - 1.5) continue;
        looked++;
        expect(Math.abs(pixel(out, x, y)[0]! - 6 * (u - 0.5))).toBeLessThanOrEqual(3);
        expect(Math.abs(pixel(out, x, y)[1]! - 8 * (v - 0.5))).toBeLessThanOrEqual(3);
      }
    expect(looked).toBeGreaterThan(300);
  });

  it('shows nothing of what lies behind the eye', () => {
    const map = turned(80, -50);
    expect(depthAt(map, { x: 40, y: 0 })).toBeLessThan(0);
    const out = draw(planOf(80, 60, [layer('a', 80, 60, { matrix: map, edges: 'none' })]), {
      a: picture(80, 60, (x) => (x < 40 ? [255, 0, 0] : [0, 0, 255])),
    });
    const back = invert(map);
    for (let y = 0; y < 60; y += 3)
      for (let x = 0; x < 80; x += 3) {
        const at = { x: x + 0.5 - 40, y: y + 0.5 - 30 };
        if (depthAt(back, at) < 0) expect(pixel(out, x, y)[3]).toBe(0);
      }
  });

  it('takes a feathered matte along: its edge is softer where the plane is nearer', () => {
    const points = [corner(-15, -12), corner(15, -12), corner(15, 12), corner(-15, 12)];
    const map = turned(50);
    const matte = {
      kind: 'outline',
      side: 'inside',
      combine: 'intersect',
      growPx: 0,
      featherPx: 6,
      points,
      matrix: map,
      rides: true,
    } as const;
    const out = draw(planOf(60, 40, [layer('a', 60, 40, { matrix: map, mattes: [matte] })]), { a: picture(60, 40, () => [255, 255, 255]) });
    const partly = (x: number): number =>
      Array.from({ length: 40 }, (_, y) => pixel(out, x, y)[3]!).filter((a) => a > 20 && a < 235).length;
    expect(pixel(out, 30, 20)[3]).toBeGreaterThan(250);
    const edges = [0, 1, 2, 3, 4, 5, 6].map((i) => partly(25 + i));
    expect(edges.every((n) => n > 2)).toBe(true);
  });
});

describe('edge fills', () => {
  const row = picture(4, 1, (x) => [50 * x, 0, 0]);
  const filled = (edges: PlannedLayer['edges']): number[] => {
    const out = draw(planOf(12, 1, [layer('a', 4, 1, { edges, samples: [IDENTITY, IDENTITY] })]), { a: row });
    return Array.from({ length: 12 }, (_, x) => pixel(out, x, 0)[0]!);
  };
  it('mirror, repeat or stretch the picture beyond its border', () => {
    expect(filled('none')).toEqual([0, 0, 0, 0, 0, 50, 100, 150, 0, 0, 0, 0]);
    expect(filled('mirrored')).toEqual([150, 100, 50, 0, 0, 50, 100, 150, 150, 100, 50, 0]);
    expect(filled('repeated')).toEqual([0, 50, 100, 150, 0, 50, 100, 150, 0, 50, 100, 150]);
    expect(filled('stretched')).toEqual([0, 0, 0, 0, 0, 50, 100, 150, 150, 150, 150, 150]);
  });
});

describe('blend modes', () => {
  // W3C Compositing and Blending, level 1: results for these two colours worked by hand
  it.each([
    ['add', [255, 150, 60]],
    ['multiply', [157, 20, 0]],
    ['screen', [243, 130, 60]],
    ['lighten', [200, 100, 60]],
    ['darken', [200, 50, 0]],
  ] as const)('%s', (blend, wanted) => {
    const out = draw(planOf(1, 1, [layer('a', 1, 1, { blend }), layer('b', 1, 1)]), {
      a: picture(1, 1, () => [200, 100, 0]),
      b: picture(1, 1, () => [200, 50, 60]),
    });
    pixel(out, 0, 0)
      .slice(0, 3)
      .forEach((v, i) => expect(Math.abs(v - wanted[i]!)).toBeLessThanOrEqual(1));
  });

  it('over nothing shows the layer as it is, and by half at half opacity', () => {
    const red = { a: picture(1, 1, () => [200, 0, 0]), b: picture(1, 1, () => [100, 100, 100]) };
    expect(pixel(draw(planOf(1, 1, [layer('a', 1, 1, { blend: 'multiply' })]), red), 0, 0)).toEqual([200, 0, 0, 255]);
    const half = draw(planOf(1, 1, [layer('a', 1, 1, { blend: 'multiply', opacity: 0.5 }), layer('b', 1, 1)]), red);
    expect(Math.abs(pixel(half, 0, 0)[0]! - (100 + 78) / 2)).toBeLessThanOrEqual(1);
    expect(Math.abs(pixel(half, 0, 0)[1]! - 50)).toBeLessThanOrEqual(1);
  });
});

describe('effects', () => {
  const grey = { a: picture(20, 4, (x) => (x < 10 ? [100, 100, 100] : [0, 0, 0])) };

  it('exposure lets in twice the light a stop', () => {
    const out = draw(planOf(20, 4, [layer('a', 20, 4, { effects: [{ kind: 'exposure', params: { stops: 1 } }] })]), grey);
    const wanted = 255 * toDisplay(2 * toLinear(100 / 255));
    expect(Math.abs(pixel(out, 3, 1)[0]! - wanted)).toBeLessThanOrEqual(1);
    expect(pixel(out, 15, 1)[0]).toBe(0);
  });

  it('directional blur smears along its direction only', () => {
    const blurred = (angle: number): Image =>
      draw(planOf(20, 4, [layer('a', 20, 4, { effects: [{ kind: 'directional blur', params: { lengthPx: 6, angle } }] })]), grey);
    expect(pixel(blurred(0), 9, 2)[0]).toBeLessThan(70);
    expect(pixel(blurred(0), 11, 2)[0]).toBeGreaterThan(10);
    expect(pixel(blurred(90), 9, 2)[0]).toBe(100);
  });

  it('of all beneath change what lies under it, as far as its matte lets them', () => {
    const points = [corner(-10, -9), corner(-5, -9), corner(-5, 9), corner(-10, 9)];
    const matte = {
      kind: 'outline',
      side: 'inside',
      combine: 'intersect',
      growPx: 0,
      featherPx: 0,
      points,
      matrix: IDENTITY,
      rides: false,
    } as const;
    const beneath: PlannedLayer = {
      ...plainPlanned({ kind: 'beneath' }, 20, 4, IDENTITY),
      effects: [{ kind: 'exposure', params: { stops: -10 } }],
      mattes: [matte],
    };
    const out = draw(planOf(20, 4, [beneath, layer('a', 20, 4)]), grey);
    expect(pixel(out, 2, 1)[0]).toBeLessThan(6);
    expect(pixel(out, 7, 1)[0]).toBe(100);
    expect(pixel(out, 2, 1)[3]).toBe(255);
  });

  it('as a finish work on the whole', () => {
    const finish = [{ kind: 'exposure', params: { stops: -10 } }] as const;
    expect(pixel(draw(planOf(20, 4, [layer('a', 20, 4)], { finish }), grey), 2, 1)[0]).toBeLessThan(5);
  });
});

describe('contents', () => {
  it('of one colour fill the film, and the background shows where nothing lies', () => {
    const red: PlannedLayer = plainPlanned({ kind: 'colour', colour: [200, 10, 20] }, 10, 6, compose(scaling(0.5), translation(-2.5, 0)));
    const out = draw(planOf(10, 6, [red], { background: [1, 2, 3] }), {});
    expect(pixel(out, 2, 3)).toEqual([200, 10, 20, 255]);
    expect(pixel(out, 8, 3)).toEqual([1, 2, 3, 255]);
  });

  it('between two pictures are both, by their share', () => {
    const content: Content = {
      ...shown('a', 2, 2),
      next: { picture: { mediumId: 'a', frame: 1, width: 2, height: 2 }, share: 0.25 },
    } as Content;
    const out = draw(planOf(2, 2, [plainPlanned(content, 2, 2, IDENTITY)]), {
      a0: picture(2, 2, () => [100, 0, 0]),
      a1: picture(2, 2, () => [200, 0, 0]),
    });
    expect(pixel(out, 0, 0)[0]).toBe(125);
  });

  it('shown far smaller are averaged, not skipped', () => {
    const lines = picture(64, 64, (x) => (x % 2 === 0 ? [255, 255, 255] : [0, 0, 0]));
    const out = draw(planOf(8, 8, [layer('a', 64, 64, { matrix: scaling(0.125) })]), { a: lines });
    expect(Math.abs(pixel(out, 4, 4)[0]! - 128)).toBeLessThan(6);
  });
});
