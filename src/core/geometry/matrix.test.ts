import { describe, expect, it } from 'vitest';
import { apply, compose, IDENTITY, invert, lengthScale, rotation, scaling, translation } from './matrix';

describe('compose', () => {
  it('does the first map first', () => {
    expect(apply(compose(scaling(2), translation(10, 0)), { x: 1, y: 1 })).toEqual({ x: 12, y: 2 });
    expect(apply(compose(translation(10, 0), scaling(2)), { x: 1, y: 1 })).toEqual({ x: 22, y: 2 });
  });

  it('turns clockwise on a screen whose y points down', () => {
    const turned = apply(rotation(90), { x: 1, y: 0 });
    expect(turned.x).toBeCloseTo(0, 12);
    expect(turned.y).toBeCloseTo(1, 12);
  });
});

describe('invert', () => {
  it('takes a map back', () => {
    const map = compose(compose(scaling(2, 3), rotation(33)), translation(7, -5));
    const back = compose(map, invert(map));
    back.forEach((v, i) => expect(v).toBeCloseTo(IDENTITY[i]!, 12));
  });

  it('refuses a map that squeezes the plane flat', () => {
    expect(() => invert(scaling(0, 1))).toThrow(RangeError);
  });
});

it('measures the growth of lengths', () => {
  expect(lengthScale(compose(scaling(3), rotation(20)))).toBeCloseTo(3, 12);
});
