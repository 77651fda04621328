import type { Plane } from '../image/plane';
import type { Touch } from './strokes';

/** Lays touches on coverage 0..1, in their order; edges are one pixel soft. Pixels of the plane. */
export function paintTouches(alpha: Plane, touches: readonly Touch[]): void {
  for (const touch of touches) paintTouch(alpha, touch);
}

function paintTouch({ width, height, data }: Plane, { radius, points, covers }: Touch): void {
  const reach = Math.max(0.5, radius) + 0.5;
  for (let k = 0; k < points.length; k++) {
    const [x0, y0] = points[Math.max(0, k - 1)]!;
    const [x1, y1] = points[k]!;
    const dx = x1 - x0;
    const dy = y1 - y0;
    const length = dx * dx + dy * dy;
    const bottom = Math.min(height - 1, Math.ceil(Math.max(y0, y1) + reach));
    const right = Math.min(width - 1, Math.ceil(Math.max(x0, x1) + reach));
    for (let y = Math.max(0, Math.floor(Math.min(y0, y1) - reach)); y <= bottom; y++)
      for (let x = Math.max(0, Math.floor(Math.min(x0, x1) - reach)); x <= right; x++) {
        const px = x + 0.5 - x0;
        const py = y + 0.5 - y0;
        const t = length === 0 ? 0 : Math.max(0, Math.min(1, (px * dx + py * dy) / length));
        const ex = px - t * dx;
        const ey = py - t * dy;
        const paint = Math.max(0, Math.min(1, reach - Math.sqrt(ex * ex + ey * ey)));
        const i = y * width + x;
        // overlapping segments of one touch must not add up at its soft edge
        if (covers) data[i] = Math.max(data[i]!, paint);
        else data[i] = Math.min(data[i]!, 1 - paint);
      }
  }
}
