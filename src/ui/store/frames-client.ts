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
import type { FramesReply, FramesRequest, Lane } from '../../workers/frames/protocol';

const BITMAP_BYTES = 400 * 2 ** 20;
const MOST_MEASURED = 4000;

const coveragesOf = (drawing: Drawing): readonly PlannedCoverage[] => [...needsOf(...plansOf(drawing)).coverages.values()];

/** Draws frames in the worker and keeps them, so that a frame seen once is there at once. */
export class FramesClient {
  private readonly worker: Worker;
  private readonly cache = new Map<string, Drawn>();
  private cachedBytes = 0;
  private readonly open = new Map<
    number,
    { key: string; promise: Promise<ImageBitmap | null>; settle: (bitmap: ImageBitmap | null) => void; fail: (error: Error) => void }
  >();
  /** What was measured of plans, by the plan as text. */
  private readonly measured = new LRUCache<string, Measured>({ max: MOST_MEASURED });
  private readonly measuring = new Map<
    number,
    { readonly key: string; readonly settle: (found: Measured | null) => void; readonly fail: (error: Error) => void }
  >();
  private readonly byKey = new Map<string, { readonly job: number; readonly shows: readonly string[] }>();
  private jobs = 0;
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
    this.worker = new Worker(new URL('../../workers/frames.worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<FramesReply>) => this.receive(data);
    this.send({ kind: 'mattes', url: new URL(`/api/films/${filmId}/mattes`, location.href).href });
    this.worker.onerror = (event) => {
      for (const { fail } of this.open.values()) fail(new Error(event.message || 'The frame worker stopped. Reload the page.'));
      for (const { fail } of this.measuring.values()) fail(new Error(event.message || 'The frame worker stopped. Reload the page.'));
      this.open.clear();
      this.measuring.clear();
      this.byKey.clear();
    };
  }

  setMedia(media: ReadonlyMap<string, MediumFacts>): void {
    this.send({
      kind: 'media',
      media: [...media.values()].map((m) => ({
        mediumId: m.id,
        url: new URL(`/api/media/${m.id}/proxy.webm`, location.href).href,
        framesPerSecond: toNumber(m.rate),
        frames: m.frames,
      })),
    });
  }

  /** The picture, when it is there already. */
  cached(drawing: Drawing, width: number, height: number): ImageBitmap | null {
    return this.lookUp(keyOf(drawing, width, height));
  }

  /** Draws; null when the request was dropped for a newer one. @throws Error when a frame cannot be decoded. */
  draw(drawing: Drawing, width: number, height: number, lane: Lane): Promise<ImageBitmap | null> {
    const key = keyOf(drawing, width, height);
    const known = this.lookUp(key);
    if (known !== null) return Promise.resolve(known);
    const running = this.byKey.get(key);
    if (running !== undefined && lane !== 'now') return this.open.get(running.job)!.promise;
    const job = ++this.jobs;
    let settle: (bitmap: ImageBitmap | null) => void = () => undefined;
    let fail: (error: Error) => void = () => undefined;
    const promise = new Promise<ImageBitmap | null>((resolve, reject) => {
      settle = resolve;
      fail = reject;
    });
    this.open.set(job, { key, promise, settle, fail });
    this.byKey.set(key, { job, shows: coveragesOf(drawing).map((c) => placeOf(c.matteId, c.frame)) });
    this.send({ kind: 'draw', job, lane, drawing, width, height });
    return promise;
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

  private askFor<K extends MeasureKind>(
    kind: K,
    owner: string,
    asked: Omit<Extract<FramesRequest, { kind: K }>, 'kind' | 'job' | 'owner'>,
  ): Promise<Measured | null> {
    const key = `${kind} ${JSON.stringify(asked)}`;
    const known = this.measured.get(key);
    if (known !== undefined) return Promise.resolve(known);
    const job = ++this.jobs;
    const answer = new Promise<Measured | null>((settle, fail) => this.measuring.set(job, { key, settle, fail }));
    this.send({ kind, job, owner, ...asked } as unknown as FramesRequest);
    return answer;
  }

  /** Takes back what waits to be measured for `owner`. */
  dropMeasures(owner: string): void {
    this.send({ kind: 'drop measures', owner });
  }

  /** The stored coverage of a matte has changed on a frame, or with null on any: what was drawn with it is drawn anew. */
  forgetMatte(matteId: string, frame: number | null): void {
    const place = frame === null ? matteId : placeOf(matteId, frame);
    this.changes.set(place, this.changed(place) + 1);
    this.send({ kind: 'forget', matteId, frame });
    this.measured.clear();
    this.allChanges++;
    const isShown = (shown: string): boolean => shown === place || (frame === null && shown.startsWith(`${matteId}:`));
    for (const [key, { shows }] of this.cache) if (shows.some(isShown)) this.discard(key);
    for (const [key, { shows }] of this.byKey) if (shows.some(isShown)) this.byKey.delete(key);
    for (const listener of this.listeners) listener();
  }

  drop(lane: Lane): void {
    this.send({ kind: 'drop', lane });
  }

  close(): void {
    this.worker.terminate();
  }

  private send(message: FramesRequest): void {
    this.worker.postMessage(message);
  }

  private changed(place: string): number {
    return this.changes.get(place) ?? 0;
  }

  private lookUp(key: string): ImageBitmap | null {
    const found = this.cache.get(key);
    if (found === undefined) return null;
    this.cache.delete(key);
    this.cache.set(key, found);
    return found.bitmap;
  }

  private receive(message: FramesReply): void {
    const asker = this.measuring.get(message.job);
    if (asker !== undefined) {
      this.measuring.delete(message.job);
      if (message.kind === 'failed') asker.fail(new Error(message.reason));
      else {
        const found = message.kind === 'drawn' || message.kind === 'dropped' ? null : message;
        if (found !== null) this.remember(asker.key, found);
        asker.settle(found);
      }
      return;
    }
    const job = this.open.get(message.job);
    if (job === undefined) return;
    this.open.delete(message.job);
    // one that was asked before its matte changed is shown, but not kept
    const asked = this.byKey.get(job.key);
    const current = asked?.job === message.job;
    if (current) this.byKey.delete(job.key);
    if (message.kind === 'dropped') job.settle(null);
    else if (message.kind === 'failed') job.fail(new Error(message.reason));
    else if (message.kind === 'drawn') {
      if (current) this.keep(job.key, { bitmap: message.bitmap, shows: asked.shows });
      job.settle(message.bitmap);
    }
  }

  private remember(key: string, found: Measured): void {
    this.measured.set(key, found);
  }

  private keep(key: string, drawn: Drawn): void {
    this.discard(key);
    this.cache.set(key, drawn);
    this.cachedBytes += bytesOf(drawn);
    for (const old of this.cache.keys()) {
      if (this.cachedBytes <= BITMAP_BYTES) break;
      this.discard(old);
    }
  }

  /** Not closed: it may still be on its way to a canvas. */
  private discard(key: string): void {
    const drawn = this.cache.get(key);
    if (drawn === undefined) return;
    this.cache.delete(key);
    this.cachedBytes -= bytesOf(drawn);
  }
}

type MeasureKind = 'measure' | 'measure hole' | 'align' | 'step' | 'carry points' | 'look';
type Measured = Extract<FramesReply, { kind: 'measured' | 'hole' | 'aligned' | 'stepped' | 'carried points' | 'looked' }>;

interface Drawn {
  readonly bitmap: ImageBitmap;
  /** The places of the stored coverage in it. */
  readonly shows: readonly string[];
}

const bytesOf = ({ bitmap }: Drawn): number => 4 * bitmap.width * bitmap.height;

/** The stored coverage of a matte on one medium frame. */
const placeOf = (matteId: string, frame: number): string => `${matteId}:${frame}`;

const keyOf = (drawing: Drawing, width: number, height: number): string => `${width}x${height} ${JSON.stringify(drawing)}`;
