import type { EffectKind, Param } from './effect';
import { lengthParam } from './params';

const side = (label: string): Param => ({ label, unit: '%', min: 0, max: 100, step: 0.5, initial: 0 });

/** Takes away from the four sides, by shares of the frame, with an edge that may be soft. */
export const crop: EffectKind = {
  kind: 'crop',
  name: 'Crop',
  does: 'a part of it',
  amount: null,
  params: {
    left: side('From the left'),
    right: side('From the right'),
    top: side('From above'),
    bottom: side('From below'),
    softPx: lengthParam('Softness', 0, 400),
  },
  reachPx: () => 0,
  draw(src, out, { left, right, top, bottom, softPx }) {
    const { width, height, data } = src;
    const soft = Math.max(1, softPx!);
    const along = (n: number, near: number, far: number): Float32Array =>
      Float32Array.from({ length: n }, (_, i) => {
        const within = (share: number, at: number): number =>
          share <= 0 ? 1 : Math.max(0, Math.min(1, (at - (share / 100) * n) / soft + 0.5));
        return within(near, i + 0.5) * within(far, n - i - 0.5);
      });
    const [across, down] = [along(width, left!, right!), along(height, top!, bottom!)];
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const keeps = across[x]! * down[y]!;
        for (const end = o + 4; o < end; o++) out.data[o] = data[o]! * keeps;
      }
  },
};
