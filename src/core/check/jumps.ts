import type { PlacedJoin } from '../film/timing';
import { effectNamed } from '../effects/registry';
import { kindNamed } from '../recipes/kinds';
import type { Finding } from './finding';
import type { FrameLook } from './look';

/** A square of the picture that changes by so much from one frame to the next, 0..255, has changed; so many of them make the whole picture. */
const SQUARE_STEP = 12;
const WHOLE = 0.6;
/** How many times as much as around it the picture has to change at once. */
const TIMES = 4;
/** From one frame to the next the light may change by so many stops, and by so many times what it changes around it. */
const LIGHT_STOPS = 0.45;
const LIGHT_TIMES = 5;
/** At a cut of like pictures the light may change by this share. */
const LIGHT_AT_CUT = 0.07;
/** How alike the two pictures of a cut are, at least, to be told as like ones: correlation. */
const ALIKE = 0.85;

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;

/** Jumps of the whole picture, or of its light, from one frame of a join to the next. `frameOf` gives the film frame of a look. */
export function pictureJumps(placed: PlacedJoin, looks: readonly (FrameLook | null)[], frameOf: (i: number) => number): Finding[] {
  const { join } = placed;
  if (join.before + join.after === 0) return lightAtCut(placed, looks);
  // what is meant to flash is no fault
  const isMeant = [...join.finish, ...join.layers.flatMap((l) => l.effects)].some(
    (e) => e.visible && effectNamed(e.kind).changesLight === true,
  );
  const whole = wholeJumps(placed, looks, frameOf);
  return [...whole, ...(isMeant ? [] : lightJumps(looks, frameOf).filter((f) => !whole.some((w) => w.from === f.from)))];
}

function wholeJumps(placed: PlacedJoin, looks: readonly (FrameLook | null)[], frameOf: (i: number) => number): Finding[] {
  const { recipe } = placed.join;
  if (recipe !== undefined && kindNamed(recipe.kind).comesAtOnce === true) return [];
  const steps = looks.map((look, i) => {
    const [now, before] = [look?.result ?? null, looks[i - 1]?.result ?? null];
    if (now === null || before === null) return null;
    const changed = now.map((v, k) => Math.abs(v - before[k]!));
    return {
      mean: changed.reduce((a, b) => a + b, 0) / changed.length,
      share: changed.filter((c) => c > SQUARE_STEP).length / changed.length,
    };
  });
  const usual = median(steps.flatMap((s) => (s === null ? [] : [s.mean])));
  return steps.flatMap((step, i): Finding[] => {
    if (step === null || step.share < WHOLE || step.mean < TIMES * Math.max(1, usual)) return [];
    const beside = [steps[i - 1]?.mean ?? 0, steps[i + 1]?.mean ?? 0];
    if (step.mean < 2 * Math.max(...beside)) return [];
    const at = frameOf(i);
    return [
      {
        kind: 'picture jump',
        from: at,
        to: at,
        text: `The whole picture jumps on frame ${at}: it is another one than on the frame before.`,
        advice: 'Spread the change over more frames, or cut where nothing else happens.',
        repair: null,
      },
    ];
  });
}

function lightJumps(looks: readonly (FrameLook | null)[], frameOf: (i: number) => number): Finding[] {
  const steps = looks.map((look, i) => {
    const before = looks[i - 1];
    if (look?.light == null || before?.light == null) return null;
    return Math.log2((look.light + 2) / (before.light + 2));
  });
  const usual = median(steps.flatMap((s) => (s === null ? [] : [Math.abs(s)])));
  return steps.flatMap((step, i): Finding[] => {
    if (step === null || Math.abs(step) < Math.max(LIGHT_STOPS, LIGHT_TIMES * usual)) return [];
    return [
      {
        kind: 'light jump',
        from: frameOf(i),
        to: frameOf(i),
        text: `Brightness ${step > 0 ? 'rises' : 'drops'} by ${Math.abs(step).toFixed(1)} stops in one frame, on ${frameOf(i)}.`,
        advice: 'Let what comes in fade over more frames, or even the light out with Exposure.',
        repair: null,
      },
    ];
  });
}

/** A change of light across a plain cut of pictures that are alike: there it shows. */
function lightAtCut(placed: PlacedJoin, [before, after]: readonly (FrameLook | null)[]): Finding[] {
  if (before?.result == null || after?.result == null || before.light === null || after.light === null) return [];
  const share = after.light / Math.max(1, before.light) - 1;
  if (Math.abs(share) < LIGHT_AT_CUT || correlation(before.result, after.result) < ALIKE) return [];
  return [
    {
      kind: 'light jump',
      from: placed.cut,
      to: placed.cut,
      text: `Both pictures of the cut are alike, but it gets ${Math.round(100 * Math.abs(share))} % ${share > 0 ? 'brighter' : 'darker'} at it.`,
      advice: 'Even the light out with Exposure on one of the shots.',
      repair: null,
    },
  ];
}

function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (v: readonly number[]): number => v.reduce((x, y) => x + y, 0) / v.length;
  const [ma, mb] = [mean(a), mean(b)];
  let [ab, aa, bb] = [0, 0, 0];
  a.forEach((v, i) => {
    ab += (v - ma) * (b[i]! - mb);
    aa += (v - ma) ** 2;
    bb += (b[i]! - mb) ** 2;
  });
  return aa * bb === 0 ? 0 : ab / Math.sqrt(aa * bb);
}
