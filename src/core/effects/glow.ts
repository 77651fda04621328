import { toDisplay, toLinear } from '../image/light';
import type { Pointer } from '../kernels/kernel-exports';
import { kernels, putBytes, putFloats, reserve } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel, soften } from './in-kernel';
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
    const least = toLinear(from!);
    drawInKernel(src, out, (picture, to, pixels) => {
      const [linear, display] = [putFloats(LINEAR), putBytes(DISPLAY)];
      const shed = (channel: number): Pointer => {
        const plane = reserve(pixels);
        kernels.brightOf(picture, pixels, channel, least, 1 / Math.max(0.05, 1 - least), linear, plane);
        soften(plane, src, radiusPx!);
        return plane;
      };
      kernels.addShed(picture, shed(0), shed(1), shed(2), pixels, amount!, linear, display, to);
    });
  },
};
