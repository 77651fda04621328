import type { Plane } from '../../image/pixels';
import { alongStroke } from './stroke-raster';
import type { Touch } from './strokes';

/** Lays touches on coverage 0..1, in their order; edges are one pixel soft. Pixels of the plane. */
export function paintTouches(alpha: Plane, touches: readonly Touch[]): void {
  for (const touch of touches) paintTouch(alpha, touch);
}

function paintTouch({ width, height, data }: Plane, { radius, points, covers }: Touch): void {
  const reach = Math.max(0.5, radius) + 0.5;
  alongStroke(points, reach, width, height, (i, squaredDistance) => {
    const paint = Math.min(1, reach - Math.sqrt(squaredDistance));
    // overlapping pieces of one touch must not add up at its soft edge
    data[i] = covers ? Math.max(data[i]!, paint) : Math.min(data[i]!, 1 - paint);
  });
}
