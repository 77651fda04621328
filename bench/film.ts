/* The comparison library's types leave its matrices' contents open. */
/* eslint-disable @typescript-eslint/no-unsafe-argument */
import { join } from 'node:path';
import { readTruth, type Truth } from '../demo/truth';
import type { Image } from '../src/core/image/pixels';
import { COLOUR_KEY, keyCoverage } from '../src/core/matte/key/key';
import { edgeError } from './measures';
import { findCrossing } from '../src/core/track/crossing';
import { PlaneFollower } from '../src/core/track/plane-follower';
import type { Corner } from '../src/core/track/plane-template';
import { AnalysisFrames } from '../src/server/video/analysis-frames';
import { rootFolder } from '../src/server/base/data-folder';
import { probe } from '../src/server/video/ffmpeg';
import type { Line } from './line';
import { carryByFlow, carryOurs, H, W } from './mattes';
import { greyOf, matOf, openCv } from './opencv';

/** Frames of a shot of the demo film, brought to a size. */
export async function framesOf(shot: string, first: number, last: number, width: number, height: number): Promise<Image[]> {
  const path = join(rootFolder(), 'demo/media', `${shot}.webm`);
  const frames = new AnalysisFrames({ path, probe: await probe(path) }, width, height);
  const pictures: Image[] = [];
  try {
    for (let n = first; n <= last; n++) pictures.push(await frames.frame(n));
  } finally {
    frames.close();
  }
  return pictures;
}

/** A truth matte at W × H, by averaging. */
export function truthAt(truth: Truth, frame: number): Uint8Array {
  const matte = truth.matte(frame);
  const out = new Uint8Array(W * H);
  const scale = truth.matteWidth / W;
  for (let y = 0, o = 0; y < H; y++)
    for (let x = 0; x < W; x++, o++) {
      let sum = 0;
      for (let k = 0; k < 9; k++) {
        const u = Math.floor((x + (k % 3) / 3 + 1 / 6) * scale);
        const v = Math.floor((y + Math.floor(k / 3) / 3 + 1 / 6) * scale);
        sum += matte[v * truth.matteWidth + u]!;
      }
      out[o] = Math.round(sum / 9);
    }
  return out;
}

const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);
const three = (v: number): string => v.toFixed(3);

/** Subjects carried over 16 frames from one frame's truth; backwards where the first number is the larger. */
const CARRIED: readonly (readonly [string, number, number])[] = [
  ['bench-loupe', 80, 96],
  ['mender-take-1', 40, 56],
  ['cart-arrive', 60, 44],
  ['street-tram', 76, 92],
];

async function carryLines(): Promise<Line[]> {
  const lines: Line[] = [];
  for (const [name, from, to] of CARRIED) {
    const truth = readTruth(name, rootFolder());
    const pictures = await framesOf(name, Math.min(from, to), Math.max(from, to), W, H);
    if (to < from) pictures.reverse();
    const step = Math.sign(to - from);
    const mattes = pictures.map((_, i) => truthAt(truth, from + step * i));
    const shot = { name, frames: pictures, mattes };
    const [own, flow] = [carryOurs(shot), await carryByFlow(shot)];
    lines.push({
      what: `film, ${name}: carry 16 frames, J / F / edge error`,
      value: `${three(own.j)} / ${three(own.f)} / ${three(own.edge)}`,
      against: `OpenCV flow and warp ${three(flow.j)} / ${three(flow.f)} / ${three(flow.edge)}`,
    });
  }
  return lines;
}

/** The figure stands on a turned stand that its matte does not hold; only what lies above it is compared. */
const ABOVE_STAND = 0.72;

async function keyLine(): Promise<Line> {
  const cv = await openCv();
  const truth = readTruth('figure-a', rootFolder());
  const pictures = await framesOf('figure-a', 24, 48, W, H);
  const rows = Math.floor(ABOVE_STAND * H);
  const corner = 4 * (20 * W + 40);
  const colour = [...pictures[0]!.data.subarray(corner, corner + 3)] as [number, number, number];
  const found = new Uint8Array(W * H);
  const errors: { readonly ours: number; readonly theirs: number }[] = [];
  let [ourMs, theirMs] = [0, 0];
  pictures.forEach((picture, i) => {
    const wanted = truthAt(truth, 24 + i).subarray(0, rows * W);
    let began = performance.now();
    keyCoverage(picture, { ...COLOUR_KEY, colour }, found);
    ourMs += performance.now() - began;
    const ours = edgeError(found.subarray(0, rows * W), wanted, W, rows);
    began = performance.now();
    const [rgb, hsv, mask] = [matOf(cv, picture), new cv.Mat(), new cv.Mat()];
    cv.cvtColor(rgb, hsv, cv.COLOR_RGB2HSV);
    const [low, high] = [
      new cv.Mat(H, W, hsv.type(), new cv.Scalar(45, 80, 20)),
      new cv.Mat(H, W, hsv.type(), new cv.Scalar(85, 255, 255)),
    ];
    cv.inRange(hsv, low, high, mask);
    cv.bitwise_not(mask, mask);
    theirMs += performance.now() - began;
    const theirs = edgeError(Uint8Array.from(mask.data as Uint8Array).subarray(0, rows * W), wanted, W, rows);
    for (const m of [rgb, hsv, mask, low, high]) m.delete();
    errors.push({ ours, theirs });
  });
  return {
    what: 'film, figure-a: colour key from one click, edge error / ms a frame',
    value: `${three(mean(errors.map((e) => e.ours)))} / ${(ourMs / pictures.length).toFixed(1)}`,
    against: `OpenCV range of hue ${three(mean(errors.map((e) => e.theirs)))} / ${(theirMs / pictures.length).toFixed(1)}`,
  };
}

