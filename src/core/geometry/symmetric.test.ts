import { describe, expect, it } from 'vitest';
import { invertSymmetric } from './symmetric';

describe('invertSymmetric', () => {
  it('inverts a matrix worked by hand, where it is asked to write', () => {
    const out = new Float64Array(8).fill(9);
    expect(invertSymmetric(2, 1, 0, 2, 0, 4, out, 1)).toBe(12);
    const expected = [9, 2 / 3, -1 / 3, 0, 2 / 3, 0, 1 / 4, 9];
    out.forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, 12));
  });

  it('gives the identity when multiplied back', () => {
    const [xx, xy, xz, yy, yz, zz] = [5, 1, -2, 7, 0.5, 3] as const;
    const o = new Float64Array(6);
    invertSymmetric(xx, xy, xz, yy, yz, zz, o);
    const rows = [
      [xx, xy, xz],
      [xy, yy, yz],
      [xz, yz, zz],
    ];
    const inverse = [
      [o[0]!, o[1]!, o[2]!],
      [o[1]!, o[3]!, o[4]!],
      [o[2]!, o[4]!, o[5]!],
    ];
    for (let r = 0; r < 3; r++)
      for (let c = 0; c < 3; c++) expect(rows[r]!.reduce((sum, v, k) => sum + v * inverse[k]![c]!, 0)).toBeCloseTo(r === c ? 1 : 0, 12);
  });

  it('stays finite on a matrix without an inverse', () => {
    const out = new Float64Array(6);
    expect(invertSymmetric(1, 1, 0, 1, 0, 0, out)).toBe(1e-9);
    expect(out.every(Number.isFinite)).toBe(true);
  });
});
