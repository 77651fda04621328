import { describe, expect, it } from 'vitest';
import { beginCall, kernels, putFloats, putPlane, reserve, reserveZeros, takeFloats, takePlane } from './kernels';
import { createPlane } from '../image/plane';

describe('the memory of the kernels', () => {
  it('gives what was put there, on places of 16 bytes', () => {
    beginCall();
    const first = putFloats(Float32Array.of(1, 2, 3));
    const second = putFloats(Float32Array.of(4, 5));
    expect([first % 16, second % 16]).toEqual([0, 0]);
    const [a, b] = [new Float32Array(3), new Float32Array(2)];
    takeFloats(first, a);
    takeFloats(second, b);
    expect([...a, ...b]).toEqual([1, 2, 3, 4, 5]);
  });

  it('begins anew with every call', () => {
    beginCall();
    const first = reserve(10);
    beginCall();
    expect(reserve(10)).toBe(first);
  });

  it('grows for what is larger than it was, and keeps what was laid before', () => {
    beginCall();
    const kept = putFloats(Float32Array.of(7, 8));
    const large = reserveZeros(80 * 2 ** 20);
    const out = new Float32Array(2);
    takeFloats(kept, out);
    expect([...out]).toEqual([7, 8]);
    takeFloats(large, out);
    expect([...out]).toEqual([0, 0]);
    // and goes on working
    const plane = createPlane(5, 3);
    plane.data[7] = 9;
    beginCall();
    const pointer = putPlane(plane);
    kernels.boxBlur(pointer, 1, reserve(20));
    takePlane(pointer, plane);
    expect(plane.data[7]).toBeCloseTo(1, 5);
  });

  it('says so when there cannot be as much', () => {
    beginCall();
    expect(() => reserve(2 ** 30)).toThrow('too large to compute on it');
    expect(putFloats(Float32Array.of(1))).toBeGreaterThan(0);
  });
});
