import { kernels, reserve } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel, soften } from './in-kernel';
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
    const [dx, dy] = [distancePx! * Math.cos(radians), distancePx! * Math.sin(radians)];
    const [x, y] = [Math.floor(dx), Math.floor(dy)];
    drawInKernel(src, out, (from, to, pixels) => {
      const shadow = reserve(pixels);
      kernels.movedCover(from, src.width, src.height, x, y, dx - x, dy - y, shadow);
      soften(shadow, src, softPx!);
      kernels.layOverCover(from, shadow, pixels, amount!, red!, green!, blue!, to);
    });
  },
};
