import { createPlane } from '../image/pixels';
import { gradients, softBlur } from '../image/plane';
import { beginCall, kernels, putBytes, putFloats, reserve, takeFloats } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel } from './in-kernel';
import { amountParam, lengthParam, seedParam } from './params';

const PAPER = Float32Array.of(244, 238, 224);
const INK = Float32Array.of(38, 34, 30);

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
    const soft = createPlane(width, height);
    beginCall();
    const bright = reserve(soft.data.length);
    kernels.brightness(putBytes(data), soft.data.length, bright);
    takeFloats(bright, soft.data);
    softBlur(soft, Math.max(1, Math.round(linePx! / 2)), soft);
    const [gx, gy] = [createPlane(width, height), createPlane(width, height)];
    gradients(soft, gx, gy);
    const own = seed! + (everyFrames === 0 ? 0 : 97 * Math.floor(frame! / everyFrames!));
    drawInKernel(src, out, (from, to) => {
      const planes = [putFloats(soft.data), putFloats(gx.data), putFloats(gy.data)] as const;
      const looks = [amount!, Math.max(1, linePx!), strength!, hatch!, Math.max(1e-3, scale!), own] as const;
      kernels.sketched(from, ...planes, width, height, ...looks, putFloats(PAPER), putFloats(INK), to);
    });
  },
};
