import { boxBlur, lumaOf } from '../image/plane';
import { putPlane } from '../image/plane-memory';
import { createImage, createPlane, requireSize, type Image, type Plane } from '../image/pixels';
import { beginCall, kernels, NOTHING, putBytes, putFloats, reserve, reserveZeros, takeBytes, takeFloats } from '../kernels/kernels';
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
): FlowPair {
  requireSize(b, a.width, a.height, 'flowPair: b');
  const [levelsA, levelsB] = [prepareFlow(lumaOf(a)), prepareFlow(lumaOf(b))];
  return {
    a,
    b,
    levelsA,
    levelsB,
    forward: denseFlow(levelsA, levelsB, quality, start?.forward ?? null),
    backward: denseFlow(levelsB, levelsA, quality, start?.backward ?? null),
  };
}

/** Radius over which the difference under a motion is judged, in cells. */
const JUDGED = 2;

/**
 * The picture `share` (0..1) of the way from `a` to `b`. Each picture's own motion is splatted to the place between; under both, and
 * under none, colours come from both pictures, weighed by how well they agree there; what only one of them shows comes from that one.
 * `mixed` is how much of `b` the colours hold, `share` without it.
 */
export function between(pair: FlowPair, share: number, mixed = share, out: Image = createImage(pair.a.width, pair.a.height)): Image {
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
  const trusts = reserve(cells);
  const laid = [
    { field: first, own: ahead, other: back, from: planeA, to: planeB, at: share, shown: shown[0], miss: misses[0] },
    { field: second, own: back, other: ahead, from: planeB, to: planeA, at: 1 - share, shown: shown[1], miss: misses[1] },
  ];
  for (const { field, own, other, from, to, at, shown: seen, miss } of laid) {
    const middle = putEmptyField(field);
    kernels.splatFlow(from, to, own, other, at, trusts, middle);
    takeField(middle, field);
    // what a picture shows that the other lacks still comes by here; what it lacks leaves a hole
    seen.data.set(field.trust);
    layFilled(middle, cells, NOTHING);
    takeField(middle, field);
    const judged = reserve(cells);
    kernels.missAt(from, to, middle, at, judged);
    takeFloats(judged, miss.data);
  }
  const still = putEmptyField(first);
  const judged = reserve(cells);
  kernels.missAt(planeA, planeB, still, share, judged);
  takeFloats(judged, misses[2].data);
  for (const plane of [...misses, ...shown]) boxBlur(plane, JUDGED, plane);

  beginCall();
  const target = reserveZeros(a.data.length, 1);
  kernels.blendBetween(
    putBytes(a.data as Uint8ClampedArray),
    putBytes(b.data as Uint8ClampedArray),
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
