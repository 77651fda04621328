import { describe, expect, it } from 'vitest';
import { SideColours } from './side-colours';

const COUNT = 400;
/** `COUNT` colours about `mean`, by `spread` each way, in a fixed order. */
const colours = (mean: readonly number[], spread: number, phase: number): number[] =>
  Array.from({ length: 3 * COUNT }, (_, i) => mean[i % 3]! + spread * Math.sin(phase + 1.7 * i + 0.31 * ((i * i) % 97)));
const [insides, outsides] = [Array.from({ length: COUNT }, (_, i) => i), Array.from({ length: COUNT }, (_, i) => COUNT + i)];
const sidesOf = (a: readonly number[], b: readonly number[], spread: number): { features: Float32Array; sides: SideColours } => {
  const features = Float32Array.from([...colours(a, spread, 0), ...colours(b, spread, 2)]);
  return { features, sides: SideColours.learn(features, insides, outsides)! };
};

describe('SideColours', () => {
  it('speaks for the side a colour is like, up to the most it may', () => {
    const { sides } = sidesOf([200, 40, 10], [60, -20, 30], 12);
    const asked = Float32Array.from([200, 40, 10, 60, -20, 30, 200, 40, 10]);
    const [inside, outside, unasked] = sides.ratios(asked, Uint8Array.of(1, 1, 0), 4);
    expect(inside).toBe(4);
    expect(outside).toBe(-4);
    expect(unasked).toBe(0);
  });

  it('is trusted where it tells the sides apart, and not where both look alike', () => {
    const apart = sidesOf([200, 40, 10], [60, -20, 30], 12);
    expect(apart.sides.trust(apart.features, insides, outsides)).toBeGreaterThan(0.99);
    const alike = sidesOf([120, 5, 5], [120, 5, 5], 30);
    expect(alike.sides.trust(alike.features, insides, outsides)).toBeLessThan(0.3);
    const close = sidesOf([120, 5, 5], [140, 5, 5], 20);
    const between = close.sides.trust(close.features, insides, outsides);
    expect(between).toBeGreaterThan(alike.sides.trust(alike.features, insides, outsides));
    expect(between).toBeLessThan(0.99);
  });

  it('has nothing to learn from a side of hardly any pixels, and is trusted where one has none to tell', () => {
    const { features, sides } = sidesOf([200, 40, 10], [60, -20, 30], 12);
    expect(SideColours.learn(features, [0, 1], outsides)).toBeNull();
    expect(sides.trust(features, [], outsides)).toBe(1);
  });
});
