import { createPlane } from '../image/pixels';
import { gradients, softBlur } from '../image/plane';
import type { EffectKind } from './effect';
import { planeNoise } from './noise';
import { amountParam, lengthParam, seedParam } from './params';

const PAPER = [244, 238, 224] as const;
const INK = [38, 34, 30] as const;

/** Ink lines on paper where brightness changes, and hatching where it is dark. */
export const drawnSketch: EffectKind = {
  kind: 'drawn sketch',
  name: 'Drawn sketch',
  does: 'ink lines on paper',
  amount: 'amount',
  params: {
    amount: amountParam(),
    linePx: lengthParam('Line', 3, 40, 1),
    strength: { label: 'Ink', unit: '', min: 0, max: 1, step: 0.01, initial: 0.6 },
    hatch: { label: 'Hatching', unit: '', min: 0, max: 1, step: 0.01, initial: 0.5 },
    everyFrames: { label: 'Redrawn every', unit: 'fr', min: 0, max: 200, step: 1, initial: 3 },
    seed: seedParam,
  },
  reachPx: ({ linePx }) => linePx!,
  draw(src, out, { amount, linePx, strength, hatch, everyFrames, seed, frame, scale }) {
    const { width, height, data } = src;
    const luma = createPlane(width, height);
    for (let i = 0, o = 0; o < data.length; i++, o += 4) {
      const alpha = Math.max(1, data[o + 3]!);
      luma.data[i] = (255 / alpha) * (0.299 * data[o]! + 0.587 * data[o + 1]! + 0.114 * data[o + 2]!);
    }
    const soft = createPlane(width, height);
    soft.data.set(luma.data);
    softBlur(soft, Math.max(1, Math.round(linePx! / 2)), soft);
    const [gx, gy] = [createPlane(width, height), createPlane(width, height)];
    gradients(soft, gx, gy);
    const own = seed! + (everyFrames === 0 ? 0 : 97 * Math.floor(frame! / everyFrames!));
    const grain = Math.max(1e-3, scale!);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const o = 4 * i;
        const [fx, fy] = [x / grain, y / grain];
        const rise = Math.hypot(gx.data[i]!, gy.data[i]!) * Math.max(1, linePx!);
        const uneven = 0.7 + 0.6 * planeNoise(fx / 7, fy / 7, own);
        const line = Math.max(0, Math.min(1, (rise * strength! * uneven - 6) / 14));
        // slanted strokes, the denser the darker
        const stroke = 0.5 + 0.5 * Math.sin((fx + fy) / 2.2 + 3 * planeNoise(fx / 30, fy / 30, own + 1));
        const dark = Math.max(0, 1 - soft.data[i]! / 110);
        const ink = Math.max(line, hatch! * dark * Math.max(0, Math.min(1, 1.6 * stroke - 0.8 + dark)));
        const alpha = data[o + 3]! / 255;
        for (let c = 0; c < 3; c++) {
          const drawn = alpha * (PAPER[c]! + ink * (INK[c]! - PAPER[c]!));
          out.data[o + c] = data[o + c]! + amount! * (drawn - data[o + c]!);
        }
        out.data[o + 3] = data[o + 3]!;
      }
  },
};
