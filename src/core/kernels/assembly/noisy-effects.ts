import { keepPixel } from './effects';
import { at, put } from './numbers';

// Effects with noise in them; pictures as in `effects`.

function byteOf(value: f32): u8 {
  return <u8>(max<f32>(0, min<f32>(255, value)) + 0.5);
}

/** A number 0..1 for a place of a lattice, the same on every run. */
function latticeNoise(x: i32, y: i32, seed: i32): f64 {
  let h = x * 374761393 + y * 668265263 + seed * 974634777;
  h = (h ^ (<i32>((<u32>h) >> 13))) * 1274126177;
  return <f64>(<u32>(h ^ (<i32>((<u32>h) >> 16)))) / 4294967296.0;
}

function eased(t: f64): f64 {
  return t * t * t * (t * (6 * t - 15) + 10);
}

/** Smooth noise 0..1 over a plane. */
function planeNoise(x: f64, y: f64, seed: i32): f64 {
  const cx = <i32>Math.floor(x);
  const cy = <i32>Math.floor(y);
  const u = eased(x - <f64>cx);
  const v = eased(y - <f64>cy);
  const upper = latticeNoise(cx, cy, seed) * (1 - u) + latticeNoise(cx + 1, cy, seed) * u;
  const lower = latticeNoise(cx, cy + 1, seed) * (1 - u) + latticeNoise(cx + 1, cy + 1, seed) * u;
  return upper * (1 - v) + lower * v;
}

/** Frays the edge, `signed` distances (floats) inside of it, up to `depth` deep, with noise `size` pixels large. */
export function frayed(picture: usize, signed: usize, width: i32, height: i32, depth: f64, size: f64, seed: i32, out: usize): void {
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const d = <f64>at(signed, i);
      let keeps: f64 = 1;
      if (depth > 0 && d < depth + 1) {
        keeps = 0;
        if (d > -0.5) {
          const u = <f64>x / size;
          const v = <f64>y / size;
          const grain = 0.65 * planeNoise(u, v, seed) + 0.35 * planeNoise(2.7 * u, 2.7 * v, seed + 1);
          keeps = d - depth * grain + 0.5;
        }
      }
      keepPixel(picture + ((<usize>i) << 2), <f32>keeps, out + ((<usize>i) << 2));
    }
  }
}

/** Brightness of straight colours as floats, 0..255. */
export function brightness(picture: usize, n: i32, out: usize): void {
  for (let i = 0; i < n; i++) {
    const pixel = picture + ((<usize>i) << 2);
    const alpha = <f32>max<u8>(1, load<u8>(pixel, 3));
    const sum: f32 = <f32>0.299 * <f32>load<u8>(pixel) + <f32>0.587 * <f32>load<u8>(pixel, 1) + <f32>0.114 * <f32>load<u8>(pixel, 2);
    put(out, i, (255 / alpha) * sum);
  }
}

/**
 * A picture drawn in ink on paper by `amount`: lines where `soft`, its softened brightness, rises by `gx` and `gy` a pixel, slanted strokes where it is
 * dark. `grain` is the length that noise is counted in, `line` how much a rise counts.
 */
export function sketched(
  picture: usize,
  soft: usize,
  gx: usize,
  gy: usize,
  width: i32,
  height: i32,
  amount: f32,
  line: f64,
  strength: f64,
  hatch: f64,
  grain: f64,
  seed: i32,
  paper: usize,
  ink: usize,
  out: usize,
): void {
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const pixel = picture + ((<usize>i) << 2);
      const fx = <f64>x / grain;
      const fy = <f64>y / grain;
      const rise = Math.sqrt(<f64>at(gx, i) * <f64>at(gx, i) + <f64>at(gy, i) * <f64>at(gy, i)) * line;
      const uneven = 0.7 + 0.6 * planeNoise(fx / 7, fy / 7, seed);
      let drawn = max<f64>(0, min<f64>(1, (rise * strength * uneven - 6) / 14));
      const dark = max<f64>(0, 1 - <f64>at(soft, i) / 110);
      if (dark > 0) {
        // slanted strokes, the denser the darker
        const stroke = 0.5 + 0.5 * <f64>Mathf.sin(<f32>((fx + fy) / 2.2 + 3 * planeNoise(fx / 30, fy / 30, seed + 1)));
        drawn = max<f64>(drawn, hatch * dark * max<f64>(0, min<f64>(1, 1.6 * stroke - 0.8 + dark)));
      }
      const alpha = <f32>load<u8>(pixel, 3) / 255;
      for (let c = 0; c < 3; c++) {
        const wanted = alpha * (at(paper, c) + <f32>drawn * (at(ink, c) - at(paper, c)));
        const from = <f32>load<u8>(pixel + <usize>c);
        store<u8>(out + ((<usize>i) << 2) + <usize>c, byteOf(from + amount * (wanted - from)));
      }
      store<u8>(out + ((<usize>i) << 2), load<u8>(pixel, 3), 3);
    }
  }
}
