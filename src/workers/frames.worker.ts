// Browser worker: decodes proxies and draws frame plans for the stage and the weave.
import { EmptinessMeter } from '../core/check/coverage';
import { FrameLooker, picturesToLook, plansToLook, type FrameLook, type LookPlans } from '../core/check/look';
import { createImage, type Image, type Plane } from '../core/image/pixels';
import { lumaOf } from '../core/image/plane';
import { likenessOf, type Aligned } from '../core/pair/align';
import { alignPictures } from '../core/pair/align-pictures';
import { findWithin } from '../core/pair/find-within';
import { carriedPoints } from '../core/matte/outline/carry-outline';
import { cameraStep } from '../core/pair/borrowed-move';
import { SIGNS_WIDTH } from '../core/pair/frame-signs';
import { IN_PLACE } from '../core/pair/placement';
import { shrinkImage, unmultiply } from '../core/image/image';
import type { StoredCoverage } from '../core/matte/coverage/stored-coverage';
import { measureHole, type HoleShape } from '../core/recipes/hole-shape';
import { Compositor, type CoverageSource, type PictureSource } from '../core/render/cpu/compositor';
import type { FramePlan, PictureRef, PlannedCoverage } from '../core/plan/frame-plan';
import { coverageKey, keyedPictures, needsOf, pictureKey, picturesOf } from '../core/plan/plan-needs';
import { plansOf } from '../core/plan/plan-views';
import type { FramesReply, FramesRequest, Lane } from './frames-protocol';
import { ProxyDecoder } from './proxy-decoder';

type DrawRequest = Extract<FramesRequest, { kind: 'draw' }>;
type MeasureRequest = Extract<FramesRequest, { kind: 'measure' | 'measure hole' | 'align' | 'step' | 'carry points' | 'look' }>;

const FULL_BYTES = 360 * 2 ** 20;
const SMALL_BYTES = 120 * 2 ** 20;
const SMALL_WIDTH = 160;

/** Pictures by key, the longest unused ones dropped when they weigh too much. */
class PictureCache {
  private readonly pictures = new Map<string, Image>();
  private readonly limit: number;
  private bytes = 0;

  constructor(limit: number) {
    this.limit = limit;
  }

  get(key: string): Image | undefined {
    const found = this.pictures.get(key);
    if (found !== undefined) {
      this.pictures.delete(key);
      this.pictures.set(key, found);
    }
    return found;
  }

  set(key: string, image: Image): void {
    this.pictures.set(key, image);
    this.bytes += image.data.length;
    for (const [old, picture] of this.pictures) {
      if (this.bytes <= this.limit) break;
      this.pictures.delete(old);
      this.bytes -= picture.data.length;
    }
  }
}

const full = new PictureCache(FULL_BYTES);
const small = new PictureCache(SMALL_BYTES);
const decoders = new Map<string, ProxyDecoder>();
const compositors = new Map<string, Compositor>();
const waiting: DrawRequest[] = [];
const toMeasure: MeasureRequest[] = [];
let busy = false;

const reply = (message: FramesReply, transfer: Transferable[] = []): void => self.postMessage(message, { transfer });

self.onmessage = ({ data }: MessageEvent<FramesRequest>) => {
  if (data.kind === 'media') {
    for (const source of data.media) if (!decoders.has(source.mediumId)) decoders.set(source.mediumId, new ProxyDecoder(source));
  } else if (data.kind === 'mattes') mattesUrl = data.url;
  else if (data.kind === 'forget') {
    forgets++;
    if (data.frame !== null) coverages.delete(`${data.matteId}:${data.frame}`);
    else for (const key of coverages.keys()) if (key.startsWith(`${data.matteId}:`)) coverages.delete(key);
  } else if (data.kind === 'drop measures') {
    for (let i = toMeasure.length - 1; i >= 0; i--)
      if (toMeasure[i]!.owner === data.owner) reply({ kind: 'dropped', job: toMeasure.splice(i, 1)[0]!.job });
  } else if (data.kind === 'drop') dropLane(data.lane);
  else {
    if (data.kind === 'draw' && data.lane === 'now') dropLane('now');
    if (data.kind === 'draw') waiting.push(data);
    else toMeasure.push(data);
    if (!busy) void work();
  }
};

function dropLane(lane: Lane): void {
  for (let i = waiting.length - 1; i >= 0; i--)
    if (waiting[i]!.lane === lane) reply({ kind: 'dropped', job: waiting.splice(i, 1)[0]!.job });
}

/** What a hand has asked for goes before small pictures; what is only to be known comes after them. */
const ASKED: ReadonlySet<MeasureRequest['kind']> = new Set(['align', 'step', 'carry points']);

