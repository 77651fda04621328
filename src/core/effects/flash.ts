import type { EffectKind } from './effect';
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
    const colour = [red!, green!, blue!];
    for (let o = 0; o < src.data.length; o += 4) {
      const cover = src.data[o + 3]! / 255;
      for (let c = 0; c < 3; c++) out.data[o + c] = src.data[o + c]! + amount! * (cover * colour[c]! - src.data[o + c]!);
      out.data[o + 3] = src.data[o + 3]!;
    }
  },
};
