import { createPlane, type Plane } from '../src/core/image/pixels';
import { blendMattes } from '../src/core/matte/carry/meet';
import { bytesOf, planeOf } from '../src/core/matte/coverage/resize';
import { carryAll } from './carry-all';
import type { Line } from './line';
import { H, mean, SHOTS, W } from './mattes';
import { regionAndContour } from './measures';
import { renderShot, type KnownShot, type ShotRecipe } from './synthetic-shots';

/** Frames of a shot, and frames of it that are put right, the worst first. */
const FRAMES = 40;
const CORRECTED = 3;

/** Subjects before which something narrow passes slowly. */
const PASSED: readonly ShotRecipe[] = [0, 2, 3].map((i) => ({ ...SHOTS[i]!, frames: FRAMES, occluder: true, travel: 0.1 }));

const given = (shot: KnownShot, frame: number): Plane => {
  const plane = createPlane(W, H);
  shot.mattes[frame]!.forEach((v, i) => (plane.data[i] = v / 255));
  return plane;
};

interface Known {
  readonly matte: Uint8Array;
  readonly confidence: number;
}

/** Carried from one given frame to before another one or to the end of the shot. */
function leg(shot: KnownShot, from: number, to: number): Map<number, Known> {
  const step = Math.sign(to - from);
  const order = Array.from({ length: Math.abs(to - from) + 1 }, (_, i) => from + step * i);
  const found = carryAll(
    order.map((f) => shot.frames[f]!),
    given(shot, from),
  );
  return new Map(found.map((m, i) => [order[i + 1]!, { matte: m.coverage.data, confidence: m.confidence }]));
}

/** Mattes of all frames from those given, carried between two of them from both, as the program does. */
function carried(shot: KnownShot, frames: readonly number[]): Known[] {
  const known: (Known | undefined)[] = shot.frames.map(() => undefined);
  for (const f of frames) known[f] = { matte: shot.mattes[f]!, confidence: 1 };
  for (const [i, from] of frames.entries()) {
    const next = frames[i + 1];
    if (next === undefined) {
      if (from < FRAMES - 1) for (const [f, k] of leg(shot, from, FRAMES - 1)) known[f] = k;
      continue;
    }
    if (next - from < 2) continue;
    const [on, back] = [leg(shot, from, next - 1), leg(shot, next, from + 1)];
    for (const [f, a] of on) {
      const b = back.get(f)!;
      const share = (f - from) / (next - from);
      const plane = (k: Known): Plane => planeOf({ width: W, height: H, data: k.matte });
      known[f] = {
        matte: bytesOf(blendMattes(plane(a), plane(b), share)),
        confidence: (1 - share) * a.confidence + share * b.confidence,
      };
    }
  }
  return known as Known[];
}

/**
 * How well confidence says which frames are wrong: the mean J of what is left as frames are taken away, those of least confidence first,
 * as a share of the way from taking them away by chance to taking the truly worst ones.
 */
function worstFirst(js: readonly number[], confidences: readonly number[]): number {
  const area = (by: readonly number[]): number => {
    const order = [...js.keys()].sort((a, b) => by[a]! - by[b]!);
    return mean(order.map((_, n) => mean(order.slice(n).map((i) => js[i]!))));
  };
  const [found, best, chance] = [area(confidences), area(js), mean(js)];
  return best - chance < 1e-6 ? 1 : (found - chance) / (best - chance);
}

/** What perfect corrections of the worst frames come to, and how well confidence tells which those are. */
export function benchCorrections(): Promise<Line[]> {
  const after: { readonly mean: number; readonly least: number }[][] = Array.from({ length: CORRECTED + 1 }, () => []);
  const told: number[] = [];
  const beside: number[] = [];
  for (const recipe of PASSED) {
    const shot = renderShot(recipe);
    const frames = [0];
    for (let n = 0; n <= CORRECTED; n++) {
      const found = carried(shot, frames);
      const js = found.map(({ matte }, f) => regionAndContour(matte, shot.mattes[f]!, W, H).j);
      after[n]!.push({ mean: mean(js), least: Math.min(...js) });
      if (n === 0)
        told.push(
          worstFirst(
            js,
            found.map((k) => k.confidence),
          ),
        );
      if (n > 0)
        beside.push(
          Math.min(
            ...frames
              .slice(1)
              .flatMap((f) => [f - 1, f + 1])
              .map((f) => js[Math.max(0, Math.min(FRAMES - 1, f))]!),
          ),
        );
      frames.push(js.indexOf(Math.min(...js)));
      frames.sort((a, b) => a - b);
    }
  }
  const each = (key: 'mean' | 'least'): string => after.map((all) => mean(all.map((a) => a[key])).toFixed(3)).join(' ');
  return Promise.resolve([
    { what: 'something narrow in front: mean J after 0, 1, 2, 3 corrected frames', value: each('mean'), against: '' },
    { what: 'the same, least J', value: each('least'), against: '' },
    { what: 'the same, least J on the frames beside a corrected one', value: Math.min(...beside).toFixed(3), against: '' },
    { what: 'the same, worst frames first by confidence (1: as by the truth, 0: by chance)', value: mean(told).toFixed(2), against: '' },
  ]);
}
