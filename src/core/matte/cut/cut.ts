import { shrunkTo } from '../../image/image';
import { createPlane, type Image, type Plane } from '../../image/pixels';
import { signedDistance, squaredDistances } from '../../image/distance';
import { grown } from '../../image/grown';
import { fineEdge } from '../edge/fine-edge';
import { contrastOf, cutBand, WholeCut } from './cut-band';
import { featuresOf, neighbourDifferences } from './features';
import { geodesicDistances, stepsOf, type Steps } from './geodesic';
import { LocalColours } from './local-colour';
import { Palette } from './palette';
import { coverAlongEdge, rampAlongEdge } from '../edge/edge-cover';
import { resized } from '../coverage/resize';
import { SideColours } from './side-colours';
import { DROP, KEEP, paintHair, paintSeeds } from './seeds';
import { markOf, turnsOf, type Stroke, type Strokes } from './strokes';

/** How a cut is made on the small copy. */
interface Pace {
  /** Longer side of the copy. */
  readonly side: number;
  /** Rounds of learning the colours from the cut before. */
  readonly rounds: number;
  /** Whether colours learnt close by place the edge at full size. */
  readonly local: boolean;
  /** Whether a further cut goes on, in one round, from the one before, of which its strokes are seldom more than an extension. */
  readonly goesOn: boolean;
}

const CAREFUL: Pace = { side: 420, rounds: 3, local: true, goesOn: false };
/** While the pointer is down. */
const QUICK: Pace = { side: 240, rounds: 2, local: false, goesOn: true };
/** A correction reaches this many times the stroke's radius. */
const CORRECTS = 5;
/** Most that one pixel's colour can say on the small copy, and along the edge at full size. */
const MOST = 7;
const MOST_AT_EDGE = 4;
/** What nothing speaks for is not the subject. */
const DOUBT = 0.3;
/** How much speaks for a pixel to stay on its side when a further stroke corrects the cut. */
const STAYS = 0.7;
/**
 * Unpainted pixels teach the background's colours unless the way to keep strokes is less than so many times that to drop strokes: fewer are
 * left out while little is painted, when both sides' colours have to be learnt from somewhere.
 */
const CLEARLY = { first: 0.7, later: 2 };
/** Shares of the picture under strokes up to which they are the first, and from which they are no longer. */
const PAINTED = { first: 0.015, later: 0.035 };
/** Most that lying nearer to one kind of strokes says, as a log ratio. */
const MOST_FOR_PLACE = 0.5;
/** What a difference in colour of 8-bit steps adds to the way from a stroke, in pixels. */
const STEEPNESS = 0.1;
/** Rounds of learning from a box alone, where all begins as the subject. */
const BOX_ROUNDS = 6;
/** Rounds more while little is painted. */
const EARLY_ROUNDS = 2;
const SURE = 9000;
const CONTRAST = 22;
/** Weights along the edge at full size: colours learnt close by, colours of the whole picture, and where the small copy has the edge. */
const LOCAL = 0.9;
const GLOBAL = 0.3;
const PLACE = 0.5;

/**
 * Cuts a matte from keep and drop strokes on one picture: colour mixtures of both sides, learnt from the strokes and then
 * from the cut itself, meet contrast in a minimum cut (Rother et al. 2004), first on a small copy, then along the edge at
 * full size with colours learnt close by. Keeps what does not depend on the strokes, so that a further stroke is answered
 * quickly.
 */
export class StrokeCutter {
  private readonly picture: Image;
  private readonly features: Float32Array<ArrayBuffer>;
  private readonly small: Image;
  private readonly smallFeatures: Float32Array<ArrayBuffer>;
  /** The cuts of the small copy. */
  private readonly whole: WholeCut;
  private readonly steps: Steps;
  private readonly palette: Palette;
  private readonly pace: Pace;
  private readonly scale: number;
  /** The last cut on the small copy. */
  private last: Uint8Array | null = null;
  /** The cuts on the small copy after the first turns of the strokes given last. */
  private turns: readonly { readonly mark: string; readonly inside: Uint8Array }[] = [];

