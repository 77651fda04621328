import type { EffectKind } from './effect';

/** Places along a direction, as whole pixels: `count` of them, `step` apart, about the middle. */
const placesAlong = (count: number, step: number, angle: number): readonly (readonly [number, number])[] =>
  Array.from({ length: count }, (_, i) => {
    const along = (i - (count - 1) / 2) * step;
    return [Math.round(along * Math.cos(angle)), Math.round(along * Math.sin(angle))] as const;
  });

/** The mean of the pixels at these places about each one. The picture's last pixels go on beyond its border, so that it does not darken there. */
function meanOf(
  data: ArrayLike<number>,
  width: number,
  height: number,
  places: readonly (readonly [number, number])[],
  out: Float32Array | Uint8ClampedArray,
): void {
  const count = places.length;
  const reachX = Math.max(...places.map(([x]) => Math.abs(x)));
  const reachY = Math.max(...places.map(([, y]) => Math.abs(y)));
  const steps = Int32Array.from(places, ([x, y]) => 4 * (y * width + x));
  for (let y = 0, o = 0; y < height; y++) {
    const rowInside = y >= reachY && y < height - reachY;
    for (let x = 0; x < width; x++, o += 4) {
      let r = 0;
      let g = 0;
      let b = 0;
      let a = 0;
      const isInside = rowInside && x >= reachX && x < width - reachX;
      for (let n = 0; n < count; n++) {
        const i = isInside
          ? o + steps[n]!
          : 4 * (Math.max(0, Math.min(height - 1, y + places[n]![1])) * width + Math.max(0, Math.min(width - 1, x + places[n]![0])));
        r += data[i]!;
        g += data[i + 1]!;
        b += data[i + 2]!;
        a += data[i + 3]!;
      }
      out[o] = r / count;
      out[o + 1] = g / count;
      out[o + 2] = b / count;
      out[o + 3] = a / count;
    }
  }
}

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
    const { width, height, data } = src;
    const radians = (angle! * Math.PI) / 180;
    const near = Math.max(1, Math.round(Math.sqrt(lengthPx!)));
    const far = Math.max(1, Math.round(lengthPx! / near));
    const step = lengthPx! / (near * far);
    if (far === 1) return meanOf(data, width, height, placesAlong(near, step, radians), out.data);
    const pieces = new Float32Array(data.length);
    meanOf(data, width, height, placesAlong(near, step, radians), pieces);
    meanOf(pieces, width, height, placesAlong(far, near * step, radians), out.data);
  },
};
