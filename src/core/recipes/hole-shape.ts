/** What a zoom needs to know of a hole on one frame: film pixels from the frame's centre. */
export interface HoleShape {
  /** Around all that the hole lets see, however little. */
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
  /** Film pixels. */
  readonly area: number;
  /** Middle of its area. */
  readonly x: number;
  readonly y: number;
  /** Which way it is long, degrees clockwise from level, −90..90, and how many times longer it is that way than across. */
  readonly long: { readonly turn: number; readonly ratio: number };
  /** The largest rectangle of the frame's proportions that lies wholly in it; `scale` 1 is as large as the frame, 0 none. */
  readonly inner: { readonly x: number; readonly y: number; readonly scale: number };
}

/** Coverage from which on nothing of the shot shows in the hole: a rounding step or two is nothing. */
const OPEN = 252;
/** How far below its fullest a matte still counts as full. */
const FULL_ROOM = 3;
/** Places tried along the longer side before the best is refined. */
const TRIED = 40;

/**
 * Measures a hole given as coverage of the frame, 0..255, `width` × `height`, whatever the size of the film.
 * @returns null where there is none
 */
export function measureHole(coverage: Uint8Array, width: number, height: number, filmWidth: number, filmHeight: number): HoleShape | null {
  let [left, top, right, bottom] = [width, height, -1, -1];
  let [area, sumX, sumY, most] = [0, 0, 0, 0];
  let [sumXX, sumXY, sumYY] = [0, 0, 0];
  for (let y = 0, i = 0; y < height; y++) {
    let [first, last] = [-1, -1];
    for (let x = 0; x < width; x++, i++) {
      const cover = coverage[i]!;
      if (cover === 0) continue;
      if (first < 0) first = x;
      last = x;
      if (cover > most) most = cover;
      area += cover;
      sumX += cover * (x + 0.5);
      sumY += cover * (y + 0.5);
      sumXX += cover * (x + 0.5) * (x + 0.5);
      sumXY += cover * (x + 0.5) * (y + 0.5);
      sumYY += cover * (y + 0.5) * (y + 0.5);
    }
    if (first < 0) continue;
    left = Math.min(left, first);
    right = Math.max(right, last);
    top = Math.min(top, y);
    bottom = y;
  }
  if (right < 0) return null;
  const [acrossX, acrossY] = [filmWidth / width, filmHeight / height];
  const toX = (x: number): number => (x - width / 2) * acrossX;
  const toY = (y: number): number => (y - height / 2) * acrossY;
  // a matte that is nowhere quite full is open where it is fullest
  const inner = largestFrameInside(coverage, width, height, Math.min(OPEN, most - FULL_ROOM), left, top, right, bottom);
  return {
    left: toX(left),
    top: toY(top),
    right: toX(right + 1),
    bottom: toY(bottom + 1),
    area: (area / 255) * acrossX * acrossY,
    x: toX(sumX / area),
    y: toY(sumY / area),
    long: longSide(
      (sumXX / area - (sumX / area) ** 2) * acrossX * acrossX,
      (sumXY / area - (sumX / area) * (sumY / area)) * acrossX * acrossY,
      (sumYY / area - (sumY / area) ** 2) * acrossY * acrossY,
    ),
    inner: { x: toX(inner.x), y: toY(inner.y), scale: inner.scale },
  };
}

/** The long axis of an area from its second moments. */
function longSide(xx: number, xy: number, yy: number): HoleShape['long'] {
  const spread = Math.hypot((xx - yy) / 2, xy);
  const [large, small] = [(xx + yy) / 2 + spread, Math.max(1e-9, (xx + yy) / 2 - spread)];
  return { turn: (Math.atan2(2 * xy, xx - yy) * 90) / Math.PI, ratio: Math.sqrt(large / small) };
}

/** The largest rectangle of the picture's proportions within its wholly covered pixels; place in pixels. */
function largestFrameInside(
  coverage: Uint8Array,
  width: number,
  height: number,
  open: number,
  left: number,
  top: number,
  right: number,
  bottom: number,
): { x: number; y: number; scale: number } {
  // how many pixels above and to the left of each corner are not open
  const stride = width + 1;
  const closed = new Int32Array(stride * (height + 1));
  for (let y = 0; y < height; y++)
    for (let x = 0, row = 0; x < width; x++) {
      if (coverage[y * width + x]! < open) row++;
      closed[(y + 1) * stride + x + 1] = closed[y * stride + x + 1]! + row;
    }
  const fits = (x: number, y: number, scale: number): boolean => {
    const [x0, x1] = [Math.floor(x - (scale * width) / 2 + 1e-9), Math.ceil(x + (scale * width) / 2 - 1e-9)];
    const [y0, y1] = [Math.floor(y - (scale * height) / 2 + 1e-9), Math.ceil(y + (scale * height) / 2 - 1e-9)];
    if (x0 < 0 || y0 < 0 || x1 > width || y1 > height) return false;
    return closed[y1 * stride + x1]! - closed[y0 * stride + x1]! - closed[y1 * stride + x0]! + closed[y0 * stride + x0]! === 0;
  };
  const largestAt = (x: number, y: number, known: number): number => {
    if (!fits(x, y, known + 1e-4)) return known;
    let [low, high] = [known, 1];
    for (let round = 0; round < 14; round++) {
      const middle = (low + high) / 2;
      if (fits(x, y, middle)) low = middle;
      else high = middle;
    }
    return fits(x, y, 1) ? 1 : low;
  };
  let best = { x: (left + right + 1) / 2, y: (top + bottom + 1) / 2, scale: 0 };
  const tryAt = (x: number, y: number): boolean => {
    const scale = largestAt(x, y, best.scale);
    if (scale <= best.scale) return false;
    best = { x, y, scale };
    return true;
  };
  tryAt(best.x, best.y);
  let step = Math.max(1, Math.max(right - left, bottom - top) / TRIED);
  for (let y = top + step / 2; y <= bottom + 1; y += step) for (let x = left + step / 2; x <= right + 1; x += step) tryAt(x, y);
  while (step > 0.25) {
    const { x, y } = best;
    let better = false;
    for (const [dx, dy] of [
      [step, 0],
      [-step, 0],
      [0, step],
      [0, -step],
    ] as const)
      better = tryAt(x + dx, y + dy) || better;
    if (!better) step /= 2;
  }
  return best;
}
