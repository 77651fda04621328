/* The comparison library's types leave its constants open. */
/* eslint-disable @typescript-eslint/no-unsafe-argument */
import { join } from 'node:path';
import { between, flowPair } from '../src/core/flow/between';
import { createImage, type Image } from '../src/core/image/pixels';
import { lumaOf } from '../src/core/image/plane';
import { warped, warpGrid } from '../src/core/morph/feature-warp';
import { cameraStep, pathOfSteps } from '../src/core/pair/borrowed-move';
import { placedTwice } from '../src/core/pair/placement';
import { meltFrames } from '../src/core/morph/melt';
import { PairFinder } from '../src/core/pair/find-pairs';
import { SIGNS_WIDTH } from '../src/core/pair/frame-signs';
import { AnalysisFrames } from '../src/server/video/analysis-frames';
import { rootFolder } from '../src/server/base/data-folder';
import { probe } from '../src/server/video/ffmpeg';
import { medianMs, type Line } from './line';
import { greyOf, openCv } from './opencv';

const [WIDTH, HEIGHT] = [960, 540];
/** Shots and frames from which pictures in the middle are told. */
const MIDDLES = [
  ['street-tram', 50],
  ['shop-pan', 20],
  ['bench-loupe', 60],
  ['toss-lantern', 30],
  ['cart-arrive', 30],
  ['figure-a', 40],
  ['hill-wide', 20],
  ['bell-tower', 30],
] as const;

async function frames(name: string, numbers: readonly number[], width = WIDTH, height = HEIGHT): Promise<Image[]> {
  const path = join(rootFolder(), 'demo/media', `${name}.webm`);
  const reader = new AnalysisFrames({ path, probe: await probe(path) }, width, height);
  const out: Image[] = [];
  for (const n of numbers) {
    const image = createImage(width, height);
    image.data.set((await reader.frame(n)).data);
    out.push(image);
  }
  reader.close();
  return out;
}

function psnr(a: Image, b: Image): number {
  let sum = 0;
  for (let i = 0; i < a.data.length; i++) if (i % 4 !== 3) sum += (a.data[i]! - b.data[i]!) ** 2;
  return 10 * Math.log10((255 * 255) / (sum / (0.75 * a.data.length)));
}

function mixed(pictures: readonly Image[]): Image {
  const out = createImage(WIDTH, HEIGHT);
  for (let i = 0; i < out.data.length; i++) out.data[i] = pictures.reduce((sum, p) => sum + p.data[i]!, 0) / pictures.length;
  return out;
}

type Flow = Float32Array;

/** The library's flow both ways, read backwards to the middle and averaged. */
async function byLibrary(): Promise<(a: Image, b: Image) => { readonly picture: Image; readonly ms: number }> {
  const cv = await openCv();
  const read = (from: Image, flow: Flow, share: number): Image => {
    const out = createImage(WIDTH, HEIGHT);
    for (let y = 0, i = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++, i++) {
        const px = Math.max(0, Math.min(WIDTH - 1.001, x + share * flow[2 * i]!));
        const py = Math.max(0, Math.min(HEIGHT - 1.001, y + share * flow[2 * i + 1]!));
        const [left, top] = [Math.floor(px), Math.floor(py)];
        const [fx, fy] = [px - left, py - top];
        const o = 4 * (top * WIDTH + left);
        for (let k = 0; k < 3; k++) {
          const upper = from.data[o + k]! * (1 - fx) + from.data[o + k + 4]! * fx;
          const lower = from.data[o + k + 4 * WIDTH]! * (1 - fx) + from.data[o + k + 4 * WIDTH + 4]! * fx;
          out.data[4 * i + k] = upper * (1 - fy) + lower * fy;
        }
      }
    return out;
  };
  return (a, b) => {
    const [ga, gb] = [greyOf(cv, a), greyOf(cv, b)];
    const [ahead, back] = [new cv.Mat(), new cv.Mat()];
    const began = performance.now();
    cv.calcOpticalFlowFarneback(ga, gb, ahead, 0.5, 5, 15, 3, 5, 1.1, 0);
    cv.calcOpticalFlowFarneback(gb, ga, back, 0.5, 5, 15, 3, 5, 1.1, 0);
    const ms = performance.now() - began;
    const [f, g] = [Float32Array.from(ahead.data32F), Float32Array.from(back.data32F)];
    for (const m of [ga, gb, ahead, back]) m.delete();
    return { picture: mixed([read(a, f, -0.5), read(b, f, 0.5), read(b, g, -0.5), read(a, g, 0.5)]), ms };
  };
}

async function middleLines(): Promise<Line[]> {
  const library = await byLibrary();
  const lines: Line[] = [];
  let [oursMs, theirsMs] = [Infinity, Infinity];
  for (const gap of [2, 8]) {
    let [ours, theirs, fade] = [0, 0, 0];
    for (const [name, first] of MIDDLES) {
      const [a, truth, b] = (await frames(name, [first, first + gap / 2, first + gap])) as [Image, Image, Image];
      const began = performance.now();
      const made = between(flowPair(a, b, 'fine'), 0.5);
      oursMs = Math.min(oursMs, performance.now() - began);
      const known = library(a, b);
      theirsMs = Math.min(theirsMs, known.ms);
      ours += psnr(made, truth) / MIDDLES.length;
      theirs += psnr(known.picture, truth) / MIDDLES.length;
      fade += psnr(mixed([a, b]), truth) / MIDDLES.length;
    }
    lines.push({
      what: `picture in the middle of two ${gap} frames apart, 960×540: PSNR`,
      value: `${ours.toFixed(2)} dB`,
      against: `native flow both ways, averaged ${theirs.toFixed(2)} dB; a plain fade ${fade.toFixed(2)} dB`,
    });
  }
  return [
    ...lines,
    {
      what: 'the same: time, motion both ways and the picture',
      value: `${oursMs.toFixed(0)} ms`,
      against: `native flow both ways alone ${theirsMs.toFixed(0)} ms`,
    },
  ];
}

