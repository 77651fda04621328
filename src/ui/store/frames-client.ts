import { LRUCache } from 'lru-cache';
import { toNumber } from '../../core/geometry/rational';
import type { MediumFacts } from '../../core/film/media-facts';
import type { FramePlan, PlannedCoverage } from '../../core/plan/frame-plan';
import { needsOf } from '../../core/plan/plan-needs';
import { plansOf, type Drawing } from '../../core/plan/plan-views';
import type { OutlinePoint } from '../../core/matte/outline/outline';
import type { FrameLook, LookPlans } from '../../core/check/look';
import type { Aligned } from '../../core/pair/align';
import type { Placement } from '../../core/pair/placement';
import type { HoleShape } from '../../core/recipes/hole-shape';
import { workOf } from '../../core/plan/draft';
import type { FramesRequest } from '../../workers/frames/protocol';
import { bandsOf } from './bands';
import { FramesPool, type FramesAnswer } from './frames-pool';
import type { Lane } from './frames-scheduler';

/** Memory that frames may take until it is set. */
const USUAL_BUDGET = 512 * 2 ** 20;
const MOST_MEASURED = 4000;

const coveragesOf = (drawing: Drawing): readonly PlannedCoverage[] => [...needsOf(...plansOf(drawing)).coverages.values()];

type DrawRequest = Omit<Extract<FramesRequest, { readonly kind: 'draw' }>, 'job'>;

interface Drawn {
  readonly bitmap: ImageBitmap;
  /** The places of the stored coverage in it. */
  readonly shows: readonly string[];
}

/** A picture that is waited for. */
interface Running {
  bitmap: Promise<ImageBitmap | null>;
  readonly shows: readonly string[];
  /** A worker is at it. */
  hasBegun: boolean;
}

const bytesOf = ({ bitmap }: Drawn): number => 4 * bitmap.width * bitmap.height;

const SLOW_MS = 30;

/** Pixels of a draft a pixel of the frame, along each side. */
const DRAFT_SCALE = 0.5;

/** A frame as it can be shown at once. */
export interface Shown {
  readonly bitmap: ImageBitmap;
  /** Smaller and with less blur than it is to be. */
  readonly isDraft: boolean;
}

/** Draws frames in workers and keeps them, so that a frame seen once is there at once. */
export class FramesClient {
  private readonly pool = new FramesPool(
    () => new Worker(new URL('../../workers/frames.worker.ts', import.meta.url), { type: 'module' }),
    () => new Worker(new URL('../../workers/pictures.worker.ts', import.meta.url), { type: 'module' }),
    navigator.hardwareConcurrency,
  );
  private cache = cacheOf(USUAL_BUDGET);
  /** What a share of work has taken lately, ms. */
  private msOfWork: number | null = null;
  /** What was measured of plans, by the plan as text. */
  private readonly measured = new LRUCache<string, Measured>({ max: MOST_MEASURED });
  /** What is being drawn, by what it is, and the places of the stored coverage in it. */
  private readonly drawing = new Map<string, Running>();
  private readonly listeners = new Set<() => void>();
  /** How often the stored coverage of a matte has changed, as a whole and on single frames. */
  private readonly changes = new Map<string, number>();

  /** For pictures that hang on stored mattes: tells when one has changed. */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  /** Grows whenever stored coverage of any matte has changed. */
  readonly matteChanges = (): number => this.allChanges;
  private allChanges = 0;

  /** Grows whenever stored coverage that `drawing` shows has changed. */
  changesOf(drawing: Drawing): number {
    return coveragesOf(drawing).reduce((sum, c) => sum + this.changed(c.matteId) + this.changed(placeOf(c.matteId, c.frame)), 0);
  }

  /** Grows whenever stored coverage of a matte has changed on any frame. */
  changesOfMatte(matteId: string): number {
    let sum = 0;
    for (const [place, count] of this.changes) if (place === matteId || place.startsWith(`${matteId}:`)) sum += count;
    return sum;
  }

  constructor(filmId: string) {
    this.pool.tell({ kind: 'mattes', url: new URL(`/api/films/${filmId}/mattes`, location.href).href });
  }

  setMedia(media: ReadonlyMap<string, MediumFacts>): void {
    this.pool.setMedia(
      [...media.values()].map((m) => ({
        mediumId: m.id,
        url: new URL(`/api/media/${m.id}/${m.proxy}`, location.href).href,
        framesPerSecond: toNumber(m.rate),
        frames: m.frames,
      })),
    );
  }

  /** Frames that are drawn at one time. */
  get atOnce(): number {
    return this.pool.size;
  }

  /** How long a whole frame is likely to take, ms; 0 while nothing is known. */
  msOf(drawing: Drawing): number {
    return (this.msOfWork ?? 0) * workOf(drawing);
  }

  /** Whether a frame is likely to take longer to draw than a hand that moves can wait. */
  isSlow(drawing: Drawing): boolean {
    return this.msOf(drawing) > SLOW_MS;
  }

