import { kernels } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel } from './in-kernel';
import { smoothNoise } from './noise';
import { lengthParam, seedParam } from './params';

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
    drawInKernel(src, out, (from, to) => kernels.movedMirrored(from, width, height, c, s, dx, dy, to));
  },
};
