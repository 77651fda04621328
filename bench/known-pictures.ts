import { createImage, type Image } from '../src/core/image/pixels';

function lattice(x: number, y: number, seed: number): number {
  let h = (Math.imul(x, 374761393) + Math.imul(y, 668265263) + Math.imul(seed, 974634777)) | 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

function smoothNoise(x: number, y: number, seed: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const [sx, sy] = [fx * fx * (3 - 2 * fx), fy * fy * (3 - 2 * fy)];
  const upper = lattice(x0, y0, seed) * (1 - sx) + lattice(x0 + 1, y0, seed) * sx;
  const lower = lattice(x0, y0 + 1, seed) * (1 - sx) + lattice(x0 + 1, y0 + 1, seed) * sx;
  return upper * (1 - sy) + lower * sy;
}

/** Brightness falls with the frequency as it does in photographs: noise at every size, each half as strong as the one twice its size. */
function cloud(x: number, y: number, seed: number): number {
  let sum = 0;
  for (let k = 0, size = 64, weight = 0.5; size >= 2; k++, size /= 2, weight *= 0.62)
    sum += weight * (smoothNoise(x / size, y / size, seed + k) - 0.5);
  return sum;
}

/** A picture with the statistics of a photograph and patches of distinct colour; `hue` 0..1 leans its colours. */
export function photoLike(width: number, height: number, seed: number, hue: number): Image {
  const image = createImage(width, height);
  const [r, g, b] = [0, 1 / 3, 2 / 3].map((p) => 0.75 + 0.35 * Math.cos(2 * Math.PI * (hue - p))) as [number, number, number];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const shade = 110 * cloud(x, y, seed);
      // things with edges, light and dark, besides what only shades
      const thing = cloud(x * 1.6, y * 1.6, seed + 90);
      const edge = 55 * Math.max(-1, Math.min(1, 14 * thing)) + 18 * Math.max(-1, Math.min(1, 20 * cloud(4 * x, 4 * y, seed + 130)));
      const tint = 70 * cloud(x / 1.7, y / 1.7, seed + 50);
      const light = 112 + shade + edge;
      image.data[i] = light * r + tint;
      image.data[i + 1] = light * g - 0.4 * tint;
      image.data[i + 2] = light * b - 0.7 * tint;
      image.data[i + 3] = 255;
    }
  }
  return image;
}
