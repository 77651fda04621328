/* The comparison library's types leave its matrices' contents open. */
/* eslint-disable @typescript-eslint/no-unsafe-member-access, @typescript-eslint/no-unsafe-argument */
import { createImage, createPlane, type Image } from '../src/core/image/pixels';
import { sampleBilinear } from '../src/core/image/plane';
import { invertMap, mapPoint, type Homography } from '../src/core/geometry/fit-map';
import { PlaneFollower } from '../src/core/track/plane-follower';
import type { Corner } from '../src/core/track/plane-template';
import { PointFollower } from '../src/core/track/point-follower';
import { photoLike } from './known-pictures';
import type { Line } from './line';
import { greyOf, openCv } from './opencv';

const [W, H] = [384, 216];
const FRAMES = 36;
const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);

const PLANE = photoLike(240, 180, 21, 0.3);
const BEHIND = photoLike(W, H, 60, 0.8);

/** A board that drifts, turns, grows and tilts; `frame` in frames. */
function pose(frame: number): Homography {
  const a = 0.25 * Math.sin(frame / 11);
  const s = 0.72 * (1 + 0.2 * Math.sin(frame / 9));
  return Float64Array.of(
    s * Math.cos(a),
    -s * Math.sin(a),
    100 + 40 * Math.sin(frame / 8),
    s * Math.sin(a),
    s * Math.cos(a),
    36 + 14 * Math.sin(frame / 6),
    0.0006 * Math.sin(frame / 10),
    0.0005 * Math.sin(frame / 7),
    1,
  );
}

/** Something that passes in front: half its width, and where its middle is. */
interface Passing {
  readonly half: number;
  at(frame: number): number;
}
const BAR: Passing = { half: 20, at: (frame) => 12 * frame - 40 };
/** Covers everything on some frames. */
const WALL: Passing = { half: 230, at: (frame) => 22 * frame - 250 };

function drawPlane(frame: number, passing: Passing | null): Image {
  const image = createImage(W, H);
  const back = invertMap(pose(frame));
  const channels = [0, 1, 2].map((c) => {
    const plane = createPlane(PLANE.width, PLANE.height);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = PLANE.data[4 * i + c]!;
    return plane;
  });
  for (let i = 0; i < W * H; i++) {
    for (let s = 0; s < 4; s++) {
      const [x, y] = [(i % W) + 0.25 + 0.5 * (s & 1), Math.floor(i / W) + 0.25 + 0.5 * (s >> 1)];
      const [u, v] = mapPoint(back, x, y);
      const on = u >= 0 && v >= 0 && u < PLANE.width && v < PLANE.height;
      const hidden = passing !== null && Math.abs(x - passing.at(frame)) < passing.half;
      for (let c = 0; c < 3; c++)
        image.data[4 * i + c]! += Math.round(
          (hidden ? 35 + ((x ^ y) & 15) : on ? sampleBilinear(channels[c]!, u, v) : BEHIND.data[4 * i + c]!) / 4,
        );
    }
    image.data[4 * i + 3] = 255;
  }
  return image;
}

const CORNERS: readonly Corner[] = [
  [0, 0],
  [PLANE.width, 0],
  [PLANE.width, PLANE.height],
  [0, PLANE.height],
];
const cornersAt = (frame: number): Corner[] => CORNERS.map(([x, y]) => mapPoint(pose(frame), x, y));
const cornerError = (found: readonly Corner[], frame: number): number =>
  Math.min(20, mean(cornersAt(frame).map(([x, y], i) => Math.hypot(found[i]![0] - x, found[i]![1] - y))));

async function followBoth(
  passing: Passing | null,
): Promise<{ ours: { error: number; fps: number }; theirs: { error: number; fps: number } }> {
  const cv = await openCv();
  const frames = Array.from({ length: FRAMES }, (_, t) => drawPlane(t, passing));
  let began = performance.now();
  const follower = new PlaneFollower(frames[0]!, cornersAt(0), 'perspective');
  const ours = frames.slice(1).map((frame, t) => cornerError(follower.step(frame).corners, t + 1));
  const ourMs = performance.now() - began;

  // corners of the region followed from frame to frame, a homography by RANSAC, chained
  began = performance.now();
  let corners = cornersAt(0);
  const theirs: number[] = [];
  for (let t = 1; t < frames.length; t++) {
    const [from, to] = [greyOf(cv, frames[t - 1]!), greyOf(cv, frames[t]!)];
    const mask = cv.Mat.zeros(H, W, cv.CV_8UC1);
    const polygon = cv.matFromArray(
      4,
      1,
      cv.CV_32SC2,
      corners.flatMap((p) => p.map(Math.round)),
    );
    const polygons = new cv.MatVector();
    polygons.push_back(polygon);
    cv.fillPoly(mask, polygons, new cv.Scalar(255));
    const [points, next, status, error] = [new cv.Mat(), new cv.Mat(), new cv.Mat(), new cv.Mat()];
    cv.goodFeaturesToTrack(from, points, 200, 0.01, 5, mask, 3, false, 0.04);
    if (points.rows >= 8) {
      cv.calcOpticalFlowPyrLK(from, to, points, next, status, error, new cv.Size(21, 21), 3);
      const [a, b]: [number[], number[]] = [[], []];
      for (let i = 0; i < points.rows; i++) {
        if (status.data[i] !== 1) continue;
        a.push(points.data32F[2 * i]!, points.data32F[2 * i + 1]!);
        b.push(next.data32F[2 * i]!, next.data32F[2 * i + 1]!);
      }
      const [ma, mb] = [cv.matFromArray(a.length / 2, 1, cv.CV_32FC2, a), cv.matFromArray(b.length / 2, 1, cv.CV_32FC2, b)];
      const h = cv.findHomography(ma, mb, cv.RANSAC, 2);
      if (!h.empty())
        corners = corners
          .map(([x, y]) => mapPoint(Float64Array.from(h.data64F), x - 0.5, y - 0.5))
          .map(([x, y]) => [x + 0.5, y + 0.5] as const);
      for (const m of [ma, mb, h]) m.delete();
    }
    for (const m of [from, to, mask, polygon, polygons, points, next, status, error]) m.delete();
    theirs.push(cornerError(corners, t));
  }
  const theirMs = performance.now() - began;
  return {
    ours: { error: mean(ours), fps: (1000 * ours.length) / ourMs },
    theirs: { error: mean(theirs), fps: (1000 * theirs.length) / theirMs },
  };
}

