import { kernels } from '../kernels/kernels';
import type { EffectKind } from './effect';
import { drawInKernel, edgeDistances } from './in-kernel';
import { lengthParam, seedParam } from './params';

/** The edge of what covers is frayed, as if it were torn. */
export const roughEdge: EffectKind = {
  kind: 'rough edge',
  name: 'Rough edge',
  does: 'frayed as if torn',
  amount: 'depthPx',
  params: {
    depthPx: lengthParam('Depth', 8, 100),
    sizePx: lengthParam('Grain', 12, 200, 1),
    everyFrames: { label: 'Changes every', unit: 'fr', min: 0, max: 200, step: 1, initial: 0 },
    seed: seedParam,
  },
  reachPx: () => 0,
  draw(src, out, { depthPx, sizePx, everyFrames, seed, frame }) {
    const own = seed! + (everyFrames === 0 ? 0 : 101 * Math.floor(frame! / everyFrames!));
    drawInKernel(src, out, (from, to) => kernels.frayed(from, edgeDistances(from, src), src.width, src.height, depthPx!, sizePx!, own, to));
  },
};
