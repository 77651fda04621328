import { signedEdgeDistance } from '../image/distance';
import type { Plane } from '../image/pixels';
import { coverOf, overCover } from './cover';
import type { EffectKind } from './effect';
import { amountParam, colourParams, lengthParam } from './params';

const inRange = (v: number): number => Math.max(0, Math.min(1, v));

/** How far a line covers that begins `from` pixels outside the edge that distances are told from, and is `wide`. */
export const lineAround = (signed: Float32Array, from: number, wide: number, like: Plane): Plane => ({
  width: like.width,
  height: like.height,
  data: Float32Array.from(signed, (d) => inRange(0.5 - d - from) * inRange(from + wide + d + 0.5)),
});

/** A line around what covers. */
export const outline: EffectKind = {
  kind: 'outline',
  name: 'Outline',
  does: 'a line around it',
  amount: 'amount',
  params: { amount: amountParam(), widthPx: lengthParam('Width', 6, 100), ...colourParams([255, 250, 240]) },
  reachPx: ({ widthPx }) => widthPx!,
  draw(src, out, { amount, widthPx, red, green, blue }) {
    const cover = coverOf(src);
    // from well inside the edge on, so that no gap is left under its soft rim
    overCover(src, lineAround(signedEdgeDistance(cover), -2, widthPx! + 2, cover), [red!, green!, blue!], amount!, out);
  },
};
