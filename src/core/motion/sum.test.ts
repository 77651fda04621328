import { expect, it } from 'vitest';
import { evaluateSum } from './sum';

it.each([
  ['12', 12],
  ['1280/2', 640],
  [' 3 + 4 * 2 ', 11],
  ['-(2+.5)*4', -10],
  ['7-2-1', 4],
  ['24/1001*1000', (24 / 1001) * 1000],
])('%s is %d', (text, value) => {
  expect(evaluateSum(text)).toBeCloseTo(value, 12);
});

it.each(['', 'x', '3+', '(2', '1/0', '2 2', '1e5', 'alert(1)'])('%j is no sum', (text) => {
  expect(evaluateSum(text)).toBeNull();
});
