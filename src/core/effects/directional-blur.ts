import { kernels, putWords, reserve } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel } from './in-kernel';

/** Places along a direction, as whole pixels: `count` of them, `step` apart, about the middle. */
const placesAlong = (count: number, step: number, angle: number): readonly (readonly [number, number])[] =>
  Array.from({ length: count }, (_, i) => {
    const along = (i - (count - 1) / 2) * step;
    return [Math.round(along * Math.cos(angle)), Math.round(along * Math.sin(angle))] as const;
  });

/** Smears along one direction: the mean of the pixels on a line about each one, as the mean of means of short pieces of it. */
export const directionalBlur: EffectKind = {
  kind: 'directional blur',
  name: 'Directional blur',
  does: 'smeared along a direction',
  amount: 'lengthPx',
  endsInSight: true,
  params: {
    lengthPx: { label: 'Length', unit: 'px', min: 0, max: 400, step: 1, initial: 40, isLength: true },
    angle: { label: 'Angle', unit: '°', min: -360, max: 360, step: 1, initial: 0 },
  },
  reachPx: ({ lengthPx }) => lengthPx! / 2,
  draw(src, out, { lengthPx, angle }) {
    const { width, height } = src;
    const radians = (angle! * Math.PI) / 180;
    const near = Math.max(1, Math.round(Math.sqrt(lengthPx!)));
    const far = Math.max(1, Math.round(lengthPx! / near));
    const step = lengthPx! / (near * far);
    drawInKernel(src, out, (from, to, pixels) => {
      const whole = reserve(pixels, 16);
      kernels.floatsOf(from, pixels, whole);
      const places = putWords(placesAlong(near, step, radians).flat());
      if (far === 1) return kernels.meanAlong(whole, width, height, places, near, true, to);
      const pieces = reserve(pixels, 16);
      kernels.meanAlong(whole, width, height, places, near, false, pieces);
      kernels.meanAlong(pieces, width, height, putWords(placesAlong(far, near * step, radians).flat()), far, true, to);
    });
  },
};
