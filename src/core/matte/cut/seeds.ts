import { createPlane, type Plane } from '../../image/pixels';
import { alongStroke } from './stroke-raster';
import { placeStrokes, turnsOf, type Stroke, type Strokes } from './strokes';

/** What a pixel under a stroke is. */
export const KEEP = 1;
export const DROP = 2;
/** A stroke on a small copy is at least so wide, in its pixels each way. */
const LEAST_RADIUS = 0.6;

/** `KEEP` under keep strokes, `DROP` under drop strokes and beyond the box, else 0; later turns lie on top, and drop strokes on keep strokes of their turn. */
export function paintSeeds(strokes: Strokes, width: number, height: number, scale: number): Uint8Array {
  const seeds = new Uint8Array(width * height);
  const paint = ({ points, radius }: Stroke, value: number): void =>
    alongStroke(points, Math.max(LEAST_RADIUS, radius), width, height, (i) => (seeds[i] = value));
  const placed = placeStrokes(strokes, scale, 0, 0);
  if (placed.box !== undefined) {
    const [left, top, across, down] = placed.box;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++)
        if (x + 0.5 < left || y + 0.5 < top || x + 0.5 > left + across || y + 0.5 > top + down) seeds[i] = DROP;
  }
  for (const { keep, drop } of turnsOf(placed)) {
    for (const stroke of keep) paint(stroke, KEEP);
    for (const stroke of drop) paint(stroke, DROP);
  }
  return seeds;
}

/** 1 under hair strokes, where no other stroke says what a pixel is. */
export function paintHair(hair: readonly Stroke[], seeds: Uint8Array, width: number, height: number): Plane {
  const under = createPlane(width, height);
  for (const { points, radius } of hair)
    alongStroke(points, Math.max(LEAST_RADIUS, radius), width, height, (i) => {
      if (seeds[i] === 0) under.data[i] = 1;
    });
  return under;
}
