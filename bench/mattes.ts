/* The comparison library's types leave its matrices' contents open. */
/* eslint-disable @typescript-eslint/no-unsafe-argument */
import { createPlane, type Image, type Plane } from '../src/core/image/pixels';
import { sampleBilinear } from '../src/core/image/plane';
import { edgeError, edgeFlicker, regionAndContour } from './measures';
import { refineCoverage } from '../src/core/matte/edge/refine-coverage';
import { bytesOf, planeOf, resized } from '../src/core/matte/coverage/resize';
import { TimeSmoother } from '../src/core/matte/carry/smooth-time';
import { carryAll } from './carry-all';
import { photoLike } from './known-pictures';
import type { Line } from './line';
import { greyOf, openCv } from './opencv';
import { renderShot, type KnownShot, type ShotRecipe } from './synthetic-shots';

/** Size of the pictures that mattes are measured on. */
export const [W, H] = [384, 216];
const FRAMES = 17;

const base: ShotRecipe = {
  name: 'plain',
  width: W,
  height: H,
  frames: FRAMES,
  seed: 1,
  background: photoLike(520, 300, 11, 0.1),
  subject: photoLike(320, 320, 40, 0.5),
  radius: 0.26,
  travel: 0.2,
  turn: 0.4,
  growth: 0.1,
  bend: 0.04,
  arm: 0,
  camera: 0.06,
  noise: 3,
  shutter: 0.4,
  occluder: false,
};

/** Noise, blur and a moving camera in all; one more difficulty in each but the first. */
export const SHOTS: readonly ShotRecipe[] = [
  base,
  { ...base, name: 'similar colours', seed: 2, subject: photoLike(320, 320, 60, 0.14), growth: 0 },
  { ...base, name: 'bending, with an arm', seed: 3, subject: photoLike(320, 320, 80, 0.8), bend: 0.1, arm: 0.5 },
  { ...base, name: 'something in front', seed: 4, subject: photoLike(320, 320, 90, 0.6), occluder: true, travel: 0.1 },
  { ...base, name: 'coming in over the border', seed: 5, subject: photoLike(320, 320, 30, 0.5), travel: 0.86, turn: 0.1 },
  { ...base, name: 'turning a side into view', seed: 6, subject: photoLike(320, 320, 70, 0.6), bend: 0.02, turn: 0.1, side: 0.9 },
];

export const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);

interface Quality {
  readonly j: number;
  readonly f: number;
  readonly edge: number;
  readonly flicker: number;
  readonly framesPerSecond: number;
}

function judge(shot: KnownShot, mattes: readonly Uint8Array[], milliseconds: number): Quality {
  const js: number[] = [];
  const fs: number[] = [];
  const edges: number[] = [];
  const flickers: number[] = [];
  mattes.forEach((found, k) => {
    const truth = shot.mattes[k + 1]!;
    const { j, f } = regionAndContour(found, truth, W, H);
    js.push(j);
    fs.push(f);
    edges.push(edgeError(found, truth, W, H));
    if (k > 0) flickers.push(edgeFlicker({ found: mattes[k - 1]!, truth: shot.mattes[k]! }, { found, truth }, W, H));
  });
  return { j: mean(js), f: mean(fs), edge: mean(edges), flicker: mean(flickers), framesPerSecond: (1000 * mattes.length) / milliseconds };
}

/** Carries, and takes jitter out of what was carried when `strength` is not 0. */
export function carryOurs(shot: KnownShot, strength = 0): Quality {
  const alpha = createPlane(W, H);
  shot.mattes[0]!.forEach((v, i) => (alpha.data[i] = v / 255));
  const began = performance.now();
  const carried = carryAll(shot.frames, alpha).map((m) => m.coverage);
  const mattes = strength === 0 ? carried.map((c) => c.data) : smoothed(shot.frames.slice(1), carried.map(planeOf), strength);
  return judge(shot, mattes, performance.now() - began);
}

function smoothed(frames: readonly Image[], mattes: readonly Plane[], strength: number): Uint8Array[] {
  const smoother = new TimeSmoother(strength);
  const out = frames.map((frame, i) => smoother.next(frame, mattes[i]!)).filter((m) => m !== null);
  return [...out, smoother.end()!].map((m) => m.data);
}