  /** With `quick` the first cut is made on a smaller copy: coarser, and there while the pointer moves. */
  constructor(picture: Image, quick = false) {
    this.picture = picture;
    this.features = featuresOf(picture);
    this.pace = quick ? QUICK : CAREFUL;
    this.scale = Math.max(1, Math.max(picture.width, picture.height) / this.pace.side);
    this.small = shrunkTo(
      picture,
      Math.max(1, Math.round(picture.width / this.scale)),
      Math.max(1, Math.round(picture.height / this.scale)),
    );
    this.smallFeatures = featuresOf(this.small);
    const differences = neighbourDifferences(this.smallFeatures, this.small.width, this.small.height);
    this.whole = new WholeCut(contrastOf(differences, CONTRAST));
    this.steps = stepsOf(differences, STEEPNESS);
    this.palette = new Palette(this.smallFeatures);
  }

  /**
   * Coverage 0..1. Without keep strokes and without a box nothing is covered. With a box alone, what is in it and unlike what lies
   * around it is covered.
   * Strokes of a later turn correct what came of those before: away from them the cut stays as it was, unless much speaks against it.
   * Under hair strokes coverage is told from colour alone.
   * With `prior`, a matte of the same size that the strokes correct, they change it only around themselves.
   */
  cut(strokes: Strokes, prior: Plane | null = null): Plane {
    const { width, height } = this.picture;
    const out = createPlane(width, height);
    if (prior === null && strokes.box === undefined && strokes.keep.every((s) => s.points.length === 0)) return out;
    const seeds = paintSeeds(strokes, width, height, 1);
    const before = prior === null ? this.cutBefore(strokes) : null;
    const { inside: coarse, sides, trust } = this.cutSmall(strokes, prior, before);
    const signed = enlarge(coarse, this.small.width, this.small.height, width, height);
    for (let i = 0; i < seeds.length; i++) {
      if (seeds[i] === KEEP && signed[i]! < 0) signed[i] = 0.5;
      if (seeds[i] === DROP && signed[i]! > 0) signed[i] = -0.5;
    }
    const inside = this.cutLarge(signed, seeds, sides, trust);
    for (let i = 0; i < seeds.length; i++) if (seeds[i] !== 0) inside[i] = seeds[i] === KEEP ? 1 : 0;
    signedDistance(inside, width, height, signed);
    rampAlongEdge(signed, out);
    coverAlongEdge(this.features, signed, width, height, out);
    if (prior !== null) keepPrior(prior, seeds, strokes, out);
    const { hair = [] } = strokes;
    if (hair.length > 0) fineEdge(this.features, paintHair(hair, seeds, width, height), out);
    return out;
  }

  /** The cut that the last turn of the strokes corrects, on the small copy; null where there is none. */
  private cutBefore(strokes: Strokes): Uint8Array | null {
    const known = this.turns;
    const turns: { mark: string; inside: Uint8Array }[] = [];
    let before: Uint8Array | null = null;
    let same = true;
    const upTo: { keep: Stroke[]; drop: Stroke[] } = { keep: [], drop: [] };
    for (const turn of turnsOf(strokes).slice(0, -1)) {
      upTo.keep.push(...turn.keep);
      upTo.drop.push(...turn.drop);
      // one kind of strokes alone says too little to hold on to
      if (upTo.keep.length === 0 || upTo.drop.length === 0) continue;
      const mark = markOf(turns.length === 0 ? upTo : turn);
      same &&= known[turns.length]?.mark === mark;
      before = same ? known[turns.length]!.inside : this.cutSmall(upTo, null, before).inside;
      turns.push({ mark, inside: before });
    }
    this.turns = turns;
    return before;
  }

