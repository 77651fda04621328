/* The comparison library's types leave its matrices' contents open. */
/* eslint-disable @typescript-eslint/no-unsafe-argument */
import { readTruth } from '../demo/truth';
import { squaredDistances } from '../src/core/image/distance';
import type { Image } from '../src/core/image/pixels';
import { StrokeCutter } from '../src/core/matte/cut/cut';
import { regionAndContour } from './measures';
import { bytesOf } from '../src/core/matte/coverage/resize';
import { DROP, KEEP, paintHair, paintSeeds } from '../src/core/matte/cut/seeds';
import type { Stroke, Strokes } from '../src/core/matte/cut/strokes';
import { rootFolder } from '../src/server/base/data-folder';
import { framesOf, truthAt } from './film';
import { HAIR_HEIGHT, HAIR_WIDTH, hairyCoverage, hairyPicture, HEAD } from './hairy-subject';
import { photoLike } from './known-pictures';
import { medianMs, type Line } from './line';
import { H, mean, SHOTS, W } from './mattes';
import { matOf, openCv } from './opencv';
import { renderShot, type ShotRecipe } from './synthetic-shots';

/** Strokes after which the corrected matte is judged. */
const JUDGED_AFTER = [2, 5, 10];
/** Half the width of a stroke, and its pixels at most each way from the deepest place of what is wrong. */
const BRUSH = 4;
const STROKE_PX = 32;
/** What is thinner than this, in pixels, is not worth a stroke. */
const LEAST_DEPTH = 2.5;

/** Two subjects cut from another part of the very picture they stand before. */
const HARD: readonly ShotRecipe[] = [6, 7].map((seed) => {
  const picture = photoLike(520, 520, 10 * seed, 0.3);
  return { ...SHOTS[0]!, name: 'the same colours', seed, background: picture, subject: picture };
});

/** One frame each: a photograph-like subject on a photograph-like background, and its exact coverage. */
function pictures(recipes: readonly ShotRecipe[]): { picture: Image; truth: Uint8Array }[] {
  return recipes.map((recipe) => {
    const shot = renderShot({ ...recipe, frames: 1, occluder: false, shutter: 0 });
    return { picture: shot.frames[0]!, truth: shot.mattes[0]! };
  });
}

/** Three strokes through the subject and six around it, where the truth says it is. */
function strokesFor(truth: Uint8Array): Strokes {
  const inside = [...truth.keys()].filter((i) => truth[i] === 255);
  const cx = mean(inside.map((i) => i % W));
  const cy = mean(inside.map((i) => Math.floor(i / W)));
  const free = (x: number, y: number, value: number): boolean => truth[Math.round(y) * W + Math.round(x)] === value;
  const ray = (angle: number, from: number, to: number, value: number): Stroke => {
    const points: [number, number][] = [];
    for (let r = from; r <= to; r += 3) {
      const [x, y] = [cx + r * Math.cos(angle), cy + r * Math.sin(angle)];
      if (x < 6 || y < 6 || x > W - 7 || y > H - 7 || !free(x, y, value)) continue;
      if ([0, 1, 2, 3].every((q) => free(x + 5 * Math.cos(q * 1.57), y + 5 * Math.sin(q * 1.57), value))) points.push([x, y]);
    }
    return { radius: 4, points };
  };
  return {
    keep: [0.3, 2.4, 4.5].map((a) => ray(a, 0, 60, 255)),
    drop: [0, 1.05, 2.1, 3.14, 4.2, 5.2].map((a) => ray(a, 40, 200, 0)),
  };
}

/** The other library's cut: sure where painted, else probably background. */
async function grabCut(picture: Image, strokes: Strokes): Promise<Uint8Array> {
  const { width, height } = picture;
  const cv = await openCv();
  const rgb = matOf(cv, picture);
  const mask = new cv.Mat(height, width, cv.CV_8UC1);
  const [keep, drop, open] = [cv.GC_FGD, cv.GC_BGD, cv.GC_PR_BGD] as number[];
  (mask.data as Uint8Array).set(paintSeeds(strokes, width, height, 1).map((s) => (s === KEEP ? keep! : s === DROP ? drop! : open!)));
  const [back, fore] = [new cv.Mat(), new cv.Mat()];
  cv.grabCut(rgb, mask, new cv.Rect(0, 0, width, height), back, fore, 5, cv.GC_INIT_WITH_MASK);
  const kept = [cv.GC_FGD, cv.GC_PR_FGD] as number[];
  const result = Uint8Array.from(mask.data as Uint8Array, (v) => (kept.includes(v) ? 255 : 0));
  for (const m of [rgb, mask, back, fore]) m.delete();
  return result;
}

