import type { EffectKind } from './effect';
import { smoothNoise } from './noise';
import { lengthParam, seedParam } from './params';

/** The place within a picture that shows beyond its border where it goes on mirrored. */
function mirrored(v: number, n: number): number {
  const m = ((v % (2 * n)) + 2 * n) % (2 * n);
  return Math.max(0, Math.min(n - 1, m < n ? m : 2 * n - 1 - m));
}

/** Moves the picture about as an unsteady hand does; it goes on mirrored beyond its border. */
export const shake: EffectKind = {
  kind: 'shake',
  name: 'Shake',
  does: 'as from an unsteady hand',
  amount: 'strengthPx',
  endsInSight: true,
  params: {
    strengthPx: lengthParam('Strength', 12, 400),
    everyFrames: { label: 'Period', unit: 'fr', min: 0.5, max: 200, step: 0.5, initial: 4 },
    turn: { label: 'Rotation', unit: '', min: 0, max: 1, step: 0.01, initial: 0.2 },
    seed: seedParam,
  },
  reachPx: ({ strengthPx }) => 2 * strengthPx!,
  draw(src, out, { strengthPx, everyFrames, turn, seed, frame }) {
    const { width, height } = src;
    const at = frame! / everyFrames!;
    const wave = (k: number): number => smoothNoise(at, 31 * seed! + k) + 0.5 * smoothNoise(2.3 * at, 31 * seed! + k + 7);
    const [dx, dy] = [strengthPx! * wave(1), strengthPx! * wave(2)];
    // at its full share the corners turn as far as the middle goes
    const angle = (turn! * strengthPx! * wave(3)) / (Math.hypot(width, height) / 2);
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const { data } = src;
    const to = out.data;
    for (let y = 0, o = 0; y < height; y++) {
      const py = y + 0.5 - height / 2 - dy;
      for (let x = 0; x < width; x++, o += 4) {
        const px = x + 0.5 - width / 2 - dx;
        const sx = c * px + s * py + width / 2 - 0.5;
        const sy = c * py - s * px + height / 2 - 0.5;
        const x0 = Math.floor(sx);
        const y0 = Math.floor(sy);
        const u = sx - x0;
        const v = sy - y0;
        const isInside = x0 >= 0 && y0 >= 0 && x0 + 1 < width && y0 + 1 < height;
        const left = isInside ? x0 : mirrored(x0, width);
        const right = isInside ? x0 + 1 : mirrored(x0 + 1, width);
        const top = (isInside ? y0 : mirrored(y0, height)) * width;
        const bottom = (isInside ? y0 + 1 : mirrored(y0 + 1, height)) * width;
        const i = 4 * (top + left);
        const j = 4 * (top + right);
        const k = 4 * (bottom + left);
        const l = 4 * (bottom + right);
        for (let n = 0; n < 4; n++) {
          const above = data[i + n]! + u * (data[j + n]! - data[i + n]!);
          to[o + n] = above + v * (data[k + n]! + u * (data[l + n]! - data[k + n]!) - above);
        }
      }
    }
  },
};
