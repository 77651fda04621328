/** The four bytes at `pixel` as floats. */
export function colourAt(pixel: usize): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(pixel))));
}

/**
 * Scales RGBA bytes by averaging for every target pixel the area of the source that it covers. `columns` and `rows` have the
 * first source column or row of each target one, `columnWeights` and `rowWeights` the weights (floats) of as many from there as
 * `columnCount` and `rowCount` say; behind the last source one they are 0. `scratch` holds eight numbers a target column.
 */
export function averagePicture(
  from: usize,
  width: i32,
  columns: usize,
  columnWeights: usize,
  columnCount: i32,
  rows: usize,
  rowWeights: usize,
  rowCount: i32,
  out: usize,
  outWidth: i32,
  outHeight: i32,
  scratch: usize,
): void {
  const line = scratch;
  const sums = line + ((<usize>outWidth) << 4);
  let lineOf = -1;
  for (let y = 0; y < outHeight; y++) {
    memory.fill(sums, 0, (<usize>outWidth) << 4);
    for (let k = 0; k < rowCount; k++) {
      const weight = load<f32>(rowWeights + ((<usize>(y * rowCount + k)) << 2));
      if (weight == 0) continue;
      const row = load<i32>(rows + ((<usize>y) << 2)) + k;
      // a row on the border of two targets serves twice
      if (row != lineOf) averageRow(from + ((<usize>(row * width)) << 2), columns, columnWeights, columnCount, line, outWidth);
      lineOf = row;
      const share = f32x4.splat(weight);
      for (let x = 0, o: usize = 0; x < outWidth; x++, o += 16) {
        v128.store(sums + o, f32x4.add(v128.load(sums + o), f32x4.mul(share, v128.load(line + o))));
      }
    }
    for (let x = 0, o: usize = 0; x < outWidth; x++, o += 16) {
      const whole = i32x4.trunc_sat_f32x4_s(f32x4.nearest(v128.load(sums + o)));
      const narrow = i16x8.narrow_i32x4_s(whole, whole);
      v128.store32_lane(out + ((<usize>(y * outWidth + x)) << 2), i8x16.narrow_i16x8_u(narrow, narrow), 0);
    }
  }
}

function averageRow(row: usize, columns: usize, weights: usize, count: i32, line: usize, outWidth: i32): void {
  for (let x = 0, w: usize = weights; x < outWidth; x++) {
    let sum = f32x4.splat(0);
    let pixel = row + ((<usize>load<i32>(columns + ((<usize>x) << 2))) << 2);
    for (let k = 0; k < count; k++, pixel += 4, w += 4) {
      const weight = load<f32>(w);
      if (weight != 0) sum = f32x4.add(sum, f32x4.mul(f32x4.splat(weight), colourAt(pixel)));
    }
    v128.store(line + ((<usize>x) << 4), sum);
  }
}