/** A stroke through the deepest place of the pixels that `wrong` marks 1, along where they are deep; null where all is thin. */
function strokeThrough(wrong: Uint8Array, turn: number): Stroke | null {
  const right = wrong.map((v) => 1 - v);
  // nobody paints over the border
  for (let i = 0; i < right.length; i++) if (i % W === 0 || i % W === W - 1 || i < W || i >= right.length - W) right[i] = 1;
  const depths = new Float32Array(right.length);
  squaredDistances(right, 1, W, H, depths);
  const middle = depths.reduce((best, d, i) => (d > depths[best]! ? i : best), 0);
  const depth = Math.sqrt(depths[middle]!);
  if (depth < LEAST_DEPTH) return null;
  const radius = Math.min(BRUSH, depth - 1);
  const [x, y] = [(middle % W) + 0.5, Math.floor(middle / W) + 0.5];
  const reach = (angle: number): number => {
    let far = 0;
    while (far < STROKE_PX) {
      const at = Math.floor(y + (far + 2) * Math.sin(angle)) * W + Math.floor(x + (far + 2) * Math.cos(angle));
      if (!(depths[at]! > (radius + 1) ** 2)) break;
      far += 2;
    }
    return far;
  };
  const angles = Array.from({ length: 12 }, (_, k) => (k * Math.PI) / 12);
  const ends = angles.map((a) => [reach(a), reach(a + Math.PI)] as const);
  const longest = ends.reduce((best, [p, q], k) => (p + q > ends[best]![0] + ends[best]![1] ? k : best), 0);
  const points: [number, number][] = [];
  for (let r = -ends[longest]![1]; r <= ends[longest]![0]; r += 2)
    points.push([x + r * Math.cos(angles[longest]!), y + r * Math.sin(angles[longest]!)]);
  return { radius, points, turn };
}

/**
 * Overlap after each of the strokes of somebody who strokes a keep and a drop stroke first and then always through the
 * deepest part that is still wrong (after Nickisch et al. 2010).
 */
async function corrected(
  truth: Uint8Array,
  cut: (strokes: Strokes) => Uint8Array | Promise<Uint8Array>,
  last = JUDGED_AFTER.at(-1)!,
): Promise<number[]> {
  const strokes: { keep: Stroke[]; drop: Stroke[] } = {
    keep: [
      strokeThrough(
        truth.map((v) => (v === 255 ? 1 : 0)),
        1,
      )!,
    ],
    drop: [
      strokeThrough(
        truth.map((v) => (v === 0 ? 1 : 0)),
        2,
      )!,
    ],
  };
  const overlaps: number[] = [];
  for (let turn = 3; overlaps.length < last - 1; turn++) {
    const found = await cut(strokes);
    overlaps.push(regionAndContour(found, truth, W, H).j);
    const missed = strokeThrough(
      truth.map((v, i) => (v === 255 && found[i]! < 128 ? 1 : 0)),
      turn,
    );
    const taken = strokeThrough(
      truth.map((v, i) => (v === 0 && found[i]! >= 128 ? 1 : 0)),
      turn,
    );
    const size = (s: Stroke | null): number => (s === null ? 0 : s.radius * s.points.length);
    if (missed !== null && size(missed) >= size(taken)) strokes.keep.push(missed);
    else if (taken !== null) strokes.drop.push(taken);
    else while (overlaps.length < last - 1) overlaps.push(overlaps.at(-1)!);
  }
  return overlaps;
}

async function benchGiven(): Promise<Line[]> {
  const [ours, theirs]: { j: number; f: number; ms: number }[][] = [[], []];
  const again: number[] = [];
  for (const { picture, truth } of pictures(SHOTS)) {
    const strokes = strokesFor(truth);
    let began = performance.now();
    const found = bytesOf(new StrokeCutter(picture).cut(strokes));
    ours!.push({ ...regionAndContour(found, truth, W, H), ms: performance.now() - began });
    const quick = new StrokeCutter(picture, true);
    quick.cut(strokes);
    began = performance.now();
    quick.cut(strokes);
    again.push(performance.now() - began);
    began = performance.now();
    const other = await grabCut(picture, strokes);
    theirs!.push({ ...regionAndContour(other, truth, W, H), ms: performance.now() - began });
  }
  const [j, f, ms] = (['j', 'f', 'ms'] as const).map((key) => [ours, theirs].map((all) => mean(all!.map((q) => q[key])))) as [
    [number, number],
    [number, number],
    [number, number],
  ];
  return [
    {
      what: 'strokes → matte, J / F within 3 px',
      value: `${j[0].toFixed(3)} / ${f[0].toFixed(3)}`,
      against: `OpenCV grabCut ${j[1].toFixed(3)} / ${f[1].toFixed(3)}`,
    },
    {
      what: `strokes → matte at ${W}×${H}, first / while painting`,
      value: `${ms[0].toFixed(0)} / ${mean(again).toFixed(0)} ms`,
      against: `OpenCV grabCut ${ms[1].toFixed(0)} ms, ratio ${(ms[0] / ms[1]).toFixed(2)}`,
    },
  ];
}

