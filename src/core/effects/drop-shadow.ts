import { coverOf, overCover, shifted, softened } from './cover';
import type { EffectKind } from './effect';
import { amountParam, colourParams, lengthParam } from './params';

/** The shadow of what covers, under it. */
export const dropShadow: EffectKind = {
  kind: 'drop shadow',
  name: 'Drop shadow',
  does: 'as if it lay above',
  amount: 'amount',
  params: {
    amount: amountParam(0.6),
    distancePx: lengthParam('Distance', 16, 400),
    angle: { label: 'Towards', unit: '°', min: -360, max: 360, step: 1, initial: 60 },
    softPx: lengthParam('Softness', 16, 200),
    ...colourParams([0, 0, 0]),
  },
  reachPx: ({ distancePx, softPx }) => distancePx! + softPx!,
  draw(src, out, { amount, distancePx, angle, softPx, red, green, blue }) {
    const radians = (angle! * Math.PI) / 180;
    const moved = shifted(coverOf(src), distancePx! * Math.cos(radians), distancePx! * Math.sin(radians));
    overCover(src, softened(moved, softPx!), [red!, green!, blue!], amount!, out);
  },
};