function takeNext(): DrawRequest | MeasureRequest | undefined {
  const drawn = (lane: Lane): DrawRequest | undefined => {
    const at = waiting.findIndex((r) => r.lane === lane);
    return at < 0 ? undefined : waiting.splice(at, 1)[0];
  };
  const measured = (fits: (kind: MeasureRequest['kind']) => boolean): MeasureRequest | undefined => {
    const at = toMeasure.findIndex((r) => fits(r.kind));
    return at < 0 ? undefined : toMeasure.splice(at, 1)[0];
  };
  return (
    drawn('now') ??
    drawn('ahead') ??
    measured((kind) => ASKED.has(kind)) ??
    drawn('thumb') ??
    measured((kind) => kind !== 'look') ??
    toMeasure.shift()
  );
}

async function work(): Promise<void> {
  busy = true;
  for (let request = takeNext(); request !== undefined; request = takeNext()) {
    try {
      if (request.kind === 'measure') reply({ kind: 'measured', job: request.job, empty: await measure(request.plan) });
      else if (request.kind === 'measure hole') reply({ kind: 'hole', job: request.job, hole: await holeOf(request.plan) });
      else if (request.kind === 'align') reply({ kind: 'aligned', job: request.job, ...(await align(request)) });
      else if (request.kind === 'step') {
        const step = cameraStep(await lumaOfPlan(request.plan), await lumaOfPlan(request.over));
        reply({ kind: 'stepped', job: request.job, step });
      } else if (request.kind === 'look') reply({ kind: 'looked', job: request.job, look: await look(request.plans) });
      else if (request.kind === 'carry points') {
        const [from, to] = [await lumaOfPlan(request.plan, CARRY_WIDTH), await lumaOfPlan(request.over, CARRY_WIDTH)];
        const points = carriedPoints(request.points, from, to, request.plan.width / from.width);
        reply({ kind: 'carried points', job: request.job, points });
      } else {
        const bitmap = await draw(request);
        reply({ kind: 'drawn', job: request.job, bitmap }, [bitmap]);
      }
    } catch (error) {
      reply({ kind: 'failed', job: request.job, reason: (error as Error).message });
    }
    // let newer messages in: what the hand wants now goes before thumbnails
    await new Promise((resolve) => setTimeout(resolve, 0));
  }
  busy = false;
}

async function draw({ drawing, width, height, lane }: DrawRequest): Promise<ImageBitmap> {
  const compositor = compositorFor(width, height);
  const plans = plansOf(drawing);
  // a larger small picture, and one that is zoomed into, would show the pixels of tiny ones
  const pictures = await gather(picturesOf(...plans), lane === 'thumb' && width <= SMALL_WIDTH);
  const mattes = await gatherCoverages(...plans);
  const out = createImage(width, height);
  if (drawing.kind === 'matte' || drawing.kind === 'edge')
    paintMatte(compositor, drawing.plan, pictures, mattes, drawing.kind === 'edge', out);
  else compositor.draw(drawing.plan, pictures, out, mattes);
  if (drawing.kind === 'difference') {
    const other = createImage(width, height);
    compositor.draw(drawing.other, pictures, other, mattes);
    for (let i = 0; i < out.data.length; i++) out.data[i] = Math.abs(out.data[i]! - other.data[i]!);
  }
  if (drawing.kind === 'cut-out') unmultiply(out.data);
  else for (let i = 3; i < out.data.length; i += 4) out.data[i] = 255;
  return createImageBitmap(new ImageData(out.data as Uint8ClampedArray<ArrayBuffer>, width, height));
}

let meter: { readonly size: string; readonly meter: EmptinessMeter } | null = null;

async function measure(plan: FramePlan): Promise<number> {
  const size = `${plan.width}x${plan.height}`;
  if (meter?.size !== size) meter = { size, meter: new EmptinessMeter(plan) };
  const pictures = await gather(keyedPictures(plan), true);
  return meter.meter.measure(plan, pictures, await gatherCoverages(plan));
}

let looker: { readonly size: string; readonly looker: FrameLooker } | null = null;

async function look(plans: LookPlans): Promise<FrameLook> {
  const sized = plans.result ?? plans.shots.leaving ?? plans.shots.entering ?? plans.mattes[0]?.plan;
  if (sized === undefined) return { light: null, result: null, shots: { leaving: null, entering: null }, mattes: [] };
  const size = `${sized.width}x${sized.height}`;
  if (looker?.size !== size) looker = { size, looker: new FrameLooker(sized) };
  const stored = await Promise.all(plansToLook(plans).map((plan) => gatherCoverages(plan)));
  const pictures = await gather(picturesToLook(plans), false);
  return looker.looker.look(plans, pictures, (matte) => stored.map((of) => of(matte)).find((c) => c !== null) ?? null);
}

/** Height at which holes are measured. */
const HOLE_HEIGHT = 270;

async function holeOf(plan: FramePlan): Promise<HoleShape | null> {
  const mattes = plan.layers[0]?.mattes ?? [];
  if (mattes.length === 0) return null;
  const height = Math.min(HOLE_HEIGHT, plan.height);
  const width = Math.max(1, Math.round((height * plan.width) / plan.height));
  const pictures = await gather(
    mattes.flatMap((m) => (m.kind === 'key' ? [m.picture] : [])),
    false,
  );
  const coverage = new Uint8Array(width * height);
  compositorFor(width, height).drawMattes(plan, mattes, pictures, coverage, await gatherCoverages(plan));
  return measureHole(coverage, width, height, plan.width, plan.height);
}

