import { describe, expect, it } from 'vitest';
import { createImage, type Image } from '../image/pixels';
import { Melter } from './melt';
import { broughtTogether, warped, warpGrid } from './feature-warp';

const [WIDTH, HEIGHT] = [160, 96];

/** A bright disc with a dark spot beside its middle, on a ground with soft texture. */
function disc(x: number, y: number, r: number, tint: number): Image {
  const image = createImage(WIDTH, HEIGHT);
  for (let py = 0; py < HEIGHT; py++)
    for (let px = 0; px < WIDTH; px++) {
      const [u, v] = [px + 0.5 - x, py + 0.5 - y];
      const inside = Math.max(0, Math.min(1, r - Math.hypot(u, v) + 0.5));
      const spot = Math.max(0, Math.min(1, r / 4 - Math.hypot(u - r / 3, v) + 0.5));
      const ground = 60 + 20 * Math.sin(px / 6) * Math.cos(py / 7);
      const level = ground * (1 - inside) + inside * (210 - 150 * spot);
      image.data.set([level, level, Math.min(255, level + tint), 255], 4 * (py * WIDTH + px));
    }
  return image;
}
const ring = (x: number, y: number, r: number): { x: number; y: number }[] =>
  Array.from({ length: 24 }, (_, i) => ({
    x: x - WIDTH / 2 + r * Math.cos((i * Math.PI) / 12),
    y: y - HEIGHT / 2 + r * Math.sin((i * Math.PI) / 12),
  }));
/** The same within the disc of the middle and its rim: the ground around it is drawn about too. */
const apartInside = (a: Image, b: Image): number => {
  let [sum, count] = [0, 0];
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      if (Math.hypot(x + 0.5 - 75, y + 0.5 - 48) > 22) continue;
      sum += Math.abs(a.data[4 * (y * WIDTH + x)]! - b.data[4 * (y * WIDTH + x)]!);
      count++;
    }
  return sum / count;
};
const apart = (a: Image, b: Image): number => a.data.reduce((sum, v, i) => sum + Math.abs(v - b.data[i]!), 0) / a.data.length;
const film = { width: WIDTH, height: HEIGHT };
const [A, B] = [disc(50, 40, 16, 0), disc(100, 56, 24, 30)];
const places = [{ from: ring(50, 40, 16), to: ring(100, 56, 24), closed: true }];

describe('a warp by places', () => {
  it('takes what lies between them along, as a similarity does', () => {
    const [made] = broughtTogether([A, B], { places, borders: 'pinned' }, 1, film);
    const goal = disc(100, 56, 24, 0);
    let [sum, count] = [0, 0];
    for (let y = 36; y < 76; y++)
      for (let x = 80; x < 120; x++)
        if (Math.hypot(x - 100, y - 56) < 20) {
          sum += Math.abs(made.data[4 * (y * WIDTH + x)]! - goal.data[4 * (y * WIDTH + x)]!);
          count++;
        }
    expect(sum / count).toBeLessThan(3);
  });

  it('leaves pictures alone at its ends', () => {
    expect(broughtTogether([A, B], { places, borders: 'pinned' }, 0, film)[0]).toBe(A);
    expect(broughtTogether([A, B], { places, borders: 'sliding' }, 1, film)[1]).toBe(B);
  });

  it('holds pinned borders, and lets others slide along themselves only', () => {
    const goals = Float64Array.from(ring(60, 50, 20).flatMap((p) => [p.x + WIDTH / 2, p.y + HEIGHT / 2]));
    const from = Float64Array.from(ring(90, 40, 20).flatMap((p) => [p.x + WIDTH / 2, p.y + HEIGHT / 2]));
    const pinned = warpGrid(goals, from, WIDTH, HEIGHT, 'pinned');
    const sliding = warpGrid(goals, from, WIDTH, HEIGHT, 'sliding');
    for (let column = 0; column < pinned.columns; column++) {
      expect([pinned.dx[column], pinned.dy[column]].map((v) => Math.abs(v!))).toEqual([0, 0]);
      expect(Math.abs(sliding.dy[column]!)).toBe(0);
    }
    expect(Math.abs(sliding.dx[Math.floor(sliding.columns / 2)]!)).toBeGreaterThan(5);
  });

  it('changes nothing where places are where they are to be, on sides that the grid does not divide', () => {
    const image = createImage(101, 53);
    image.data.forEach((_, i) => (image.data[i] = (i * 37) % 251));
    const at = Float64Array.of(20, 20, 70, 30, 40, 40);
    expect(apart(warped(image, warpGrid(at, at, 101, 53, 'sliding')), image)).toBe(0);
  });
});

describe('a melt by lines', () => {
  it('shows one disc of the size between in the middle, where a fade shows two', () => {
    const pictures = broughtTogether([A, B], { places, borders: 'pinned' }, 0.5, film);
    const made = new Melter().melt([{ key: 'x', make: () => pictures }], 'fine', 0.5, 0.5);
    const goal = disc(75, 48, 20, 15);
    const fade = createImage(WIDTH, HEIGHT);
    fade.data.forEach((_, i) => (fade.data[i] = (A.data[i]! + B.data[i]!) / 2));
    expect(apartInside(made, goal)).toBeLessThan(0.15 * apartInside(fade, goal));
  });
});
