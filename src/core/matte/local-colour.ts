import { ColourModel, type Features } from './colour-model';

/** What one window along the edge knows of the colours on both sides. */
interface Window {
  readonly x: number;
  readonly y: number;
  readonly inside: ColourModel;
  readonly outside: ColourModel;
  /** How well the colours tell the sides apart in the frame they were learnt from, 0..1. */
  readonly trust: number;
}

const RADIUS = 28;
const SPACING = 26;
/** Log density under which a colour counts as never seen: some four standard deviations off. */
const UNKNOWN = -18;
/** Pixels this close to the edge may be mixtures and teach nothing. */
const MIXED_PX = 2;
/** How far from the edge a pixel's colour still matters for a window's trust. */
const NEAR_PX = 12;
/** Colours a side, the pixels each side's are learnt from, and the rounds of fitting them. */
const COLOURS = 3;
const SAMPLES = 140;
const ROUNDS = 2;

/**
 * Overlapping windows along a matte's edge, each with its own colours inside and outside and its own trust in them
 * (Bai et al. 2009). Learnt on one frame, asked on the next after the windows have moved along.
 */
export class LocalColours {
  private readonly windows: readonly Window[];

  private constructor(windows: readonly Window[]) {
    this.windows = windows;
  }

  /** `signed` is the distance to the edge, positive inside, of the frame whose `features` are given. */
  static learn(features: Features, signed: Float32Array, width: number, height: number): LocalColours {
    const windows: Window[] = [];
    const taken = new Uint8Array(Math.ceil(width / SPACING) * Math.ceil(height / SPACING));
    const across = Math.ceil(width / SPACING);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        if (Math.abs(signed[y * width + x]!) > 1) continue;
        const cell = Math.floor(y / SPACING) * across + Math.floor(x / SPACING);
        if (taken[cell] === 1) continue;
        taken[cell] = 1;
        const window = learnWindow(features, signed, width, height, x, y);
        if (window !== null) windows.push(window);
      }
    }
    return new LocalColours(windows);
  }

  /**
   * For every pixel of `band`, the windows' vote for inside against outside as a log ratio, weighted by trust and
   * nearness; 0 where nobody knows. `move` gives where a window's centre has gone.
   */
  vote(
    features: Features,
    band: Uint8Array,
    width: number,
    height: number,
    move: (x: number, y: number) => readonly [number, number],
  ): Float32Array {
    const ratios = new Float32Array(band.length);
    const votes = new Float32Array(band.length);
    for (const { x, y, inside, outside, trust } of this.windows) {
      if (trust < 0.05) continue;
      const [cx, cy] = move(x, y);
      const left = Math.max(0, Math.round(cx) - RADIUS);
      const right = Math.min(width - 1, Math.round(cx) + RADIUS);
      const bottom = Math.min(height - 1, Math.round(cy) + RADIUS);
      for (let py = Math.max(0, Math.round(cy) - RADIUS); py <= bottom; py++) {
        for (let px = left, i = py * width + left; px <= right; px++, i++) {
          if (band[i] === 0) continue;
          const squared = (px - cx) * (px - cx) + (py - cy) * (py - cy);
          const weight = trust * (1 - squared / (1.4 * RADIUS * RADIUS));
          if (weight <= 0) continue;
          const p = 3 * i;
          const a = features[p]!;
          const b = features[p + 1]!;
          const c = features[p + 2]!;
          const ins = inside.logDensity(a, b, c);
          const outs = outside.logDensity(a, b, c);
          // a colour that neither side has shown says little
          const known = Math.max(ins, outs) < UNKNOWN ? 0.25 : 1;
          ratios[i]! += known * weight * Math.max(-4, Math.min(4, ins - outs));
          votes[i]! += weight;
        }
      }
    }
    for (let i = 0; i < ratios.length; i++) if (votes[i]! > 0) ratios[i] = (ratios[i]! / votes[i]!) * Math.min(1, votes[i]!);
    return ratios;
  }
}

/** Pixels of the window being learnt, inside and outside. */
const ins = new Int32Array((RADIUS + 1) ** 2);
const outs = new Int32Array((RADIUS + 1) ** 2);

function learnWindow(features: Features, signed: Float32Array, width: number, height: number, x: number, y: number): Window | null {
  let insides = 0;
  let outsides = 0;
  const bottom = Math.min(height - 1, y + RADIUS);
  const right = Math.min(width - 1, x + RADIUS);
  // every other pixel of every other row: neighbours teach the same
  for (let py = Math.max(0, y - RADIUS); py <= bottom; py += 2) {
    for (let px = Math.max(0, x - RADIUS), i = py * width + px; px <= right; px += 2, i += 2) {
      const d = signed[i]!;
      if (d > MIXED_PX) ins[insides++] = i;
      else if (d < -MIXED_PX) outs[outsides++] = i;
    }
  }
  const inside = ColourModel.fit(features, ins.subarray(0, insides), COLOURS, SAMPLES, ROUNDS);
  const outside = ColourModel.fit(features, outs.subarray(0, outsides), COLOURS, SAMPLES, ROUNDS);
  if (inside === null || outside === null) return null;
  const told = { right: 0, all: 0 };
  judgeColours(features, signed, ins, insides, inside, outside, told);
  judgeColours(features, signed, outs, outsides, outside, inside, told);
  const accuracy = told.all === 0 ? 0.5 : told.right / told.all;
  return { x, y, inside, outside, trust: Math.max(0, 2 * accuracy - 1) ** 1.5 };
}

/** Adds up how surely `own` colours are told from the `other` side's at the pixels `at`; those near the edge matter most. */
function judgeColours(
  features: Features,
  signed: Float32Array,
  at: Int32Array,
  count: number,
  own: ColourModel,
  other: ColourModel,
  told: { right: number; all: number },
): void {
  for (let k = 0; k < count; k += 2) {
    const i = at[k]!;
    const a = features[3 * i]!;
    const b = features[3 * i + 1]!;
    const c = features[3 * i + 2]!;
    const d = signed[i]! / NEAR_PX;
    const weight = Math.exp(-0.5 * d * d);
    told.right += weight / (1 + Math.exp(other.logDensity(a, b, c) - own.logDensity(a, b, c)));
    told.all += weight;
  }
}