async function benchCorrected(): Promise<Line> {
  const [ours, theirs]: number[][][] = [[], []];
  for (const { picture, truth } of pictures(HARD)) {
    const cutter = new StrokeCutter(picture);
    ours!.push(await corrected(truth, (strokes) => bytesOf(cutter.cut(strokes))));
    theirs!.push(await corrected(truth, (strokes) => grabCut(picture, strokes)));
  }
  const after = (all: number[][]): string => JUDGED_AFTER.map((n) => mean(all.map((overlaps) => overlaps[n - 2]!)).toFixed(3)).join(' ');
  return {
    what: `same colours, J after ${JUDGED_AFTER.join(', ')} strokes through what is most wrong`,
    value: after(ours!),
    against: `OpenCV grabCut ${after(theirs!)}`,
  };
}

/** Hair that a stroke goes over: a head with strands of a pixel's width, and how far coverage is off under the stroke. */
async function benchHair(): Promise<Line> {
  const truth = hairyCoverage();
  const picture = hairyPicture(truth);
  const { x, y, radius } = HEAD;
  const arc = (r: number, from: number, to: number): [number, number][] =>
    Array.from({ length: 25 }, (_, k) => {
      const angle = Math.PI * (from + ((to - from) * k) / 24);
      return [x + r * Math.cos(angle), y + r * Math.sin(angle)];
    });
  const strokes: Strokes = {
    keep: [{ radius: 6, points: arc(radius - 12, 0, 2) }],
    drop: [{ radius: 4, points: arc(radius + 42, 0.9, 2.1) }],
    hair: [{ radius: 17, points: arc(radius + 13, 0.95, 2.05) }],
  };
  const under = paintHair(strokes.hair!, paintSeeds(strokes, HAIR_WIDTH, HAIR_HEIGHT, 1), HAIR_WIDTH, HAIR_HEIGHT).data;
  const errorOf = (coverageAt: (i: number) => number): number =>
    mean([...under.keys()].filter((i) => under[i] === 1).map((i) => Math.abs(coverageAt(i) - truth[i]!)));
  const cutter = new StrokeCutter(picture);
  const ms = await medianMs(5, () => void cutter.cut(strokes));
  const found = cutter.cut(strokes);
  const other = await grabCut(picture, strokes);
  return {
    what: 'hair painted over: error of coverage / ms',
    value: `${errorOf((i) => found.data[i]!).toFixed(3)} / ${ms.toFixed(0)}`,
    against: `OpenCV grabCut ${errorOf((i) => other[i]! / 255).toFixed(3)}`,
  };
}

/** Subjects of the demo film, a frame of each. */
const FILMED: readonly (readonly [string, number])[] = [
  ['bench-loupe', 90],
  ['dial-push', 40],
  ['dome-close', 30],
  ['mender-take-1', 30],
  ['loft-drop', 12],
  ['figure-a', 30],
  ['cart-arrive', 70],
];
const FEW = 4;

/** What few strokes come to on footage: the first two, then those through what is most wrong. */
async function benchFew(): Promise<Line> {
  const [ours, theirs]: number[][][] = [[], []];
  for (const [shot, frame] of FILMED) {
    const [picture] = await framesOf(shot, frame, frame, W, H);
    const truth = truthAt(readTruth(shot, rootFolder()), frame).map((v) => (v >= 128 ? 255 : 0));
    const cutter = new StrokeCutter(picture!);
    ours!.push(await corrected(truth, (strokes) => bytesOf(cutter.cut(strokes)), FEW));
    theirs!.push(await corrected(truth, (strokes) => grabCut(picture!, strokes), FEW));
  }
  const after = (all: number[][]): string => [2, 3, 4].map((n) => mean(all.map((overlaps) => overlaps[n - 2]!)).toFixed(2)).join(' ');
  return { what: 'film, J after 2, 3, 4 strokes', value: after(ours!), against: `OpenCV grabCut ${after(theirs!)}` };
}

/** Cuts from strokes against exact truth and against OpenCV's build for JavaScript on the same pictures. */
export async function benchStrokes(): Promise<Line[]> {
  return [...(await benchGiven()), await benchCorrected(), await benchFew(), await benchHair()];
}
