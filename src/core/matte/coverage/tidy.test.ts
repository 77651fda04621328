import { describe, expect, it } from 'vitest';
import { isUntidied, tidyCoverage, UNTIDIED } from './tidy';

const WIDTH = 60;
const HEIGHT = 40;

function coverage(covers: (x: number, y: number) => boolean | number): { width: number; height: number; data: Uint8Array } {
  const data = new Uint8Array(WIDTH * HEIGHT);
  for (let y = 0, i = 0; y < HEIGHT; y++) for (let x = 0; x < WIDTH; x++, i++) data[i] = 255 * Number(covers(x + 0.5, y + 0.5));
  return { width: WIDTH, height: HEIGHT, data };
}
const disc = (x: number, y: number, cx: number, cy: number, r: number): boolean => (x - cx) ** 2 + (y - cy) ** 2 < r * r;
const areaOf = (data: Uint8Array): number => data.reduce((sum, v) => sum + v, 0) / 255;

describe('tidying a matte', () => {
  const ragged = coverage((x, y) => (disc(x, y, 25, 20, 15) && !disc(x, y, 25, 20, 2.5)) || disc(x, y, 50, 8, 2));

  it('drops specks and leaves the rest as it is', () => {
    const { data } = tidyCoverage(ragged, { ...UNTIDIED, specksPx: 6 });
    expect(data[8 * WIDTH + 50]).toBe(0);
    expect(data[20 * WIDTH + 15]).toBe(255);
    expect(data[20 * WIDTH + 25]).toBe(0);
  });

  it('fills holes up to a size, never the outside', () => {
    expect(tidyCoverage(ragged, { ...UNTIDIED, holesPx: 3 }).data[20 * WIDTH + 25]).toBe(0);
    const { data } = tidyCoverage(ragged, { ...UNTIDIED, holesPx: 8 });
    expect(data[20 * WIDTH + 25]).toBe(255);
    expect(data[0]).toBe(0);
    expect(data[8 * WIDTH + 50]).toBe(255);
  });

  it('takes the soft rim of a speck along with it', () => {
    const soft = coverage((x, y) => Math.max(0, Math.min(1, 3 - Math.sqrt((x - 50) ** 2 + (y - 8) ** 2))));
    expect(areaOf(tidyCoverage(soft, { ...UNTIDIED, specksPx: 8 }).data)).toBe(0);
  });

  it('smooths ripples and keeps the place of a straight edge', () => {
    const rippled = coverage((x, y) => x < 30 + 2 * Math.sin(1.6 * y));
    const smooth = tidyCoverage(rippled, { ...UNTIDIED, smoothPx: 8 });
    const edges = Array.from({ length: 24 }, (_, k) => {
      let sum = 0;
      for (let x = 0; x < WIDTH; x++) sum += smooth.data[(k + 8) * WIDTH + x]! / 255;
      return sum;
    });
    for (const edge of edges) expect(Math.abs(edge - 30)).toBeLessThan(0.8);
    const straight = coverage((x) => x < 30);
    expect(areaOf(tidyCoverage(straight, { ...UNTIDIED, smoothPx: 6 }).data)).toBeCloseTo(areaOf(straight.data), 0);
  });

  it('asked for nothing says so', () => {
    expect(isUntidied(UNTIDIED)).toBe(true);
    expect(isUntidied({ ...UNTIDIED, holesPx: 1 })).toBe(false);
    expect([...tidyCoverage(ragged, UNTIDIED).data]).toEqual([...ragged.data]);
  });
});
