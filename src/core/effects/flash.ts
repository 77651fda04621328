import { kernels } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel } from './in-kernel';
import { amountParam, colourParams } from './params';

/** The picture goes over into one colour, as far as it covers. */
export const flash: EffectKind = {
  kind: 'flash',
  name: 'Flash',
  does: 'one colour for a moment',
  amount: 'amount',
  endsInSight: true,
  changesLight: true,
  params: { amount: amountParam(), ...colourParams([255, 250, 240]) },
  reachPx: () => 0,
  draw(src, out, { amount, red, green, blue }) {
    drawInKernel(src, out, (from, to, pixels) => kernels.towardsColour(from, pixels, amount!, red!, green!, blue!, to));
  },
};
