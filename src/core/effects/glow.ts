import { createPlane } from '../image/pixels';
import { toDisplay, toLinear } from '../image/light';
import { softened } from './cover';
import type { EffectKind } from './effect';
import { amountParam, lengthParam } from './params';

const LINEAR = Float32Array.from({ length: 256 }, (_, v) => toLinear(v / 255));
const STEPS = 4096;
const DISPLAY = Uint8ClampedArray.from({ length: STEPS + 1 }, (_, v) => 255 * toDisplay(v / STEPS));

/** What is bright sheds its light around itself, in linear light. */
export const glow: EffectKind = {
  kind: 'glow',
  name: 'Glow',
  does: 'what is bright shines',
  amount: 'amount',
  endsInSight: true,
  changesLight: true,
  params: {
    amount: amountParam(0.6),
    radiusPx: lengthParam('Reach', 30, 400),
    from: { label: 'From brightness', unit: '', min: 0, max: 1, step: 0.01, initial: 0.6 },
  },
  reachPx: ({ radiusPx }) => radiusPx!,
  draw(src, out, { amount, radiusPx, from }) {
    const { width, height, data } = src;
    const least = toLinear(from!);
    const shed = [0, 1, 2].map((c) => {
      const plane = createPlane(width, height);
      for (let i = 0; i < plane.data.length; i++)
        plane.data[i] = Math.max(0, LINEAR[data[4 * i + c]!]! - least) / Math.max(0.05, 1 - least);
      return softened(plane, radiusPx!);
    });
    for (let i = 0, o = 0; o < data.length; i++, o += 4) {
      let most = 0;
      for (let c = 0; c < 3; c++) {
        const sum = LINEAR[data[o + c]!]! + amount! * shed[c]!.data[i]!;
        out.data[o + c] = DISPLAY[Math.min(STEPS, Math.round(STEPS * sum))]!;
        most = Math.max(most, out.data[o + c]!);
      }
      // light beyond what is covered covers as far as it shines
      out.data[o + 3] = Math.max(data[o + 3]!, most);
    }
  },
};