  /** How much memory frames may take, bytes. What is beyond it goes, the longest unused first. */
  setBudget(bytes: number): void {
    if (bytes === this.cache.maxSize) return;
    const kept = this.cache.dump();
    this.cache = cacheOf(bytes);
    this.cache.load(kept);
  }

  /** Bytes of frames that are held, and that may be. */
  get memory(): { readonly used: number; readonly budget: number } {
    return { used: this.cache.calculatedSize, budget: this.cache.maxSize };
  }

  /** The picture, when it is there already. */
  cached(drawing: Drawing, width: number, height: number): ImageBitmap | null {
    return this.cache.get(keyOf(drawing, width, height))?.bitmap ?? null;
  }

  /** The picture as it can be shown at once: as it is to be, or as a draft; null when neither is there. */
  shown(drawing: Drawing, width: number, height: number): Shown | null {
    const whole = this.cached(drawing, width, height);
    if (whole !== null) return { bitmap: whole, isDraft: false };
    const draft = this.cache.get(draftKeyOf(drawing, width, height));
    return draft === undefined ? null : { bitmap: draft.bitmap, isDraft: true };
  }

  /**
   * Draws; null when the request was dropped for a newer one. `near` is the film frame, where neighbours are drawn too.
   * @throws Error when a frame cannot be decoded.
   */
  draw(drawing: Drawing, width: number, height: number, lane: Lane, near?: number): Promise<ImageBitmap | null> {
    const request = { kind: 'draw', isSmall: lane === 'thumb', isDraft: false, drawing, width, height } as const;
    return this.ask(keyOf(drawing, width, height), request, lane, near);
  }

  /** Draws a quarter of the pixels, with less work in them: what there is time for while frames change. */
  drawDraft(drawing: Drawing, width: number, height: number, lane: Lane): Promise<ImageBitmap | null> {
    const [across, down] = [width, height].map((side) => Math.max(1, Math.round(DRAFT_SCALE * side))) as [number, number];
    const request = { kind: 'draw', isSmall: false, isDraft: true, drawing, width: across, height: down } as const;
    return this.ask(draftKeyOf(drawing, width, height), request, lane);
  }

  private ask(key: string, request: DrawRequest, lane: Lane, near?: number): Promise<ImageBitmap | null> {
    const known = this.cache.get(key);
    if (known !== undefined) return Promise.resolve(known.bitmap);
    const running = this.drawing.get(key);
    if (running !== undefined && (lane !== 'now' || running.hasBegun)) return running.bitmap;
    const shows = coveragesOf(request.drawing).map((c) => placeOf(c.matteId, c.frame));
    const entry: Running = { bitmap: Promise.resolve(null), shows, hasBegun: false };
    const isThis = (): boolean => this.drawing.get(key) === entry;
    this.drawing.set(key, entry);
    // what the hand waits for is drawn by all workers, where that is worth it
    const most = lane === 'now' && !request.isDraft && this.isSlow(request.drawing) ? this.pool.size : 1;
    const answer = this.pool.draw(request, bandsOf(request.drawing, request.height, most), lane, near, () => {
      entry.hasBegun = true;
      return isThis();
    });
    if (lane !== 'thumb' && !request.isDraft) void answer.then((a) => this.learn(a, request.drawing), ignored);
    entry.bitmap = this.drawn(key, answer, isThis);
    return entry.bitmap;
  }

  private learn(answer: FramesAnswer | null, drawing: Drawing): void {
    if (answer === null) return;
    const ms = answer.took / workOf(drawing);
    this.msOfWork = this.msOfWork === null ? ms : (3 * this.msOfWork + ms) / 4;
  }

  /** One that was asked for before its matte changed is shown, but not kept. */
  private async drawn(key: string, answer: Promise<FramesAnswer | null>, isCurrent: () => boolean): Promise<ImageBitmap | null> {
    try {
      const reply = await answer;
      // it was asked for again, more urgently
      if (reply === null && !isCurrent()) return (await this.drawing.get(key)?.bitmap) ?? this.cache.get(key)?.bitmap ?? null;
      if (reply?.kind !== 'drawn') return null;
      if (isCurrent()) this.cache.set(key, { bitmap: reply.bitmap, shows: this.drawing.get(key)!.shows });
      return reply.bitmap;
    } finally {
      if (isCurrent()) this.drawing.delete(key);
    }
  }

  /** The share of a frame that nothing covers, 0..1; null when it is no longer wanted. @throws Error when it cannot be told */
  async measure(plan: FramePlan, owner: string): Promise<number | null> {
    const found = await this.askFor('measure', owner, { plan });
    return found?.kind === 'measured' ? found.empty : null;
  }

