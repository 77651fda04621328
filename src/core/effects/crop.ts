import type { EffectKind, Param } from './effect';
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
    const { width, height, data } = src;
    const soft = Math.max(1, softPx!);
    const [c, s] = [Math.cos((turn! * Math.PI) / 180), Math.sin((turn! * Math.PI) / 180)];
    // how far the frame reaches along each axis
    const across = width * Math.abs(c) + height * Math.abs(s);
    const down = width * Math.abs(s) + height * Math.abs(c);
    const within = (length: number, share: number, at: number): number =>
      share <= 0 ? 1 : Math.max(0, Math.min(1, (at - (share / 100) * length) / soft + 0.5));
    const alongX = (at: number): number => within(across, left!, at) * within(across, right!, across - at);
    const alongY = (at: number): number => within(down, top!, at) * within(down, bottom!, down - at);
    if (turn === 0) {
      const [xs, ys] = [lineOf(width, alongX), lineOf(height, alongY)];
      for (let y = 0, o = 0; y < height; y++)
        for (let x = 0; x < width; x++) for (const end = o + 4; o < end; o++) out.data[o] = data[o]! * xs[x]! * ys[y]!;
      return;
    }
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [px, py] = [x + 0.5 - width / 2, y + 0.5 - height / 2];
        const keeps = alongX(c * px + s * py + across / 2) * alongY(c * py - s * px + down / 2);
        for (const end = o + 4; o < end; o++) out.data[o] = data[o]! * keeps;
      }
  },
};

/** Values at the middles of `n` pixels. */
const lineOf = (n: number, value: (at: number) => number): Float32Array => Float32Array.from({ length: n }, (_, i) => value(i + 0.5));
