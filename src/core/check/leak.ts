import { boxBlur } from '../image/plane';
import { signedEdgeDistance } from '../image/distance';
import { createPlane, type Image, type Plane } from '../image/pixels';
import type { Point } from '../geometry/matrix';

/** What of a piece that was cut out still shows along the edge of its hole. */
export interface Leak {
  /** Share of the edge along which it does, 0..1. */
  readonly share: number;
  /** Middle of where it does, and how far it reaches out there; pixels. */
  readonly at: Point;
  readonly widthPx: number;
}

/** Rings about the edge, pixels: what lies just outside is judged against what lies well inside and well outside. */
const RING = [0.5, 3.5] as const;
const INSIDE = [-12, -3] as const;
const OUTSIDE = [6, 14] as const;
const LOOKED_AROUND = 9;
/** Inside and outside have to differ by so much, 0..255, to be told apart. */
const LEAST_APART = 44;
/** Inside and outside differ by so many times what each of them varies. */
const DISTINCT = 0.7;
/** Pixels along the edge that have to be told at least. */
const LEAST_TOLD = 40;
/** … and such a share of the whole edge. */
const TOLD_SHARE = 0.23;
/** Something just outside leaks where it is so much nearer to the inside than to the outside. */
const NEARER = 0.4;

/** Means around each pixel, over the pixels of a mask: of colours and of their squares; the share of pixels that there were. */
interface Means {
  readonly colours: readonly Plane[];
  readonly squares: Plane;
  readonly count: Plane;
}

function meansOf(image: Image, mask: Uint8Array): Means {
  const { width, height, data } = image;
  const plane = (value: (i: number) => number): Plane => {
    const raw = createPlane(width, height);
    for (let i = 0; i < mask.length; i++) raw.data[i] = mask[i] === 0 ? 0 : value(i);
    const out = createPlane(width, height);
    boxBlur(raw, LOOKED_AROUND, out);
    return out;
  };
  return {
    colours: [0, 1, 2].map((c) => plane((i) => data[4 * i + c]!)),
    squares: plane((i) => data[4 * i]! ** 2 + data[4 * i + 1]! ** 2 + data[4 * i + 2]! ** 2),
    count: plane(() => 1),
  };
}

/** How much the colours vary around a pixel, squared. */
function spreadAt({ colours, squares, count }: Means, i: number): number {
  const n = count.data[i]!;
  let mean = 0;
  for (const plane of colours) mean += (plane.data[i]! / n) ** 2;
  return squares.data[i]! / n - mean;
}

/**
 * Looks along the edge of a hole for what should have been taken out with it: pixels just outside the hole that look like its inside, not like
 * what is around it. `coverage` is that of the hole, 0..255. Null where the two sides are too alike to tell, or nothing leaks.
 */
export function findLeak(image: Image, coverage: Uint8Array): Leak | null {
  const { width, height, data } = image;
  const alpha = createPlane(width, height);
  for (let i = 0; i < coverage.length; i++) alpha.data[i] = coverage[i]! / 255;
  const signed = signedEdgeDistance(alpha);
  const mask = ([from, to]: readonly [number, number]): Uint8Array => Uint8Array.from(signed, (d) => (-d >= from && -d <= to ? 1 : 0));
  const [inside, outside] = [meansOf(image, mask(INSIDE)), meansOf(image, mask(OUTSIDE))];
  let [edge, told, leaking, x, y, reach] = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < coverage.length; i++) {
    const away = -signed[i]!;
    // the border of the frame is no edge
    const [px, py] = [i % width, Math.floor(i / width)];
    if (away < RING[0] || away > RING[1] || coverage[i]! > 200 || px < 2 || py < 2 || px > width - 3 || py > height - 3) continue;
    edge++;
    if (inside.count.data[i]! < 0.02 || outside.count.data[i]! < 0.02) continue;
    let [between, toIn, toOut] = [0, 0, 0];
    for (let c = 0; c < 3; c++) {
      const [a, b] = [inside.colours[c]!.data[i]! / inside.count.data[i]!, outside.colours[c]!.data[i]! / outside.count.data[i]!];
      between += (a - b) ** 2;
      toIn += (data[4 * i + c]! - a) ** 2;
      toOut += (data[4 * i + c]! - b) ** 2;
    }
    // a hole within one surface has no edge of its own
    if (between < Math.max(LEAST_APART ** 2, DISTINCT * (spreadAt(inside, i) + spreadAt(outside, i)))) continue;
    told++;
    if (toIn >= NEARER ** 2 * toOut) continue;
    leaking++;
    x += px + 0.5;
    y += py + 0.5;
    reach = Math.max(reach, away);
  }
  // along too little of the edge the sides can be told apart
  if (leaking === 0 || told < LEAST_TOLD || told < TOLD_SHARE * edge) return null;
  return { share: leaking / told, at: { x: x / leaking, y: y / leaking }, widthPx: reach };
}
