const LEAST = 1e-9;

/**
 * Inverse of the symmetric matrix [xx xy xz; xy yy yz; xz yz zz], written to `out` from `at` on in the order xx, xy, xz, yy, yz, zz.
 * For matrices that are positive definite, such as covariances with something added to their diagonal; a determinant below 1e-9 counts as that.
 * @returns the determinant
 */
export function invertSymmetric(xx: number, xy: number, xz: number, yy: number, yz: number, zz: number, out: Float64Array, at = 0): number {
  const cx = yy * zz - yz * yz;
  const cy = xz * yz - xy * zz;
  const cz = xy * yz - xz * yy;
  const determinant = Math.max(LEAST, xx * cx + xy * cy + xz * cz);
  out[at] = cx / determinant;
  out[at + 1] = cy / determinant;
  out[at + 2] = cz / determinant;
  out[at + 3] = (xx * zz - xz * xz) / determinant;
  out[at + 4] = (xy * xz - xx * yz) / determinant;
  out[at + 5] = (xx * yy - xy * xy) / determinant;
  return determinant;
}
