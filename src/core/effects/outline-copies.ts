import { signedEdgeDistance } from '../image/distance';
import { createPlane } from '../image/pixels';
import { coverOf, overCover } from './cover';
import type { EffectKind } from './effect';
import { lineAround } from './outline';
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
    const cover = coverOf(src);
    const signed = signedEdgeDistance(cover);
    const all = createPlane(src.width, src.height);
    for (let n = 1; n <= Math.round(count!); n++) {
      const line = lineAround(signed, n * apartPx! - widthPx! / 2, widthPx!, cover);
      const share = (1 - fall!) ** (n - 1);
      for (let i = 0; i < all.data.length; i++) all.data[i] = Math.max(all.data[i]!, share * line.data[i]!);
    }
    overCover(src, all, [red!, green!, blue!], amount!, out);
  },
};
