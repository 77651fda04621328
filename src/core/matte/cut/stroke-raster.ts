import type { Stroke } from './strokes';

/**
 * Calls `visit` with every pixel whose centre lies within `reach` of a stroke's line, and its squared distance to it; pixels
 * near two pieces of the line come twice. All in pixels.
 */
export function alongStroke(
  points: Stroke['points'],
  reach: number,
  width: number,
  height: number,
  visit: (pixel: number, squaredDistance: number) => void,
): void {
  for (let k = 0; k < points.length; k++) {
    const [x0, y0] = points[Math.max(0, k - 1)]!;
    const [x1, y1] = points[k]!;
    const dx = x1 - x0;
    const dy = y1 - y0;
    const length = dx * dx + dy * dy;
    const bottom = Math.min(height - 1, Math.ceil(Math.max(y0, y1) + reach));
    const right = Math.min(width - 1, Math.ceil(Math.max(x0, x1) + reach));
    for (let y = Math.max(0, Math.floor(Math.min(y0, y1) - reach)); y <= bottom; y++) {
      for (let x = Math.max(0, Math.floor(Math.min(x0, x1) - reach)); x <= right; x++) {
        const px = x + 0.5 - x0;
        const py = y + 0.5 - y0;
        const t = length === 0 ? 0 : Math.max(0, Math.min(1, (px * dx + py * dy) / length));
        const ex = px - t * dx;
        const ey = py - t * dy;
        const squared = ex * ex + ey * ey;
        if (squared <= reach * reach) visit(y * width + x, squared);
      }
    }
  }
}