/** Dense flow of the library from each frame back to the one before, the matte warped along. */
export async function carryByFlow(shot: KnownShot): Promise<Quality> {
  const cv = await openCv();
  const began = performance.now();
  let matte: Plane = { width: W, height: H, data: Float32Array.from(shot.mattes[0]!, (v) => v / 255) };
  const mattes: Uint8Array[] = [];
  for (let k = 1; k < shot.frames.length; k++) {
    const [from, to, flow] = [greyOf(cv, shot.frames[k]!), greyOf(cv, shot.frames[k - 1]!), new cv.Mat()];
    cv.calcOpticalFlowFarneback(from, to, flow, 0.5, 4, 15, 3, 5, 1.2, 0);
    const next = createPlane(W, H);
    for (let i = 0; i < next.data.length; i++)
      next.data[i] = sampleBilinear(matte, (i % W) + 0.5 + flow.data32F[2 * i]!, Math.floor(i / W) + 0.5 + flow.data32F[2 * i + 1]!);
    for (const m of [from, to, flow]) m.delete();
    matte = next;
    mattes.push(bytesOf(next));
  }
  return judge(shot, mattes, performance.now() - began);
}

/** A matte kept at half the picture's size and drawn at the whole: error within 3 px of the edge, and time. */
async function enlargeBoth(): Promise<Line> {
  const cv = await openCv();
  const [width, height] = [2 * W, 2 * H];
  const [ours, theirs]: [number[], number[]] = [[], []];
  let [ourMs, theirMs] = [0, 0];
  for (const recipe of SHOTS) {
    const shot = renderShot({ ...recipe, width, height, frames: 1 });
    const [picture, truth] = [shot.frames[0]!, shot.mattes[0]!];
    const full: Plane = { width, height, data: Float32Array.from(truth, (v) => v / 255) };
    const stored = { width: W, height: H, data: bytesOf(resized(full, W, H)) };
    let began = performance.now();
    const refined = refineCoverage(stored, picture);
    ourMs += performance.now() - began;
    ours.push(edgeError(refined.data, truth, width, height, 3));
    const small = cv.matFromArray(H, W, cv.CV_8UC1, [...stored.data]);
    const large = new cv.Mat();
    began = performance.now();
    cv.resize(small, large, new cv.Size(width, height), 0, 0, cv.INTER_CUBIC);
    theirMs += performance.now() - began;
    theirs.push(edgeError(Uint8Array.from(large.data as Uint8Array), truth, width, height, 3));
    for (const m of [small, large]) m.delete();
  }
  const ms = (total: number): string => (total / SHOTS.length).toFixed(0);
  return {
    what: `matte of ${W}×${H} drawn at twice the size: error within 3 px of the edge / ms`,
    value: `${two(mean(ours))} / ${ms(ourMs)}`,
    against: `OpenCV resize, cubic ${two(mean(theirs))} / ${ms(theirMs)}`,
  };
}

const two = (v: number): string => v.toFixed(3);

/** Mattes and tracks against exact truth and against OpenCV's build for JavaScript on the same frames. */
export async function benchMattes(): Promise<Line[]> {
  const lines: Line[] = [];
  lines.push(await enlargeBoth());
  for (const recipe of SHOTS) {
    const shot = renderShot(recipe);
    const [own, smooth, flow] = [carryOurs(shot), carryOurs(shot, 1), await carryByFlow(shot)];
    lines.push(
      {
        what: `carry ${FRAMES - 1} frames, ${recipe.name}: J / F`,
        value: `${two(own.j)} / ${two(own.f)}`,
        against: `OpenCV flow and warp ${two(flow.j)} / ${two(flow.f)}`,
      },
      {
        what: `  edge error / flicker / frames a second`,
        value: `${two(own.edge)} / ${two(own.flicker)} / ${own.framesPerSecond.toFixed(1)}`,
        against: `${two(flow.edge)} / ${two(flow.flicker)} / ${flow.framesPerSecond.toFixed(1)}`,
      },
      {
        what: `  the same, smoothed over time`,
        value: `${two(smooth.edge)} / ${two(smooth.flicker)} / ${smooth.framesPerSecond.toFixed(1)}`,
        against: `as carried ${two(own.edge)} / ${two(own.flicker)}`,
      },
    );
  }
  return lines;
}
