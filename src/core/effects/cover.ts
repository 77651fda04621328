import { softBlur } from '../image/plane';
import { createPlane, type Image, type Plane } from '../image/pixels';

/** How far each pixel of a picture is covered, 0..1. */
export function coverOf({ width, height, data }: Image): Plane {
  const out = createPlane(width, height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = data[4 * i + 3]! / 255;
  return out;
}

/** A plane with its content moved by whole and half pixels; nothing comes in from beyond its border. */
export function shifted({ width, height, data }: Plane, dx: number, dy: number): Plane {
  const out = createPlane(width, height);
  const [x0, y0] = [Math.floor(dx), Math.floor(dy)];
  const [u, v] = [dx - x0, dy - y0];
  const at = (x: number, y: number): number => (x < 0 || y < 0 || x >= width || y >= height ? 0 : data[y * width + x]!);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [px, py] = [x - x0, y - y0];
      out.data[i] =
        (1 - u) * (1 - v) * at(px, py) + u * (1 - v) * at(px - 1, py) + (1 - u) * v * at(px, py - 1) + u * v * at(px - 1, py - 1);
    }
  return out;
}

/** Softens a plane over about `radius` pixels. */
export function softened(plane: Plane, radius: number): Plane {
  const whole = Math.round(radius / 2);
  if (whole > 0) softBlur(plane, whole, plane);
  return plane;
}

/** Lays `src`, premultiplied, over one colour that covers by `under`. */
export function overCover(src: Image, under: Plane, [r, g, b]: readonly [number, number, number], opacity: number, out: Image): void {
  for (let i = 0, o = 0; i < under.data.length; i++, o += 4) {
    const share = opacity * under.data[i]! * (1 - src.data[o + 3]! / 255);
    out.data[o] = src.data[o]! + share * r;
    out.data[o + 1] = src.data[o + 1]! + share * g;
    out.data[o + 2] = src.data[o + 2]! + share * b;
    out.data[o + 3] = src.data[o + 3]! + 255 * share;
  }
}
