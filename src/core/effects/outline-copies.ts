import { kernels } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel, edgeDistances } from './in-kernel';
import { amountParam, colourParams, lengthParam } from './params';

/** Lines around what covers, each further out and fainter. */
export const outlineCopies: EffectKind = {
  kind: 'outline copies',
  name: 'Growing outline copies',
  does: 'its outline again and again, larger and fainter',
  amount: 'amount',
  params: {
    amount: amountParam(),
    count: { label: 'Copies', unit: '', min: 1, max: 20, step: 1, initial: 3 },
    apartPx: lengthParam('Apart', 24, 300, 1),
    widthPx: lengthParam('Width', 3, 60),
    fall: { label: 'Fainter by', unit: '', min: 0, max: 1, step: 0.01, initial: 0.4 },
    ...colourParams([255, 250, 240]),
  },
  reachPx: ({ count, apartPx, widthPx }) => count! * apartPx! + widthPx!,
  draw(src, out, { amount, count, apartPx, widthPx, fall, red, green, blue }) {
    drawInKernel(src, out, (from, to, pixels) => {
      const lines = [-widthPx! / 2, apartPx!, widthPx!, Math.round(count!), fall!] as const;
      kernels.linesAround(from, edgeDistances(from, src), pixels, ...lines, amount!, red!, green!, blue!, to);
    });
  },
};