  /** The cut on the small copy, which corrects the one `before`, and what either side's colours are like. */
  private cutSmall(strokes: Strokes, prior: Plane | null, before: Uint8Array | null): Small {
    const { width, height } = this.small;
    const features = this.smallFeatures;
    const n = width * height;
    const seeds = paintSeeds(strokes, width, height, 1 / this.scale);
    if (prior !== null) seedFromPrior(resized(prior, width, height), seeds, strokes, this.scale);
    const lean = new Float32Array(n);
    const { colours, of } = this.palette;
    const every = new Uint8Array(colours.length / 3).fill(1);
    const start = this.pace.goesOn ? this.last : null;
    // with a box alone all that is in it counts as the subject at first
    const isBoxed = strokes.box !== undefined && !seeds.includes(KEEP);
    let inside: Uint8Array = seeds.map((v, i) => (v === KEEP || (v === 0 && (isBoxed || start?.[i] === 1)) ? 1 : 0));
    let sides: SideColours | null = null;
    let trust = 1;
    const near = isBoxed ? nowhereNear(n) : nearnessOf(this.steps, seeds);
    const [kept, dropped] = [placesOf(seeds, KEEP), placesOf(seeds, DROP)];
    const underKeep = seeds.map((v) => (v === KEEP ? 1 : 0));
    const rounds = isBoxed ? BOX_ROUNDS : this.pace.rounds + (near.isEarly && !this.pace.goesOn ? EARLY_ROUNDS : 0);
    for (let round = start === null || isBoxed ? 0 : rounds - 1; round < rounds; round++) {
      sides = learnSides(features, inside, near.unclear);
      // colours that cannot even tell the strokes apart must not overrule where these lie
      trust = sides === null ? 0 : isBoxed ? 1 : sides.trust(features, kept, dropped) ** 2;
      const ratios = sides?.ratios(colours, every, MOST);
      for (let i = 0; i < n; i++) {
        if (seeds[i] !== 0) lean[i] = seeds[i] === KEEP ? SURE : -SURE;
        else lean[i] = trust * (ratios?.[of[i]!] ?? 0) + near.lean[i]! + (before === null ? 0 : before[i] === 1 ? STAYS : -STAYS) - DOUBT;
      }
      // parts that no keep stroke touches are not meant
      const found = this.whole.cut(lean);
      const next = isBoxed ? found : grown(underKeep, found, width);
      const same = next.every((v, i) => v === inside[i]);
      inside = next;
      if (same) break;
    }
    this.last = inside;
    return { inside, sides, trust };
  }

  /** The edge at full size, near where the small copy has it. */
  private cutLarge(signed: Float32Array, seeds: Uint8Array, sides: SideColours | null, trust: number): Uint8Array {
    const { width, height } = this.picture;
    const { features } = this;
    const reach = 2 + 2.2 * this.scale;
    const band = new Uint8Array(signed.length);
    for (let i = 0; i < band.length; i++) if (seeds[i] === 0 && Math.abs(signed[i]!) < reach) band[i] = 1;
    const lean = this.pace.local
      ? LocalColours.learn(features, signed, width, height).vote(features, band, width, height, (x, y) => [x, y])
      : new Float32Array(signed.length);
    const ratios = sides?.ratios(features, band, MOST_AT_EDGE);
    for (let i = 0; i < lean.length; i++) {
      if (band[i] !== 1) continue;
      lean[i] = LOCAL * lean[i]! + GLOBAL * trust * (ratios?.[i] ?? 0) + (PLACE * signed[i]!) / this.scale;
    }
    return cutBand(features, band, signed, lean, width, height);
  }
}

interface Small {
  readonly inside: Uint8Array;
  readonly sides: SideColours | null;
  /** How far these are to be trusted, 0..1. */
  readonly trust: number;
}

function placesOf(seeds: Uint8Array, value: number): number[] {
  const places: number[] = [];
  for (let i = 0; i < seeds.length; i++) if (seeds[i] === value) places.push(i);
  return places;
}

/** The colours inside and outside `inside`, without what is outside and `unclear`; null where one side has none to speak of. */
function learnSides(features: Float32Array, inside: Uint8Array, unclear: Uint8Array): SideColours | null {
  const places: [number[], number[]] = [[], []];
  for (let i = 0; i < inside.length; i++) if (inside[i] === 1 || unclear[i] !== 1) places[inside[i] === 1 ? 0 : 1].push(i);
  return SideColours.learn(features, ...places);
}

/** What the strokes' places alone say. */
interface Nearness {
  /** 1 at the unpainted pixels that teach the background nothing, being too near to keep strokes; nowhere without drop strokes. */
  readonly unclear: Uint8Array;
  /** How much being nearer to keep strokes than to drop strokes speaks for a pixel, as a log ratio. */
  readonly lean: Float32Array;
  /** Little is painted yet. */
  readonly isEarly: boolean;
}

