import type { Drawing } from '../../core/plan/plan-views';
import { canBeBanded, type Band } from '../../core/render/compositor';

/** Fewer rows are not worth a worker of their own. */
const LEAST_ROWS = 64;

/** The rows of a drawing that workers draw side by side, at most `most` bands of them; one alone where they cannot be parted. */
export function bandsOf({ kind, ...drawing }: Drawing, height: number, most: number): readonly Band[] {
  const count = kind === 'picture' && canBeBanded(drawing.plan) ? Math.max(1, Math.min(most, Math.floor(height / LEAST_ROWS))) : 1;
  const row = (i: number): number => Math.round((i * height) / count);
  return Array.from({ length: count }, (_, i) => ({ top: row(i), bottom: row(i + 1) }));
}

/** Bitmaps of one width, one under the other, as one. They are closed. */
export function stacked(bitmaps: readonly ImageBitmap[]): ImageBitmap {
  const [only, ...others] = bitmaps;
  if (others.length === 0) return only!;
  const canvas = new OffscreenCanvas(
    only!.width,
    bitmaps.reduce((sum, b) => sum + b.height, 0),
  );
  const context = canvas.getContext('2d')!;
  let top = 0;
  for (const bitmap of bitmaps) {
    context.drawImage(bitmap, 0, top);
    top += bitmap.height;
    bitmap.close();
  }
  return canvas.transferToImageBitmap();
}
