import { kernels, putFloats } from '../kernels/kernels';
import type { EffectKind, Param } from './effect';
import { drawInKernel } from './in-kernel';
import { lengthParam } from './params';

const side = (label: string): Param => ({ label, unit: '%', min: 0, max: 100, step: 0.5, initial: 0 });

/** Takes away from the four sides, by shares of the frame, with an edge that may be soft; along axes that may be turned about its middle. */
export const crop: EffectKind = {
  kind: 'crop',
  name: 'Crop',
  does: 'only part of the picture',
  amount: null,
  params: {
    left: side('From the left'),
    right: side('From the right'),
    top: side('From above'),
    bottom: side('From below'),
    softPx: lengthParam('Softness', 0, 400),
    turn: { label: 'Turned by', unit: '°', min: -180, max: 180, step: 1, initial: 0 },
  },
  reachPx: () => 0,
  draw(src, out, { left, right, top, bottom, softPx, turn }) {
    const { width, height } = src;
    const soft = Math.max(1, softPx!);
    const [c, s] = [Math.cos((turn! * Math.PI) / 180), Math.sin((turn! * Math.PI) / 180)];
    // how far the frame reaches along each axis
    const across = width * Math.abs(c) + height * Math.abs(s);
    const down = width * Math.abs(s) + height * Math.abs(c);
    drawInKernel(src, out, (from, to) => {
      const lengths = [(left! / 100) * across, (right! / 100) * across, (top! / 100) * down, (bottom! / 100) * down] as const;
      if (turn !== 0) return kernels.cropTurned(from, width, height, c, s, across, down, ...lengths, soft, to);
      const [xs, ys] = [keptAlong(width, lengths[0], lengths[1], soft), keptAlong(height, lengths[2], lengths[3], soft)];
      kernels.keepSeparable(from, putFloats(xs), putFloats(ys), width, height, to);
    });
  },
};

/** How much is kept of each of `n` pixels of which `before` and `after` go away at the ends. */
function keptAlong(n: number, before: number, after: number, soft: number): Float32Array {
  const within = (taken: number, at: number): number => (taken <= 0 ? 1 : Math.max(0, Math.min(1, (at - taken) / soft + 0.5)));
  return Float32Array.from({ length: n }, (_, i) => within(before, i + 0.5) * within(after, n - i - 0.5));
}
