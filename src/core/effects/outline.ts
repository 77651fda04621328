import { kernels } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel, edgeDistances } from './in-kernel';
import { amountParam, colourParams, lengthParam } from './params';

/** A line around what covers. */
export const outline: EffectKind = {
  kind: 'outline',
  name: 'Outline',
  does: 'a line around it',
  amount: 'amount',
  params: { amount: amountParam(), widthPx: lengthParam('Width', 6, 100), ...colourParams([255, 250, 240]) },
  reachPx: ({ widthPx }) => widthPx!,
  draw(src, out, { amount, widthPx, red, green, blue }) {
    drawInKernel(src, out, (from, to, pixels) => {
      // from well inside the edge on, so that no gap is left under its soft rim
      const line = [-3, 1, widthPx! + 2, 1, 0] as const;
      kernels.linesAround(from, edgeDistances(from, src), pixels, ...line, amount!, red!, green!, blue!, to);
    });
  },
};