/** What places say where there are no keep strokes: nothing. */
const nowhereNear = (count: number): Nearness => ({
  unclear: new Uint8Array(count),
  lean: new Float32Array(count),
  isEarly: false,
});

function nearnessOf(steps: Steps, seeds: Uint8Array): Nearness {
  const unclear = new Uint8Array(seeds.length);
  const lean = new Float32Array(seeds.length);
  if (!seeds.includes(DROP)) return { unclear, lean, isEarly: false };
  const painted = seeds.reduce((sum, v) => sum + (v === 0 ? 0 : 1), 0) / seeds.length;
  const along = Math.max(0, Math.min(1, (painted - PAINTED.first) / (PAINTED.later - PAINTED.first)));
  const clearly = CLEARLY.first + along * (CLEARLY.later - CLEARLY.first);
  const toKeep = geodesicDistances(steps, seeds, KEEP);
  const toDrop = geodesicDistances(steps, seeds, DROP);
  for (let i = 0; i < lean.length; i++) {
    if (seeds[i] !== 0) continue;
    const k = toKeep[i]!;
    const d = toDrop[i]!;
    if (k < clearly * d) unclear[i] = 1;
    // without keep strokes everything is infinitely far from them
    lean[i] = k === Infinity ? -MOST_FOR_PLACE : (MOST_FOR_PLACE * (d - k)) / (d + k + 1);
  }
  return { unclear, lean, isEarly: along < 1 };
}

/** Widest stroke, in pixels. */
const widest = ({ keep, drop }: Strokes): number => [...keep, ...drop].reduce((most, s) => Math.max(most, s.radius), 0);

/** Squared distance of every pixel to the nearest stroke. */
function distancesToStrokes(seeds: Uint8Array, width: number, height: number): Float32Array {
  const painted = seeds.map((v) => (v === 0 ? 0 : 1));
  const out = new Float32Array(seeds.length);
  squaredDistances(painted, 1, width, height, out);
  return out;
}

/** Away from the strokes the prior stands: its inside keeps, its outside drops. */
function seedFromPrior(prior: Plane, seeds: Uint8Array, strokes: Strokes, scale: number): void {
  const distances = distancesToStrokes(seeds, prior.width, prior.height);
  const reach = Math.max(3, (CORRECTS * widest(strokes)) / scale) ** 2;
  for (let i = 0; i < seeds.length; i++) if (seeds[i] === 0 && distances[i]! > reach) seeds[i] = prior.data[i]! >= 0.5 ? KEEP : DROP;
}

/** Puts the prior back wherever the strokes do not reach. */
function keepPrior(prior: Plane, seeds: Uint8Array, strokes: Strokes, out: Plane): void {
  const distances = distancesToStrokes(seeds, prior.width, prior.height);
  const reach = CORRECTS * widest(strokes);
  for (let i = 0; i < out.data.length; i++) {
    const share = Math.max(0, Math.min(1, (Math.sqrt(distances[i]!) - reach) / 4));
    out.data[i] = share * prior.data[i]! + (1 - share) * out.data[i]!;
  }
}

/** Signed distance at the large size of an edge cut at the small one, in large pixels. */
function enlarge(inside: Uint8Array, fromWidth: number, fromHeight: number, width: number, height: number): Float32Array {
  const small = new Float32Array(inside.length);
  signedDistance(inside, fromWidth, fromHeight, small);
  const out = new Float32Array(width * height);
  const scale = width / fromWidth;
  for (let y = 0, o = 0; y < height; y++) {
    const py = Math.max(0, Math.min(fromHeight - 1.001, ((y + 0.5) * fromHeight) / height - 0.5));
    const row = (py | 0) * fromWidth;
    const fy = py - (py | 0);
    for (let x = 0; x < width; x++, o++) {
      const px = Math.max(0, Math.min(fromWidth - 1.001, ((x + 0.5) * fromWidth) / width - 0.5));
      const i = row + (px | 0);
      const fx = px - (px | 0);
      const upper = small[i]! + fx * (small[i + 1]! - small[i]!);
      const lower = small[i + fromWidth]! + fx * (small[i + fromWidth + 1]! - small[i + fromWidth]!);
      out[o] = scale * (upper + fy * (lower - upper));
    }
  }
  return out;
}
