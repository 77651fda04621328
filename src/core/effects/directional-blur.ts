import type { EffectKind } from './effect';

/** Smears along one direction: the mean of the pixels on a line about each one. */
export const directionalBlur: EffectKind = {
  kind: 'directional blur',
  name: 'Directional blur',
  does: 'smeared along a direction',
  amount: 'lengthPx',
  params: {
    lengthPx: { label: 'Length', unit: 'px', min: 0, max: 400, step: 1, initial: 40, isLength: true },
    angle: { label: 'Angle', unit: '°', min: -360, max: 360, step: 1, initial: 0 },
  },
  reachPx: ({ lengthPx }) => lengthPx! / 2,
  draw(src, out, { lengthPx, angle }) {
    const { width, height, data } = src;
    const count = Math.max(1, Math.round(lengthPx!));
    const radians = (angle! * Math.PI) / 180;
    const offsets = Array.from({ length: count }, (_, i) => {
      const along = ((i + 0.5) / count - 0.5) * lengthPx!;
      return [Math.round(along * Math.cos(radians)), Math.round(along * Math.sin(radians))] as const;
    });
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++, o += 4) {
        let [r, g, b, a] = [0, 0, 0, 0];
        for (const [dx, dy] of offsets) {
          // the picture's last pixels go on beyond its border, so that it does not darken there
          const px = x + dx < 0 ? 0 : x + dx >= width ? width - 1 : x + dx;
          const py = y + dy < 0 ? 0 : y + dy >= height ? height - 1 : y + dy;
          const i = 4 * (py * width + px);
          r += data[i]!;
          g += data[i + 1]!;
          b += data[i + 2]!;
          a += data[i + 3]!;
        }
        out.data[o] = r / count;
        out.data[o + 1] = g / count;
        out.data[o + 2] = b / count;
        out.data[o + 3] = a / count;
      }
  },
};
