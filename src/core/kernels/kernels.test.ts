import { describe, expect, it } from 'vitest';
import { beginCall, kernels, putFloats, reserve, reserveZeros, takeFloats } from './kernels';
import { putEmptyPlane, putPlane, takePlane } from '../image/plane-memory';
import { putField, type FlowField } from '../flow/field';
import { emptyField, flowAt } from '../flow/flow-field';
import { createPlane, type Plane } from '../image/pixels';
import { sampleBilinear } from '../image/plane';

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

/** A motion and a picture that look random and are the same every time. */
function known(width: number, height: number): { readonly back: FlowField; readonly plane: Plane } {
  const back = emptyField({ left: -1, top: 1, right: width / 4 + 1, bottom: height / 4 }, 4);
  for (let i = 0; i < back.u.length; i++) {
    back.u[i] = 3 * Math.sin(1.7 * i);
    back.v[i] = 4 * Math.cos(2.3 * i);
  }
  const plane = createPlane(width, height);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = 0.5 + 0.5 * Math.sin(0.37 * i * i);
  return { back, plane };
}

describe('pictures under a motion', () => {
  const [W, H] = [36, 28];
  const { back, plane } = known(W, H);
  const at = new Float64Array(2);

  it('are carried as looking up every pixel has it, in a part of the picture', () => {
    const out = createPlane(20, 15);
    beginCall();
    const moved = putEmptyPlane(out);
    kernels.carryPlane(putField(back), putPlane(plane), 9, 7, moved);
    takePlane(moved, out);
    for (let y = 0; y < 15; y++) {
      for (let x = 0; x < 20; x++) {
        flowAt(back, x + 9.5, y + 7.5, at);
        expect(out.data[20 * y + x]).toBeCloseTo(sampleBilinear(plane, x + 9.5 + at[0]!, y + 7.5 + at[1]!), 4);
      }
    }
  });

  it('are warped at half size with what covers them at the full one; covered less than half weighs nothing', () => {
    const luma = createPlane(W / 2, H / 2);
    for (let i = 0; i < luma.data.length; i++) luma.data[i] = (13 * i) % 200;
    const [warped, weight] = [createPlane(10, 8), createPlane(10, 8)];
    beginCall();
    const [warping, weighing] = [putEmptyPlane(warped), putEmptyPlane(weight)];
    kernels.warp(putField(back), putPlane(luma), putPlane(plane), 1.25, 2, 3, 2, warping, weighing);
    takePlane(warping, warped);
    takePlane(weighing, weight);
    for (let y = 0; y < 8; y++) {
      for (let x = 0; x < 10; x++) {
        const [px, py] = [2 * (x + 3.5), 2 * (y + 2.5)];
        flowAt(back, px, py, at);
        const [qx, qy] = [px + at[0]!, py + at[1]!];
        expect(warped.data[10 * y + x]).toBeCloseTo(1.25 * sampleBilinear(luma, qx / 2, qy / 2), 2);
        expect(weight.data[10 * y + x]).toBeCloseTo(Math.max(0, 2 * sampleBilinear(plane, qx, qy) - 1), 4);
      }
    }
  });
});