async function morphLine(): Promise<Line> {
  const count = 12;
  const numbers = Array.from({ length: count }, (_, i) => 50 + i);
  const [a, b] = [await frames('mender-take-1', numbers), await frames('mender-take-2', numbers)];
  const began = performance.now();
  let made = 0;
  for await (const picture of meltFrames(count, (i) => Promise.resolve([a[i]!, b[i]!]), 'fine')) made += picture.width > 0 ? 1 : 0;
  if (made !== count) throw new Error('a melt lost frames');
  return {
    what: 'melt of 12 frames, 960×540, fine, one thread',
    value: `${((performance.now() - began) / 1000).toFixed(2)} s`,
    against: 'wanted under 6 s',
  };
}

async function mapLine(): Promise<Line> {
  const numbers = Array.from({ length: 120 }, (_, i) => i);
  const height = Math.round((SIGNS_WIDTH * 9) / 16);
  const [a, b] = [await frames('shop-pan', numbers, SIGNS_WIDTH, height), await frames('bench-loupe', numbers, SIGNS_WIDTH, height)];
  const began = performance.now();
  const finder = new PairFinder();
  for (const picture of a) finder.add('a', picture);
  for (const picture of b) finder.add('b', picture);
  let step = finder.step();
  while (typeof step === 'number') step = finder.step();
  return {
    what: 'match map of 120 × 120 frames, best pairs made exact',
    value: `${((performance.now() - began) / 1000).toFixed(1)} s`,
    against: 'wanted under 20 s',
  };
}

/** Pictures between pictures, melts, and comparing shots. */
/** Places on two rings that belong together, pixels. */
function rings(): { readonly goals: Float64Array; readonly places: Float64Array } {
  const ring = (x: number, y: number, r: number): number[] =>
    Array.from({ length: 64 }, (_, i) => [x + r * Math.cos((i * Math.PI) / 32), y + r * Math.sin((i * Math.PI) / 32)]).flat();
  return { goals: Float64Array.from(ring(500, 280, 120)), places: Float64Array.from(ring(420, 250, 90)) };
}

/** A picture warped by places, against another library that is given the same warp and only has to draw it. */
async function warpLine(): Promise<Line> {
  const cv = await openCv();
  const [picture] = await frames('figure-a', [40]);
  const { goals, places } = rings();
  const ours = await medianMs(5, () => void warped(picture!, warpGrid(goals, places, WIDTH, HEIGHT, 'pinned')));
  const { columns, dx, dy } = warpGrid(goals, places, WIDTH, HEIGHT, 'pinned');
  const [mapX, mapY] = [new Float32Array(WIDTH * HEIGHT), new Float32Array(WIDTH * HEIGHT)];
  for (let i = 0; i < mapX.length; i++) {
    const node = Math.floor(i / WIDTH / 8) * columns + Math.floor((i % WIDTH) / 8);
    mapX[i] = (i % WIDTH) + dx[node]!;
    mapY[i] = Math.floor(i / WIDTH) + dy[node]!;
  }
  const [from, to] = [cv.matFromImageData({ data: picture!.data, width: WIDTH, height: HEIGHT }), new cv.Mat()];
  const [x, y] = [
    cv.matFromArray(HEIGHT, WIDTH, cv.CV_32FC1, mapX as unknown as number[]),
    cv.matFromArray(HEIGHT, WIDTH, cv.CV_32FC1, mapY as unknown as number[]),
  ];
  const theirs = await medianMs(5, () => void cv.remap(from, to, x, y, cv.INTER_LINEAR, cv.BORDER_REPLICATE));
  for (const m of [from, to, x, y]) m.delete();
  return {
    what: `warp by 64 places, ${WIDTH}×${HEIGHT}`,
    value: `${ours.toFixed(0)} ms`,
    against: `OpenCV remap, its map given ${theirs.toFixed(0)} ms`,
  };
}

/** The camera of a shot followed from frame to frame and back again. */
async function cameraLine(): Promise<Line> {
  const list = Array.from({ length: 25 }, (_, i) => 30 + i);
  const lumas = (await frames('shop-pan', list, SIGNS_WIDTH, Math.round((SIGNS_WIDTH * 9) / 16))).map((picture) => lumaOf(picture));
  const forth = pathOfSteps(lumas.slice(1).map((l, i) => cameraStep(lumas[i]!, l)));
  const back = pathOfSteps(lumas.slice(0, -1).map((_, i) => cameraStep(lumas[lumas.length - 1 - i]!, lumas[lumas.length - 2 - i]!)));
  const round = placedTwice(forth.at(-1)!, back.at(-1)!);
  return {
    what: 'camera followed 24 frames on and 24 back: off by',
    value: `${((Math.hypot(round.dx, round.dy) * 1280) / SIGNS_WIDTH).toFixed(2)} px of 1280`,
    against: '0 when exact',
  };
}

export async function benchPairing(): Promise<Line[]> {
  return [...(await middleLines()), await morphLine(), await warpLine(), await cameraLine(), await mapLine()];
}
