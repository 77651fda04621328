import { at, put } from './numbers';

/** Half width of the band along the edge that may be partly covered. */
const SOFT_PX: f32 = 3;
/** The sides' colours are looked up once for blocks of this many pixels each way, up to this far around them. */
const BLOCK = 2;
const RADIUS = 4;
/** Pixels this close to the edge may be mixtures and show neither side's own colours. */
const MIXED_PX: f32 = 1.8;
/** Fewer pixels than this show no colour. */
const LEAST_PIXELS: f32 = 3;
/** Squared difference of the sides' colours that is worth half a full trust, and what their own variance adds to it. */
const NOISE: f32 = 900;
const VARIED: f32 = 14;
/** What lies behind a pixel is known from this on. */
const SEEN: f32 = 0.6;
/** A colour this many of the sides' deviations from one of them is that side's own; at most this share of the way to the other. */
const DEVIATIONS: f32 = 0.5;
const MOST_OWN: f32 = 0.25;
/** A length that is not 0. */
const TINY: f32 = 1e-6;

// Means and variances of both sides' colours around a block; the fourth lane counts for nothing.
let insideMean = i32x4.splat(0);
let insideVariance = i32x4.splat(0);
let outsideMean = i32x4.splat(0);
let outsideVariance = i32x4.splat(0);
/** Mean square of what the outside differs by from what is known to lie behind, in those of its pixels of which that is known, and how many they are. */
let behindVariance = i32x4.splat(0);
let behinds: f32 = 0;

/**
 * Coverage along a cut edge from the picture itself, laid on what `out` holds: within a band, each pixel's share between
 * the mean colours found on either side close by, as far as those differ by more than they vary. `signed` is the distance to that
 * edge (floats). Unless it is 0, `behind` are the features of what lies behind each pixel, known as well as `seen` says (floats,
 * 0..1): better than the outside's mean, if it agrees with what is in view of the outside.
 */
export function coverAlongEdge(features: usize, signed: usize, behind: usize, seen: usize, width: i32, height: i32, out: usize): void {
  for (let top = 0; top < height; top += BLOCK) {
    for (let left = 0; left < width; left += BLOCK) {
      let isKnown = false;
      for (let k = 0; k < BLOCK * BLOCK; k++) {
        const x = left + (k % BLOCK);
        const y = top + k / BLOCK;
        const i = y * width + x;
        if (x >= width || y >= height || abs<f32>(at(signed, i)) > SOFT_PX) continue;
        if (!isKnown && !lookAround(features, signed, behind, seen, width, height, left, top)) break;
        isKnown = true;
        if (behind != 0 && at(seen, i) > SEEN && isBehindKnown()) {
          put(out, i, coverBetween(colourAt(features, i), colourAt(behind, i), behindVariance, at(out, i)));
        } else put(out, i, coverBetween(colourAt(features, i), outsideMean, outsideVariance, at(out, i)));
      }
    }
  }
}

/** The three numbers of pixel `i`, and the next pixel's first. */
function colourAt(features: usize, i: i32): v128 {
  return v128.load(features + ((<usize>(3 * i)) << 2));
}

function sumOfThree(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2);
}

/** True where what lies behind tells more of the outside than its mean does. */
function isBehindKnown(): bool {
  return behinds >= LEAST_PIXELS && sumOfThree(behindVariance) < sumOfThree(outsideVariance);
}

/** The share of a colour between the two sides' own, as far as these can be trusted, else what it `was`. */
function coverBetween(colour: v128, outside: v128, varies: v128, was: f32): f32 {
  const way = f32x4.sub(insideMean, outside);
  const squared = f32x4.mul(way, way);
  const length = sumOfThree(squared);
  const along = sumOfThree(f32x4.mul(f32x4.sub(colour, outside), way));
  // the variance of each side along the line between the colours
  const varied = sumOfThree(f32x4.mul(squared, f32x4.add(insideVariance, varies))) / (length + TINY);
  const trust = length / (length + NOISE + VARIED * varied);
  const own = min<f32>(MOST_OWN, DEVIATIONS * sqrt<f32>(varied / (length + TINY)));
  const share = (along / (length + TINY) - own) / ((1 as f32) - 2 * own);
  return was + trust * (max<f32>(0, min<f32>(1, share)) - was);
}

/** Looks at the colours on both sides of the edge around the block that begins at (x, y); false where there are too few. */
function lookAround(features: usize, signed: usize, behind: usize, seen: usize, width: i32, height: i32, x: i32, y: i32): bool {
  const none = f32x4.splat(0);
  let insides: f32 = 0;
  let outsides: f32 = 0;
  insideMean = insideVariance = outsideMean = outsideVariance = behindVariance = none;
  behinds = 0;
  const bottom = min<i32>(height - 1, y + BLOCK - 1 + RADIUS);
  const left = max<i32>(0, x - RADIUS);
  const right = min<i32>(width - 1, x + BLOCK - 1 + RADIUS);
  for (let v = max<i32>(0, y - RADIUS); v <= bottom; v++) {
    for (let u = left, j = v * width + left; u <= right; u++, j++) {
      const d = at(signed, j);
      if (abs<f32>(d) <= MIXED_PX) continue;
      const colour = colourAt(features, j);
      const squared = f32x4.mul(colour, colour);
      if (d > 0) {
        insides++;
        insideMean = f32x4.add(insideMean, colour);
        insideVariance = f32x4.add(insideVariance, squared);
      } else {
        outsides++;
        outsideMean = f32x4.add(outsideMean, colour);
        outsideVariance = f32x4.add(outsideVariance, squared);
        if (behind == 0 || at(seen, j) <= SEEN) continue;
        behinds++;
        const off = f32x4.sub(colour, colourAt(behind, j));
        behindVariance = f32x4.add(behindVariance, f32x4.mul(off, off));
      }
    }
  }
  if (insides < LEAST_PIXELS || outsides < LEAST_PIXELS) return false;
  const inside = f32x4.splat((1 as f32) / insides);
  const outside = f32x4.splat((1 as f32) / outsides);
  insideMean = f32x4.mul(insideMean, inside);
  outsideMean = f32x4.mul(outsideMean, outside);
  insideVariance = f32x4.max(none, f32x4.sub(f32x4.mul(insideVariance, inside), f32x4.mul(insideMean, insideMean)));
  outsideVariance = f32x4.max(none, f32x4.sub(f32x4.mul(outsideVariance, outside), f32x4.mul(outsideMean, outsideMean)));
  behindVariance = f32x4.mul(behindVariance, f32x4.splat((1 as f32) / max<f32>(1, behinds)));
  return true;
}
