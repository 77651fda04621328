import { createImage, type Image } from '../src/core/image/pixels';
import { photoLike } from './known-pictures';

export const [HAIR_WIDTH, HAIR_HEIGHT] = [220, 160];
/** The disc that the hairs stand on. */
export const HEAD = { x: 110, y: 95, radius: 34 };
const HAIRS = 60;
/** Samples a pixel each way. */
const FINE = 4;

/** Coverage 0..1 of a disc with bent hairs of about a pixel's width around its upper half, moved by `dx` pixels; the hairs sway by `sway` radians. */
export function hairyCoverage(dx = 0, sway = 0): Float32Array {
  const alpha = new Float32Array(HAIR_WIDTH * HAIR_HEIGHT);
  const [columns, rows] = [FINE * HAIR_WIDTH, FINE * HAIR_HEIGHT];
  const x0 = HEAD.x + dx;
  const add = (u: number, v: number): void => {
    const o = Math.floor(v / FINE) * HAIR_WIDTH + Math.floor(u / FINE);
    alpha[o] = Math.min(1, alpha[o]! + 1 / FINE ** 2);
  };
  for (let v = 0; v < rows; v++)
    for (let u = 0; u < columns; u++) if (Math.hypot((u + 0.5) / FINE - x0, (v + 0.5) / FINE - HEAD.y) < HEAD.radius) add(u, v);
  for (let k = 0; k < HAIRS; k++) {
    const angle = Math.PI + (Math.PI * (k + 0.5)) / HAIRS + 0.15 * Math.sin(7 * k);
    const length = 18 + 9 * Math.sin(3 * k);
    const strand = new Set<number>();
    for (let t = 0; t <= 1; t += 0.004) {
      const at = angle + 0.5 * t * t * Math.sin(k) + sway * t * Math.cos(5 * k);
      const reach = HEAD.radius - 2 + length * t;
      const [u, v] = [Math.round(FINE * (x0 + reach * Math.cos(at))), Math.round(FINE * (HEAD.y + reach * Math.sin(at)))];
      for (let q = -2; q <= 2; q++) for (let p = -2; p <= 2; p++) if (p * p + q * q <= 4) strand.add((v + q) * columns + u + p);
    }
    for (const place of strand) add(place % columns, Math.floor(place / columns));
  }
  return alpha;
}

/** A dark brown subject of this coverage before a photograph-like background, mixed as a camera mixes them. */
export function hairyPicture(alpha: Float32Array): Image {
  const image = createImage(HAIR_WIDTH, HAIR_HEIGHT);
  const behind = photoLike(HAIR_WIDTH, HAIR_HEIGHT, 40, 0.1);
  for (let i = 0; i < alpha.length; i++)
    for (let c = 0; c < 4; c++) {
      const own = [62, 44, 30][c]! + 5 * Math.sin(i * 0.7 + c);
      const light = Math.min(255, 90 + 0.6 * behind.data[4 * i + c]!);
      image.data[4 * i + c] = c === 3 ? 255 : alpha[i]! * own + (1 - alpha[i]!) * light + 2 * Math.sin(3.1 * i);
    }
  return image;
}
