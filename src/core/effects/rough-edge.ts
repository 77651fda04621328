import { signedEdgeDistance } from '../image/distance';
import { coverOf } from './cover';
import type { EffectKind } from './effect';
import { planeNoise } from './noise';
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
    const { width, height, data } = src;
    const signed = signedEdgeDistance(coverOf(src));
    const own = seed! + (everyFrames === 0 ? 0 : 101 * Math.floor(frame! / everyFrames!));
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const o = 4 * i;
        const d = signed[i]!;
        let keeps = 1;
        if (depthPx! > 0 && d < depthPx! + 1) {
          const [u, v] = [x / sizePx!, y / sizePx!];
          const grain = 0.65 * planeNoise(u, v, own) + 0.35 * planeNoise(2.7 * u, 2.7 * v, own + 1);
          keeps = Math.max(0, Math.min(1, d - depthPx! * grain + 0.5));
        }
        for (let c = o; c < o + 4; c++) out.data[c] = data[c]! * keeps;
      }
  },
};
