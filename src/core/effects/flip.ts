import type { EffectKind, Param } from './effect';

const turned = (label: string, initial: number): Param => ({ label, unit: '', min: 0, max: 1, step: 1, initial });

/** Mirrors the picture in the frame; from a half on it is mirrored. */
export const flip: EffectKind = {
  kind: 'flip',
  name: 'Flip',
  does: 'mirrored',
  amount: null,
  params: { across: turned('Left to right', 1), down: turned('Top to bottom', 0) },
  reachPx: () => 0,
  draw({ width, height, data }, out, { across, down }) {
    const from = new Uint32Array(data.buffer, data.byteOffset, width * height);
    const to = new Uint32Array(out.data.buffer, out.data.byteOffset, width * height);
    for (let y = 0, o = 0; y < height; y++) {
      const row = (down! >= 0.5 ? height - 1 - y : y) * width;
      for (let x = 0; x < width; x++, o++) to[o] = from[row + (across! >= 0.5 ? width - 1 - x : x)]!;
    }
  },
};