/** How the picture of a plan lies over another's, in pixels of the signs' pictures, and how alike both are as they are now. */
async function align({
  plan,
  over,
  within,
}: Extract<FramesRequest, { kind: 'align' }>): Promise<{ readonly before: number; readonly aligned: Aligned }> {
  const [a, b] = [await lumaOfPlan(over), await lumaOfPlan(plan)];
  const before = likenessOf(a, b, IN_PLACE);
  const found = within ? findWithin(a, b) : null;
  if (found === null) return { before: before.likeness, aligned: alignPictures(a, b) };
  return { before: before.likeness, aligned: { placement: found.placement, likeness: found.score, overlap: before.overlap } };
}

/** Width at which points are carried. */
const CARRY_WIDTH = 960;

/** The last picture drawn for its brightness: of frames that follow each other each is asked for twice. */
let lastLuma: { readonly key: string; readonly luma: Plane } | null = null;

async function lumaOfPlan(plan: FramePlan, wide = SIGNS_WIDTH): Promise<Plane> {
  const width = Math.min(wide, plan.width);
  const key = `${width} ${JSON.stringify(plan)}`;
  if (lastLuma?.key === key) return lastLuma.luma;
  const out = createImage(width, Math.max(1, Math.round((width * plan.height) / plan.width)));
  compositorFor(out.width, out.height).draw(plan, await gather(picturesOf(plan), false), out);
  lastLuma = { key, luma: lumaOf(out) };
  return lastLuma.luma;
}

function compositorFor(width: number, height: number): Compositor {
  const key = `${width}x${height}`;
  const known = compositors.get(key) ?? new Compositor(width, height);
  compositors.set(key, known);
  return known;
}

async function gather(needed: readonly PictureRef[], thumb: boolean): Promise<PictureSource> {
  const found = new Map<string, Image>();
  for (const ref of needed) if (!found.has(pictureKey(ref))) found.set(pictureKey(ref), await pictureOf(ref, thumb));
  return (ref) => found.get(pictureKey(ref)) ?? null;
}

/** Stored coverage by matte and frame; null where the server has none. */
const coverages = new Map<string, StoredCoverage | null>();
const MOST_COVERAGES = 400;
/** How often coverage has been forgotten: what was fetched before is not kept after. */
let forgets = 0;
let mattesUrl = '';

async function gatherCoverages(...plans: readonly FramePlan[]): Promise<CoverageSource> {
  const found = new Map<string, StoredCoverage | null>();
  for (const [key, matte] of needsOf(...plans).coverages) found.set(key, await coverageOf(key, matte));
  return (matte) => found.get(coverageKey(matte)) ?? null;
}

async function coverageOf(key: string, { matteId, frame }: PlannedCoverage): Promise<StoredCoverage | null> {
  const known = coverages.get(key);
  if (known !== undefined) return known;
  const before = forgets;
  const response = await fetch(`${mattesUrl}/${matteId}/${frame}`);
  if (!response.ok) throw new Error('the matte could not be fetched');
  const stored =
    response.status === 204
      ? null
      : {
          width: Number(response.headers.get('x-width')),
          height: Number(response.headers.get('x-height')),
          data: new Uint8Array(await response.arrayBuffer()),
        };
  if (forgets === before) coverages.set(key, stored);
  if (coverages.size > MOST_COVERAGES) coverages.delete(coverages.keys().next().value!);
  return stored;
}

async function pictureOf(ref: PictureRef, thumb: boolean): Promise<Image> {
  const key = pictureKey(ref);
  const known = (thumb ? small : full).get(key);
  if (known !== undefined) return known;
  const decoder = decoders.get(ref.mediumId);
  if (decoder === undefined) throw new Error('a medium of this frame is not ready');
  const image = full.get(key) ?? (await decoder.decode(ref.frame));
  full.set(key, image);
  if (!thumb) return image;
  const tiny = createImage(
    Math.min(SMALL_WIDTH, image.width),
    Math.max(1, Math.round((Math.min(SMALL_WIDTH, image.width) * image.height) / image.width)),
  );
  shrinkImage(image, tiny);
  small.set(key, tiny);
  return tiny;
}

/** White where the layer stays, or where it half does. Without any matte there is nothing to show but white. */
function paintMatte(
  compositor: Compositor,
  plan: FramePlan,
  pictures: PictureSource,
  mattes: CoverageSource,
  onlyEdge: boolean,
  out: Image,
): void {
  const coverage = new Uint8Array(out.width * out.height);
  compositor.drawMattes(plan, plan.layers[0]?.mattes ?? [], pictures, coverage, mattes);
  for (let i = 0, o = 0; i < coverage.length; i++, o += 4) {
    const cover = coverage[i]!;
    out.data[o] = out.data[o + 1] = out.data[o + 2] = onlyEdge ? 255 - Math.abs(2 * cover - 255) : cover;
    out.data[o + 3] = 255;
  }
}
