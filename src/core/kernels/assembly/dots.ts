/**
 * Every one of `m` vectors at `b` against every one of `n` at `a`: `out` gets n numbers for each of b. `length` numbers each, a
 * multiple of eight.
 */
export function dotTable(a: usize, n: i32, b: usize, m: i32, length: i32, out: usize): void {
  const bytes = (<usize>length) << 2;
  for (let j = 0, q = b; j < m; j++, q += bytes) {
    for (let i = 0, p = a; i < n; i++, p += bytes, out += 4) {
      let sum = f32x4.splat(0);
      let other = f32x4.splat(0);
      for (let k: usize = 0; k < bytes; k += 32) {
        sum = f32x4.add(sum, f32x4.mul(v128.load(p + k), v128.load(q + k)));
        other = f32x4.add(other, f32x4.mul(v128.load(p + k, 16), v128.load(q + k, 16)));
      }
      sum = f32x4.add(sum, other);
      const all = f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1) + (f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3));
      store<f32>(out, all);
    }
  }
}
