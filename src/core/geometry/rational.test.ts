import { expect, it } from 'vitest';
import { formatRational, parseRational, rational, toNumber } from './rational';

it('keeps film rates exact', () => {
  expect(parseRational('30000/1001')).toEqual({ numerator: 30000, denominator: 1001 });
  expect(toNumber(rational(24000, 1001))).toBeCloseTo(23.976, 3);
});

it('shortens fractions', () => {
  expect(formatRational(rational(50, 2))).toBe('25/1');
});

it.each(['0/0', '1/0', 'abc', '', '-24'])('finds no rate in %j', (text) => {
  expect(parseRational(text)).toBeNull();
});

it('refuses what is no positive fraction', () => {
  expect(() => rational(0, 1)).toThrow(RangeError);
  expect(() => rational(1.5, 1)).toThrow(RangeError);
});