  /**
   * The hole that the mattes of a plan's first layer make in the frame, which may be none; undefined when it is no longer wanted.
   * @throws Error when it cannot be told
   */
  async measureHole(plan: FramePlan, owner: string): Promise<HoleShape | null | undefined> {
    const found = await this.askFor('measure hole', owner, { plan });
    return found?.kind === 'hole' ? found.hole : undefined;
  }

  /**
   * How the picture of a plan lies over another's, in pixels of the signs' pictures, with how alike both are as they are, −1..1.
   * With `within` one of them is looked for as a part of the other, and told is how well their edges agree.
   * @throws Error when a picture cannot be had
   */
  async align(
    plan: FramePlan,
    over: FramePlan,
    owner: string,
    within = false,
  ): Promise<{ readonly before: number; readonly aligned: Aligned } | null> {
    const found = await this.askFor('align', owner, { plan, over, within });
    return found?.kind === 'aligned' ? found : null;
  }

  /** Where the camera takes the picture of a plan on that of the next frame, in pixels of the signs' pictures; null when it is no longer wanted. */
  async step(plan: FramePlan, over: FramePlan, owner: string): Promise<Placement | null> {
    const found = await this.askFor('step', owner, { plan, over });
    return found?.kind === 'stepped' ? found.step : null;
  }

  /** Where the motion from one plan's picture to another's takes points; null when it is no longer wanted. @throws Error when a picture cannot be had */
  async carryPoints(
    plan: FramePlan,
    over: FramePlan,
    points: readonly OutlinePoint[],
    owner: string,
  ): Promise<readonly OutlinePoint[] | null> {
    const found = await this.askFor('carry points', owner, { plan, over, points });
    return found?.kind === 'carried points' ? found.points : null;
  }

  /** What a frame of a join looks like; null when it is no longer wanted. @throws Error when it cannot be told */
  async look(plans: LookPlans, owner: string): Promise<FrameLook | null> {
    const found = await this.askFor('look', owner, { plans });
    return found?.kind === 'looked' ? found.look : null;
  }

  private async askFor<K extends MeasureKind>(
    kind: K,
    owner: string,
    asked: Omit<Extract<FramesRequest, { kind: K }>, 'kind' | 'job'>,
  ): Promise<Measured | null> {
    const key = `${kind} ${JSON.stringify(asked)}`;
    const known = this.measured.get(key);
    if (known !== undefined) return known;
    const changes = this.allChanges;
    const found = await this.pool.measure({ kind, ...asked } as unknown as Parameters<FramesPool['measure']>[0], owner);
    if (found === null || found.kind === 'drawn') return null;
    // what was measured of a matte that has changed since is not kept
    if (changes === this.allChanges) this.measured.set(key, found);
    return found;
  }

  /** Takes back what waits to be measured for `owner`. */
  dropMeasures(owner: string): void {
    this.pool.dropMeasures(owner);
  }

  /** The stored coverage of a matte has changed on a frame, or with null on any: what was drawn with it is drawn anew. */
  forgetMatte(matteId: string, frame: number | null): void {
    const place = frame === null ? matteId : placeOf(matteId, frame);
    this.changes.set(place, this.changed(place) + 1);
    this.pool.tell({ kind: 'forget', matteId, frame });
    this.measured.clear();
    this.allChanges++;
    const isShown = (shown: string): boolean => shown === place || (frame === null && shown.startsWith(`${matteId}:`));
    for (const [key, { shows }] of this.cache) if (shows.some(isShown)) this.cache.delete(key);
    for (const [key, { shows }] of this.drawing) if (shows.some(isShown)) this.drawing.delete(key);
    for (const listener of this.listeners) listener();
  }

  drop(lane: Lane): void {
    this.pool.dropLane(lane);
  }

  close(): void {
    this.pool.close();
  }

  private changed(place: string): number {
    return this.changes.get(place) ?? 0;
  }
}

type MeasureKind = 'measure' | 'measure hole' | 'align' | 'step' | 'carry points' | 'look';
type Measured = Extract<FramesAnswer, { kind: 'measured' | 'hole' | 'aligned' | 'stepped' | 'carried points' | 'looked' }>;

/** The stored coverage of a matte on one medium frame. */
const placeOf = (matteId: string, frame: number): string => `${matteId}:${frame}`;

/** Who asked is told. */
const ignored = (): void => undefined;

/** What falls out is not closed: it may still be on its way to a canvas. */
const cacheOf = (maxSize: number): LRUCache<string, Drawn> => new LRUCache({ maxSize, sizeCalculation: bytesOf });

const texts = new WeakMap<Drawing, string>();

/** A drawing as text; the same one is asked about over and over while it plays. */
function textOf(drawing: Drawing): string {
  const known = texts.get(drawing) ?? JSON.stringify(drawing);
  texts.set(drawing, known);
  return known;
}

const keyOf = (drawing: Drawing, width: number, height: number): string => `${width}x${height} ${textOf(drawing)}`;

const draftKeyOf = (drawing: Drawing, width: number, height: number): string => `draft of ${keyOf(drawing, width, height)}`;