async function crossingLine(): Promise<Line> {
  const cv = await openCv();
  const [width, height] = [240, 135];
  const truth = readTruth('street-tram', rootFolder());
  const pictures = await framesOf('street-tram', 0, truth.frames - 1, width, height);
  const scale = truth.matteWidth / width;
  const edgeOf = (frame: number, y: number): number => {
    const row = truth.matte(frame).subarray(Math.floor(y * scale) * truth.matteWidth, (Math.floor(y * scale) + 1) * truth.matteWidth);
    return (row.findLastIndex((v) => v >= 128) + 1) / scale;
  };
  let began = performance.now();
  const crossing = findCrossing(pictures);
  const ourMs = performance.now() - began;
  const ours: number[] = [];
  const theirs: number[] = [];
  began = performance.now();
  const plate = greyOf(cv, pictures.at(-1)!);
  for (const { frame, at } of crossing?.edges ?? []) {
    const [grey, difference] = [greyOf(cv, pictures[frame]!), new cv.Mat()];
    cv.absdiff(grey, plate, difference);
    cv.threshold(difference, difference, 20, 255, cv.THRESH_BINARY);
    cv.morphologyEx(difference, difference, cv.MORPH_OPEN, cv.Mat.ones(3, 3, cv.CV_8U));
    for (let y = 4; y < height - 4; y += 6) {
      const wanted = edgeOf(frame, y);
      if (wanted < 4 || wanted > width - 4) continue;
      ours.push(Math.abs(at[y]! - wanted));
      const row = (difference.data as Uint8Array).subarray(y * width, (y + 1) * width);
      theirs.push(Math.abs(row.findLastIndex((v) => v > 0) + 1 - wanted));
    }
    for (const m of [grey, difference]) m.delete();
  }
  const theirMs = performance.now() - began;
  plate.delete();
  return {
    what: 'film, street-tram: trailing edge, mean error at 240 px / ms for 120 frames',
    value: `${mean(ours).toFixed(2)} px / ${ourMs.toFixed(0)}`,
    against: `OpenCV difference to the empty street ${mean(theirs).toFixed(2)} px / ${theirMs.toFixed(0)}`,
  };
}

async function followLine(): Promise<Line> {
  const [first, last] = [84, 118];
  const truth = readTruth('bench-loupe', rootFolder());
  const [width, height] = [720, 405];
  const scale = width / 1280;
  const cornersAt = (frame: number): Corner[] => {
    const [cx, cy] = truth.point('glass centre', frame);
    return [0, 3, 6, 9].map((i) => {
      const [x, y] = truth.point(`glass rim ${i}`, frame);
      return [(cx + 1.5 * (x - cx)) * scale, (cy + 1.5 * (y - cy)) * scale];
    });
  };
  const pictures = await framesOf('bench-loupe', first, last, width, height);
  const began = performance.now();
  const follower = new PlaneFollower(pictures[0]!, cornersAt(first), 'affine');
  const errors = pictures.slice(1).map((picture, i) => {
    const { corners } = follower.step(picture);
    return mean(cornersAt(first + 1 + i).map(([x, y], k) => Math.hypot(corners[k]![0] - x, corners[k]![1] - y)));
  });
  const fps = (1000 * errors.length) / (performance.now() - began);
  return {
    what: 'film, bench-loupe: follow the loupe 34 frames, corner error at 720 px / frames a second',
    value: `${mean(errors).toFixed(2)} px / ${fps.toFixed(0)}`,
    against: 'its glass shows another picture on every frame, and the room behind it moves otherwise',
  };
}

/** What is measured on the demo film, whose truth the renderer wrote. */
export async function benchFilm(): Promise<Line[]> {
  return [...(await carryLines()), await keyLine(), await crossingLine(), await followLine()];
}
