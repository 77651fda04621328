import type { EffectKind } from './effect';
import { smoothNoise } from './noise';
import { lengthParam, seedParam } from './params';

/** Moves the picture about as an unsteady hand does; it goes on mirrored beyond its border. */
export const shake: EffectKind = {
  kind: 'shake',
  name: 'Shake',
  does: 'as from an unsteady hand',
  amount: 'strengthPx',
  params: {
    strengthPx: lengthParam('Strength', 12, 400),
    everyFrames: { label: 'Turns every', unit: 'fr', min: 0.5, max: 200, step: 0.5, initial: 4 },
    turn: { label: 'Turn share', unit: '', min: 0, max: 1, step: 0.01, initial: 0.2 },
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
    const mirrored = (v: number, n: number): number => {
      const m = ((v % (2 * n)) + 2 * n) % (2 * n);
      return Math.max(0, Math.min(n - 1, m < n ? m : 2 * n - 1 - m));
    };
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++, o += 4) {
        const [px, py] = [x + 0.5 - width / 2 - dx, y + 0.5 - height / 2 - dy];
        const sx = c * px + s * py + width / 2 - 0.5;
        const sy = -s * px + c * py + height / 2 - 0.5;
        const [x0, y0] = [Math.floor(sx), Math.floor(sy)];
        const [u, v] = [sx - x0, sy - y0];
        const [left, right] = [mirrored(x0, width), mirrored(x0 + 1, width)];
        const [top, bottom] = [mirrored(y0, height) * width, mirrored(y0 + 1, height) * width];
        const [i, j, k, l] = [4 * (top + left), 4 * (top + right), 4 * (bottom + left), 4 * (bottom + right)];
        const [w0, w1, w2, w3] = [(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v];
        for (let n = 0; n < 4; n++)
          out.data[o + n] = w0 * src.data[i + n]! + w1 * src.data[j + n]! + w2 * src.data[k + n]! + w3 * src.data[l + n]!;
      }
  },
};
