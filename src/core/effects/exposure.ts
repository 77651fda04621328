import { toDisplay, toLinear } from '../image/light';
import { kernels, putBytes } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel } from './in-kernel';

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
    drawInKernel(src, out, (from, to, pixels) => kernels.throughTable(from, pixels, putBytes(table), to));
  },
};
