import { boxBlur, lumaOf } from '../image/plane';
import { putPlane } from '../image/plane-memory';
import { createImage, createPlane, requireSize, type Image } from '../image/pixels';
import { beginCall, kernels, NOTHING, putBytes, reserve, reserveZeros, takeBytes, takeFloats } from '../kernels/kernels';
import { denseFlow, prepareFlow, type FlowPicture, type FlowQuality } from './dense-flow';
import { putEmptyField, putField, takeField, type FlowField } from './field';
import { emptyField, layFilled } from './flow-field';

/** Two pictures of one size with the motion between them, both ways. */
export interface FlowPair {
  readonly a: Image;
  readonly b: Image;
  readonly levelsA: FlowPicture;
  readonly levelsB: FlowPicture;
  readonly forward: FlowField;
  readonly backward: FlowField;
}

/** Finds the motion between two pictures of one size, both ways. `start` is that of the pair before, where pictures follow each other. */
export function flowPair(
  a: Image,
  b: Image,
  quality: FlowQuality,
  start: Pick<FlowPair, 'forward' | 'backward'> | null = null,
  smooth?: number,
): FlowPair {
  requireSize(b, a.width, a.height, 'flowPair: b');
  const [levelsA, levelsB] = [prepareFlow(lumaOf(a)), prepareFlow(lumaOf(b))];
  return {
    a,
    b,
    levelsA,
    levelsB,
    forward: denseFlow(levelsA, levelsB, quality, start?.forward ?? null, smooth),
    backward: denseFlow(levelsB, levelsA, quality, start?.backward ?? null, smooth),
  };
}

/** Brightness difference, in 8-bit steps, at which a motion is believed e times less, for the same thing and for different things. */
const ALIKE = 12;
const UNLIKE = 80;
/** What full disagreement of both directions counts as, and a plain fade, in the 8-bit steps that likeness is judged in. */
const DISAGREED = 20;
const FADED = 6;
/** Radius over which the difference under a motion is judged, in cells. */
const JUDGED = 2;

/** How a picture between two is made. */
export interface BetweenOptions {
  /** How much of b the colours hold, 0..1; as far as the motion has gone without it. */
  readonly mixed?: number;
  /** What chooses between a motion and a plain fade: how alike both pictures are under it, or, for pictures of different things, how well both directions agree. */
  readonly by?: 'likeness' | 'agreement';
}

/**
 * The picture `share` (0..1) of the way from `a` to `b`. Each picture's own motion is splatted to the place between; under both, and
 * under none, colours come from both pictures, weighed by how well they agree there; what only one of them shows comes from that one.
 */
export function between(
  pair: FlowPair,
  share: number,
  { mixed = share, by = 'likeness' }: BetweenOptions = {},
  out: Image = createImage(pair.a.width, pair.a.height),
): Image {
  const { a, b, forward, backward } = pair;
  const level = Math.log2(forward.step);
  const [lumaA, lumaB] = [pair.levelsA[level]!, pair.levelsB[level]!];
  const { width, height } = lumaA;
  const region = { left: 0, top: 0, right: width, bottom: height };
  const cells = width * height;
  const [first, second] = [emptyField(region, forward.step), emptyField(region, forward.step)];
  const misses = [createPlane(width, height), createPlane(width, height), createPlane(width, height)] as const;
  const shown = [createPlane(width, height), createPlane(width, height)] as const;

  beginCall();
  const [planeA, planeB] = [putPlane(lumaA), putPlane(lumaB)];
  const [ahead, back] = [putField(forward), putField(backward)];
  const alike = by === 'likeness';
  const laid = [
    { field: first, own: ahead, other: back, from: planeA, to: planeB, at: share, shown: shown[0], miss: misses[0] },
    { field: second, own: back, other: ahead, from: planeB, to: planeA, at: 1 - share, shown: shown[1], miss: misses[1] },
  ];
  for (const { field, own, other, from, to, at, shown: seen, miss } of laid) {
    const middle = putEmptyField(field);
    const agreed = reserveZeros(cells);
    kernels.splatFlow(from, to, own, other, at, alike ? ALIKE : UNLIKE, agreed, middle);
    takeField(middle, field);
    // what a picture shows that the other lacks still comes by here; what it lacks leaves a hole
    seen.data.set(field.trust);
    layFilled(middle, cells, NOTHING);
    takeField(middle, field);
    if (!alike) {
      takeFloats(agreed, miss.data);
      for (let i = 0; i < cells; i++) miss.data[i] = DISAGREED * (1 - miss.data[i]!);
      continue;
    }
    const judged = reserve(cells);
    kernels.missAt(from, to, middle, at, judged);
    takeFloats(judged, miss.data);
  }
  if (alike) {
    const judged = reserve(cells);
    kernels.missAt(planeA, planeB, putEmptyField(first), share, judged);
    takeFloats(judged, misses[2].data);
  } else misses[2].data.fill(FADED);
  for (const plane of [...misses, ...shown]) boxBlur(plane, JUDGED, plane);

  beginCall();
  const target = reserveZeros(a.data.length, 1);
  kernels.blendBetween(
    putBytes(a.data),
    putBytes(b.data),
    a.width,
    a.height,
    putField(first),
    putField(second),
    share,
    mixed,
    ...(misses.map((p) => putPlane(p)) as [number, number, number]),
    ...(shown.map((p) => putPlane(p)) as [number, number]),
    target,
  );
  takeBytes(target, out.data);
  return out;
}
