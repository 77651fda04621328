import type { Pointer } from '../../kernels/kernel-exports';
import {
  beginCall,
  kernels,
  putBytes,
  putDoubles,
  putFloats,
  layDoubles,
  layInts,
  reserve,
  takeDoubles,
  takeFloats,
} from '../../kernels/kernels';
import { ColourModel, reserveFit, type Features, type FitRoom } from './colour-model';

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
/** Pixels this close to the edge may be mixtures and teach nothing. */
const MIXED_PX = 2;
/** A window trusted less than this is not asked. */
const LEAST_TRUST = 0.05;
/** How far from the edge a pixel's colour still matters for a window's trust. */
const NEAR_PX = 12;
/** Colours a side, the pixels each side's are learnt from, and the rounds of fitting them. */
const FITTING = { count: 3, most: 140, rounds: 2 };

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
    beginCall();
    const lesson = {
      features: putFloats(features),
      signed: putFloats(signed),
      room: reserveFit(FITTING),
      ins: reserve(ins.length),
      outs: reserve(outs.length),
      told: reserve(2, 8),
    };
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        if (Math.abs(signed[y * width + x]!) > 1) continue;
        const cell = Math.floor(y / SPACING) * across + Math.floor(x / SPACING);
        if (taken[cell] === 1) continue;
        taken[cell] = 1;
        const window = learnWindow(lesson, signed, width, height, x, y);
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
    beginCall();
    const [colours, asked, saying, weights] = [putFloats(features), putBytes(band), putFloats(ratios), putFloats(votes)];
    for (const { x, y, inside, outside, trust } of this.windows) {
      if (trust < LEAST_TRUST) continue;
      const [cx, cy] = move(x, y);
      const [own, other] = [putDoubles(inside.components), putDoubles(outside.components)];
      kernels.vote(colours, asked, width, height, cx, cy, RADIUS, own, inside.count, other, outside.count, trust, saying, weights);
    }
    takeFloats(saying, ratios);
    takeFloats(weights, votes);
    for (let i = 0; i < ratios.length; i++) if (votes[i]! > 0) ratios[i] = (ratios[i]! / votes[i]!) * Math.min(1, votes[i]!);
    return ratios;
  }
}

/** Pixels of the window being learnt, inside and outside. */
const ins = new Int32Array((RADIUS + 1) ** 2);
const outs = new Int32Array((RADIUS + 1) ** 2);

/** A frame to learn from and room to do it, within a call. */
interface Lesson {
  readonly features: Pointer;
  readonly signed: Pointer;
  readonly room: FitRoom;
  readonly ins: Pointer;
  readonly outs: Pointer;
  readonly told: Pointer;
}

function learnWindow(lesson: Lesson, signed: Float32Array, width: number, height: number, x: number, y: number): Window | null {
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
  layInts(ins, lesson.ins);
  layInts(outs, lesson.outs);
  const inside = ColourModel.fitWithin(lesson.features, lesson.ins, insides, FITTING, lesson.room);
  const outside = ColourModel.fitWithin(lesson.features, lesson.outs, outsides, FITTING, lesson.room);
  if (inside === null || outside === null) return null;
  const accuracy = accuracyOf(inside, outside, lesson, insides, outsides);
  return { x, y, inside, outside, trust: Math.max(0, 2 * accuracy - 1) ** 1.5 };
}

/** How surely two sides' colours tell the lesson's pixels apart, those near the edge most: 0..1, 0.5 by chance. */
function accuracyOf(inside: ColourModel, outside: ColourModel, lesson: Lesson, insides: number, outsides: number): number {
  const { features, signed, ins, outs, told } = lesson;
  const own = layDoubles(inside.components, lesson.room.scratch);
  const other = layDoubles(outside.components, own + 8 * inside.components.length);
  const sums = new Float64Array(2);
  layDoubles(sums, told);
  kernels.judgeColours(features, signed, ins, insides, own, inside.count, other, outside.count, NEAR_PX, told);
  kernels.judgeColours(features, signed, outs, outsides, other, outside.count, own, inside.count, NEAR_PX, told);
  takeDoubles(told, sums);
  return sums[1] === 0 ? 0.5 : sums[0]! / sums[1]!;
}