/** Points all over the board: error of those that are seen, capped at 20 px; share of the visible ones seen, of the hidden ones believed. */
async function pointsBoth(passing: Passing | null): Promise<Line[]> {
  const cv = await openCv();
  const frames = Array.from({ length: FRAMES }, (_, t) => drawPlane(t, passing));
  const places: Corner[] = [];
  for (let x = 10; x < PLANE.width; x += 11) for (let y = 8; y < PLANE.height; y += 9) places.push([x, y]);
  const truth = (frame: number): Corner[] => places.map(([x, y]) => mapPoint(pose(frame), x, y));
  const tally = { ours: newTally(), theirs: newTally() };

  const began = performance.now();
  const follower = new PointFollower(frames[0]!, truth(0));
  const found = frames.slice(1).map((frame) => follower.step(frame));
  const ourMs = (performance.now() - began) / found.length;
  found.forEach((points, i) =>
    count(
      tally.ours,
      truth(i + 1),
      points.map((p) => (p.confidence === 0 ? null : [p.x, p.y])),
      passing,
      i + 1,
    ),
  );

  const start = performance.now();
  let at: (Corner | null)[] = truth(0);
  const chained: (Corner | null)[][] = [];
  for (let t = 1; t < FRAMES; t++) {
    const [from, to] = [greyOf(cv, frames[t - 1]!), greyOf(cv, frames[t]!)];
    const points = cv.matFromArray(
      at.length,
      1,
      cv.CV_32FC2,
      at.flatMap((p) => (p === null ? [0, 0] : [p[0] - 0.5, p[1] - 0.5])),
    );
    const [next, status, error] = [new cv.Mat(), new cv.Mat(), new cv.Mat()];
    cv.calcOpticalFlowPyrLK(from, to, points, next, status, error, new cv.Size(21, 21), 3);
    at = at.map((p, i) => (p === null || status.data[i] !== 1 ? null : [next.data32F[2 * i]! + 0.5, next.data32F[2 * i + 1]! + 0.5]));
    chained.push(at);
    for (const m of [from, to, points, next, status, error]) m.delete();
  }
  const theirMs = (performance.now() - start) / chained.length;
  chained.forEach((points, i) => count(tally.theirs, truth(i + 1), points, passing, i + 1));
  return [
    {
      what: `follow ${places.length} points${passing === null ? '' : ', a bar passing in front'}: error / ms a frame`,
      value: `${mean(tally.ours.errors).toFixed(3)} px / ${ourMs.toFixed(0)}`,
      against: `OpenCV sparse flow, chained ${mean(tally.theirs.errors).toFixed(3)} px / ${theirMs.toFixed(0)}`,
    },
    {
      what: `  share of visible points seen${passing === null ? '' : ' / of hidden ones believed'}`,
      value: sharesOf(tally.ours),
      against: sharesOf(tally.theirs),
    },
  ];
}

interface Tally {
  readonly errors: number[];
  visible: number;
  hidden: number;
  believed: number;
}
const newTally = (): Tally => ({ errors: [], visible: 0, hidden: 0, believed: 0 });
const sharesOf = ({ errors, visible, hidden, believed }: Tally): string =>
  `${(errors.length / visible).toFixed(3)}${hidden === 0 ? '' : ` / ${(believed / hidden).toFixed(3)}`}`;

/** Adds one frame's points; those at the very edge of what passes in front are left out. */
function count(tally: Tally, truth: readonly Corner[], found: readonly (Corner | null)[], passing: Passing | null, frame: number): void {
  truth.forEach(([x, y], i) => {
    if (x < 4 || y < 4 || x > W - 4 || y > H - 4) return;
    const behind = passing === null ? -Infinity : passing.half - Math.abs(x - passing.at(frame));
    const point = found[i]!;
    if (behind > 4) {
      tally.hidden++;
      if (point !== null) tally.believed++;
    } else if (behind < -4) {
      tally.visible++;
      if (point !== null) tally.errors.push(Math.min(20, Math.hypot(point[0] - x, point[1] - y)));
    }
  });
}

/** Regions and points followed over a board that drifts, turns, grows and tilts. */
export async function benchFollowing(): Promise<Line[]> {
  const lines: Line[] = [];
  for (const [name, passing] of [
    ['', null],
    [', a bar passing in front', BAR],
    [', hidden wholly by a wall', WALL],
  ] as const) {
    const { ours, theirs } = await followBoth(passing);
    lines.push({
      what: `follow a plane${name}: corner error / frames a second`,
      value: `${ours.error.toFixed(3)} px / ${ours.fps.toFixed(0)}`,
      against: `OpenCV corners and homography ${theirs.error.toFixed(3)} px / ${theirs.fps.toFixed(0)}`,
    });
  }
  for (const passing of [null, BAR]) lines.push(...(await pointsBoth(passing)));
  return lines;
}
