import { toDisplay, toLinear } from '../image/light';
import type { EffectKind } from './effect';

/** Brighter or darker by stops, as if more or less light had come in. */
export const exposure: EffectKind = {
  kind: 'exposure',
  name: 'Exposure',
  does: 'more or less light',
  amount: 'stops',
  endsInSight: true,
  changesLight: true,
  params: { stops: { label: 'Light', unit: 'stops', min: -10, max: 10, step: 0.1, initial: 0 } },
  reachPx: () => 0,
  draw(src, out, { stops }) {
    const gain = 2 ** stops!;
    const table = Uint8ClampedArray.from({ length: 256 }, (_, v) => 255 * toDisplay(Math.min(1, gain * toLinear(v / 255))) + 0.5);
    const from = src.data;
    const to = out.data;
    for (let i = 0; i < from.length; i += 4) {
      const alpha = from[i + 3]!;
      to[i + 3] = alpha;
      if (alpha === 255) {
        to[i] = table[from[i]!]!;
        to[i + 1] = table[from[i + 1]!]!;
        to[i + 2] = table[from[i + 2]!]!;
      } else if (alpha === 0) to[i] = to[i + 1] = to[i + 2] = 0;
      else for (let c = i; c < i + 3; c++) to[c] = (table[Math.min(255, Math.round((255 * from[c]!) / alpha))]! * alpha) / 255;
    }
  },
};
