import { describe, expect, it } from 'vitest';
import { createPlane, type Plane } from '../image/pixels';
import { chainFields, flowAt, invertField } from './flow-field';
import { matchLayer, prepareMatch } from './match-layer';

/** Smooth texture that is the same function at every place, so that a shifted picture is known exactly. */
const texture = (x: number, y: number): number =>
  128 +
  40 * Math.sin(0.31 * x + 0.11 * y) +
  30 * Math.sin(0.17 * y - 0.23 * x + 1) +
  25 * Math.sin(0.5 * y + 0.06 * x) +
  15 * Math.sin(0.9 * x + 0.4 * y);
const other = (x: number, y: number): number =>
  100 + 45 * Math.sin(0.43 * x - 0.2 * y) + 35 * Math.sin(0.21 * x + 0.37 * y) + 20 * Math.sin(0.8 * y);

function drawn(width: number, height: number, at: (x: number, y: number) => number): Plane {
  const plane = createPlane(width, height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) plane.data[i] = at(x + 0.5, y + 0.5);
  return plane;
}

const [W, H] = [160, 120];
const everywhere = drawn(W, H, () => 1);
const at = new Float64Array(2);

describe('matchLayer', () => {
  it('stands still on two equal pictures', () => {
    const picture = prepareMatch(drawn(W, H, texture));
    const field = matchLayer(picture, everywhere, picture, { finest: 0 });
    expect(Math.max(...field.u.map(Math.abs), ...field.v.map(Math.abs))).toBeLessThan(1e-3);
  });

  it('finds a shift of several pixels to a tenth of one', () => {
    const field = matchLayer(
      prepareMatch(drawn(W, H, texture)),
      everywhere,
      prepareMatch(drawn(W, H, (x, y) => texture(x - 4.3, y + 2.6))),
      { finest: 0 },
    );
    for (const [x, y] of [
      [40, 40],
      [80, 60],
      [110, 80],
    ] as const) {
      flowAt(field, x, y, at);
      expect(at[0]).toBeCloseTo(4.3, 1);
      expect(at[1]).toBeCloseTo(-2.6, 1);
    }
  });

  it('does not mind the light getting brighter', () => {
    const field = matchLayer(prepareMatch(drawn(W, H, texture)), everywhere, prepareMatch(drawn(W, H, (x, y) => texture(x - 3, y) + 30)), {
      finest: 0,
    });
    flowAt(field, 80, 60, at);
    expect(at[0]).toBeCloseTo(3, 1);
  });

  it('follows a layer without being drawn along by what moves behind it', () => {
    const inside = (x: number, y: number, dx: number): boolean => (x - dx - 70) ** 2 + (y - 60) ** 2 < 30 ** 2;
    const before = drawn(W, H, (x, y) => (inside(x, y, 0) ? texture(x, y) : other(x, y)));
    const after = drawn(W, H, (x, y) => (inside(x, y, 8) ? texture(x - 8, y) : other(x + 5, y)));
    const weights = drawn(W, H, (x, y) => (inside(x, y, 0) ? 1 : 0));
    const field = matchLayer(prepareMatch(before), weights, prepareMatch(after), { finest: 0 });
    // also right at its edge, where half of every patch is background
    for (const [x, y] of [
      [70, 60],
      [70, 31],
      [70, 89],
      [42, 60],
      [98, 60],
    ] as const) {
      flowAt(field, x, y, at);
      expect(Math.abs(at[0]! - 8)).toBeLessThan(0.5);
      expect(Math.abs(at[1]!)).toBeLessThan(0.5);
    }
  });
});

describe('a flow field', () => {
  const field = matchLayer(prepareMatch(drawn(W, H, texture)), everywhere, prepareMatch(drawn(W, H, (x, y) => texture(x - 6, y - 2))), {
    finest: 1,
  });

  it('leads back to the earlier place', () => {
    const back = invertField(field, { left: 40, top: 40, right: 120, bottom: 80 });
    flowAt(back, 86, 62, at);
    expect(at[0]).toBeCloseTo(-6, 1);
    expect(at[1]).toBeCloseTo(-2, 1);
  });

  it('adds up with the one after it', () => {
    flowAt(chainFields(field, field), 70, 55, at);
    expect(at[0]).toBeCloseTo(12, 1);
    expect(at[1]).toBeCloseTo(4, 1);
  });
});
