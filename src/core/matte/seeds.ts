import { turnsOf, type Stroke, type Strokes } from './strokes';

/** What a pixel under a stroke is. */
export const KEEP = 1;
export const DROP = 2;

/** `KEEP` under keep strokes, `DROP` under drop strokes, else 0; later turns lie on top, and drop strokes on keep strokes of their turn. */
export function paintSeeds(strokes: Strokes, width: number, height: number, scale: number): Uint8Array {
  const seeds = new Uint8Array(width * height);
  for (const { keep, drop } of turnsOf(strokes)) {
    for (const stroke of keep) paintStroke(stroke, seeds, KEEP, width, height, scale);
    for (const stroke of drop) paintStroke(stroke, seeds, DROP, width, height, scale);
  }
  return seeds;
}

function paintStroke({ radius, points }: Stroke, into: Uint8Array, value: number, width: number, height: number, scale: number): void {
  const r = Math.max(0.6, radius * scale);
  for (let k = 0; k < points.length; k++) {
    const [x0, y0] = [points[Math.max(0, k - 1)]![0] * scale, points[Math.max(0, k - 1)]![1] * scale];
    const [x1, y1] = [points[k]![0] * scale, points[k]![1] * scale];
    const dx = x1 - x0;
    const dy = y1 - y0;
    const length = dx * dx + dy * dy;
    const bottom = Math.min(height - 1, Math.ceil(Math.max(y0, y1) + r));
    const right = Math.min(width - 1, Math.ceil(Math.max(x0, x1) + r));
    for (let y = Math.max(0, Math.floor(Math.min(y0, y1) - r)); y <= bottom; y++) {
      for (let x = Math.max(0, Math.floor(Math.min(x0, x1) - r)); x <= right; x++) {
        const px = x + 0.5 - x0;
        const py = y + 0.5 - y0;
        const t = length === 0 ? 0 : Math.max(0, Math.min(1, (px * dx + py * dy) / length));
        const ex = px - t * dx;
        const ey = py - t * dy;
        if (ex * ex + ey * ey <= r * r) into[y * width + x] = value;
      }
    }
  }
}
