import { describe, expect, it } from 'vitest';
import { beginCall, kernels, putDoubles } from '../kernels/kernels';
import { putField, takeField, type FlowField } from './field';
import { chainFields, emptyField, fieldOf, fillField, flowAlongRow, flowAt, invertField, sharedMotion } from './flow-field';

const REGION = { left: 3, top: 2, right: 23, bottom: 17 };
const MOTION = Float64Array.of(0.04, -0.03, 5, 0.02, 0.05, -7);

/** Cells that move by the affine motion, all trusted. */
function affine(): FlowField {
  const field = fieldOf(MOTION, emptyField(REGION, 4));
  field.trust.fill(1);
  return field;
}

const at = (field: FlowField, x: number, y: number): [number, number] => {
  const out = new Float64Array(2);
  flowAt(field, x, y, out);
  return [out[0]!, out[1]!];
};

describe('a field of motion', () => {
  it('is what it was made from, between its cells too', () => {
    const [u, v] = at(affine(), 40, 30);
    expect(u).toBeCloseTo(0.04 * 40 - 0.03 * 30 + 5, 4);
    expect(v).toBeCloseTo(0.02 * 40 + 0.05 * 30 - 7, 4);
  });

  it('says the same along a row as place by place, also beyond its cells', () => {
    const field = affine();
    const [u, v] = [new Float32Array(120), new Float32Array(120)];
    for (const row of [0, 11, 40, 90]) {
      flowAlongRow(field, 0, row, u, v);
      for (const x of [0, 13, 47, 119]) {
        const [eu, ev] = at(field, x + 0.5, row + 0.5);
        expect(u[x]).toBeCloseTo(eu, 4);
        expect(v[x]).toBeCloseTo(ev, 4);
      }
    }
  });

  it('leads a place back to its origin', () => {
    const field = affine();
    const [u, v] = at(field, 40, 30);
    const back = invertField(field, { left: 30, top: 20, right: 60, bottom: 50 });
    const [bu, bv] = at(back, 40 + u, 30 + v);
    expect(bu).toBeCloseTo(-u, 1);
    expect(bv).toBeCloseTo(-v, 1);
  });

  it('leads back after a long way and half a right angle of turning', () => {
    const [sine, cosine] = [Math.sin(0.8), Math.cos(0.8)];
    const motion = Float64Array.of(cosine - 1, -sine, 90, sine, cosine - 1, -60);
    const field = fieldOf(motion, emptyField({ left: 0, top: 0, right: 100, bottom: 100 }, 2));
    const [u, v] = at(field, 110, 90);
    const back = invertField(field, { left: 0, top: 0, right: 300, bottom: 200 });
    const [bu, bv] = at(back, 110 + u, 90 + v);
    expect(bu).toBeCloseTo(-u, 1);
    expect(bv).toBeCloseTo(-v, 1);
  });

  it('does one motion after the other', () => {
    const shift = fieldOf(Float64Array.of(0, 0, 2, 0, 0, -3), emptyField({ left: 0, top: 0, right: 40, bottom: 40 }, 4));
    const [u, v] = at(chainFields(affine(), shift), 40, 30);
    const [u0, v0] = at(affine(), 40, 30);
    expect([u - u0, v - v0].map((d) => Math.round(1000 * d))).toEqual([2000, -3000]);
  });
});

describe('the motion that cells share', () => {
  it('is found where all move alike, turn and growth held back a little', () => {
    const field = affine();
    const found = fieldOf(sharedMotion(field), field);
    const middle = 7 * field.width + 10;
    expect(found.u[middle]).toBeCloseTo(field.u[middle]!, 1);
    expect(found.v[middle]).toBeCloseTo(field.v[middle]!, 1);
    for (let i = 0; i < found.u.length; i++) {
      expect(Math.abs(found.u[i]! - field.u[i]!)).toBeLessThan(0.4);
      expect(Math.abs(found.v[i]! - field.v[i]!)).toBeLessThan(0.4);
    }
  });

  it('is not led astray by a part that moves otherwise', () => {
    const field = affine();
    for (let i = 0; i < field.u.length; i++) if (i % field.width > 14) field.u[i]! += 30;
    const [a, b, c] = sharedMotion(field);
    expect(a! * 30 + b! * 30 + c!).toBeCloseTo(0.04 * 30 - 0.03 * 30 + 5, 0);
  });

  it('goes on where nothing is known', () => {
    const field = affine();
    for (let i = 0; i < field.u.length; i++)
      if (i % field.width > 9) {
        field.trust[i] = 0;
        field.u[i] = field.v[i] = 0;
      }
    fillField(field, MOTION);
    const [u] = at(field, 84, 40);
    expect(u).toBeCloseTo(0.04 * 84 - 0.03 * 40 + 5, 1);
  });

  it('takes trust from what moves otherwise, half of it at the given distance', () => {
    const field = affine();
    field.u[7]! += 2;
    field.v[8]! += 40;
    beginCall();
    const inside = putField(field);
    kernels.doubtUnexpected(inside, putDoubles(MOTION), 2);
    takeField(inside, field);
    expect(field.trust[6]).toBeCloseTo(1, 5);
    expect(field.trust[7]).toBeCloseTo(0.5, 3);
    expect(field.trust[8]).toBeLessThan(0.001);
  });
});
