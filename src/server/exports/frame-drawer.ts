import type { Film, Media } from '../../core/film/film';
import { needsOf, type PlanNeeds } from '../../core/plan/plan-needs';
import type { FramePlan, PictureRef } from '../../core/plan/frame-plan';
import { planFrame } from '../../core/plan/plan-film';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import type { SharedPicture, TaskCoverage } from '../../workers/compose';
import { AppError } from '../base/errors';
import { isStoredAsYuv, type PictureFile, type RawPixels } from '../video/ffmpeg';
import { compose } from '../base/worker-pool';
import { StretchSizes, type Size } from './decode-sizes';
import { FrameReader, rawBytes, SlotPool, type FrameSlot } from './frame-reader';

/** Frames that may be on their way through the workers at once. */
const IN_FLIGHT = 4;
/** A reader is asked to run forward rather than opened anew up to this many frames. */
const RUN_FORWARD = 24;
/** Frames of a medium that runs backwards are kept as far as they fit in this. */
const MOST_KEPT_BYTES = 200 * 2 ** 20;

/** What frames are drawn from. */
export interface DrawnFrom {
  readonly film: Film;
  readonly media: Media;
  /** How to decode each medium's original, by id. */
  readonly originals: ReadonlyMap<string, PictureFile>;
  /** Stored coverage of a matte on a medium frame; null where it has none. */
  coverage(matteId: string, frame: number): Promise<StoredCoverage | null>;
  readonly signal: AbortSignal;
}

/** One frame of the film's size in the pixels that were asked for, to be released. */
export interface DrawnFrame {
  readonly frame: number;
  readonly slot: FrameSlot;
  /** Pixels that nothing covers fully. */
  readonly empty: number;
}

interface Taken {
  readonly ref: PictureRef;
  readonly size: Size;
  readonly pixels: RawPixels;
  readonly slot: FrameSlot;
}

/** Draws film frames from the originals, in rising order, a few at a time in worker threads. A frame is the same whichever others are drawn. */
export class FrameDrawer {
  private readonly from: DrawnFrom;
  private readonly pixels: RawPixels;
  private readonly sizes: StretchSizes;
  private readonly pools = new Map<number, SlotPool>();
  private readers: FrameReader[] = [];
  /** Frames read ahead of a medium that is shown backwards, by medium and number. */
  private readonly backwards = new Map<string, { readonly size: Size; readonly slots: ReadonlyMap<number, FrameSlot> }>();

  /** `pixels`: what frames come as. What is stored like them is read as it is, and a frame that shows nothing else is handed on as it was read. */
  constructor(from: DrawnFrom, pixels: RawPixels) {
    this.from = from;
    this.pixels = pixels;
    this.sizes = new StretchSizes(from.film, from.media);
  }

  /** Draws these film frames, in rising order. Each has to be released before many more come. */
  async *draw(frames: Iterable<number>): AsyncGenerator<DrawnFrame> {
    const flight: Promise<DrawnFrame>[] = [];
    const wanted = frames[Symbol.iterator]() as Iterator<number, undefined>;
    try {
      let plan = this.nextPlan(wanted);
      while (plan !== null) {
        this.from.signal.throwIfAborted();
        const after = this.nextPlan(wanted);
        const drawn = this.drawn(plan, await this.read(plan, after));
        drawn.catch(() => undefined); // awaited below, in order
        flight.push(drawn);
        if (flight.length >= IN_FLIGHT) yield await flight.shift()!;
        plan = after;
      }
      while (flight.length > 0) yield await flight.shift()!;
    } finally {
      await Promise.allSettled(flight);
    }
  }

  async close(): Promise<void> {
    for (const mediumId of [...this.backwards.keys()]) this.release(mediumId);
    await Promise.all(this.readers.map((r) => r.close()));
  }

  private nextPlan(frames: Iterator<number, undefined>): NeededPlan | null {
    const next = frames.next();
    if (next.done === true) return null;
    const frame = next.value;
    const plan = planFrame(this.from.film, this.from.media, frame);
    return { frame, plan, needs: needsOf(plan), sizes: this.sizes.at(frame) };
  }

  private async read({ needs, sizes }: NeededPlan, next: NeededPlan | null): Promise<Taken[]> {
    const refs = [...needs.pictures.values()].map((p) => p.ref);
    this.dropReaders(refs, sizes);
    const after = next === null ? [] : [...next.needs.pictures.values()].map((p) => p.ref);
    const taken: Taken[] = [];
    for (const ref of refs) {
      const size = sizes.get(ref.mediumId)!;
      taken.push({ ref, size, pixels: this.pixelsOf(ref.mediumId), slot: await this.slotFor(ref, size, after) });
    }
    return taken;
  }

  private async slotFor(ref: PictureRef, size: Size, next: readonly PictureRef[]): Promise<FrameSlot> {
    const kept = this.backwards.get(ref.mediumId);
    const found = kept !== undefined && isSize(kept.size, size) ? kept.slots.get(ref.frame) : undefined;
    if (found !== undefined) return found.hold();
    this.release(ref.mediumId);
    if (this.readers.some((r) => canServe(r, ref, size)) || !goesBack(ref, next)) return this.readerFor(ref, size).frame(ref.frame);
    // a shot that runs backwards is read a stretch at a time, forwards
    const stretch = Math.max(2, Math.min(RUN_FORWARD, Math.floor(MOST_KEPT_BYTES / (4 * size.width * size.height))));
    const first = Math.max(0, ref.frame - stretch + 1);
    const reader = this.newReader(ref, first, size);
    const slots = new Map<number, FrameSlot>();
    this.backwards.set(ref.mediumId, { size, slots });
    try {
      for (let frame = first; frame <= ref.frame; frame++) slots.set(frame, await reader.frame(frame));
    } finally {
      await reader.close();
    }
    return slots.get(ref.frame)!.hold();
  }

  /** Gives back what is kept of a medium that was read backwards. */
  private release(mediumId: string): void {
    for (const slot of this.backwards.get(mediumId)?.slots.values() ?? []) slot.release();
    this.backwards.delete(mediumId);
  }

  private readerFor(ref: PictureRef, size: Size): FrameReader {
    const nearest = this.readers.filter((r) => canServe(r, ref, size)).sort((a, b) => b.position - a.position)[0];
    if (nearest !== undefined) return nearest;
    const reader = this.newReader(ref, ref.frame, size);
    this.readers.push(reader);
    return reader;
  }

  private newReader(ref: PictureRef, from: number, { width, height }: Size): FrameReader {
    const original = this.from.originals.get(ref.mediumId);
    const medium = this.from.media.get(ref.mediumId);
    if (original === undefined || medium === undefined) throw new AppError('bad-request', 'Media of the film is not ready.');
    const pixels = this.pixelsOf(ref.mediumId);
    return new FrameReader(medium, original, from, width, height, pixels, this.pool(rawBytes(width, height, pixels)));
  }

  private pixelsOf(mediumId: string): RawPixels {
    const original = this.from.originals.get(mediumId);
    return this.pixels === 'yuv420p' && original !== undefined && isStoredAsYuv(original.probe) ? 'yuv420p' : 'rgba';
  }

  /** Ends readers that serve none of the pictures wanted now. */
  private dropReaders(refs: readonly PictureRef[], sizes: ReadonlyMap<string, Size>): void {
    const idle = this.readers.filter((r) => !refs.some((ref) => canServe(r, ref, sizes.get(ref.mediumId)!)));
    this.readers = this.readers.filter((r) => !idle.includes(r));
    for (const reader of idle) void reader.close();
  }

  private async drawn({ frame, plan, needs }: NeededPlan, taken: readonly Taken[]): Promise<DrawnFrame> {
    const [only] = taken;
    if (only?.pixels === this.pixels && isPlain(plan, only.size)) return { frame, slot: only.slot, empty: 0 };
    const out = this.pool(rawBytes(plan.width, plan.height, this.pixels)).take();
    const pictures: SharedPicture[] = taken.map(({ ref, size, pixels, slot }) => ({
      pixels,
      mediumId: ref.mediumId,
      frame: ref.frame,
      ...size,
      memory: slot.memory,
    }));
    try {
      const coverages = await this.coveragesOf(needs);
      return { frame, slot: out, empty: await compose({ as: this.pixels, plan, pictures, coverages, out: out.memory }) };
    } finally {
      for (const { slot } of taken) slot.release();
    }
  }

  private async coveragesOf({ coverages }: PlanNeeds): Promise<TaskCoverage[]> {
    const found: TaskCoverage[] = [];
    for (const { matteId, frame } of coverages.values()) {
      const stored = await this.from.coverage(matteId, frame);
      if (stored !== null) found.push({ matteId, frame, ...stored });
    }
    return found;
  }

  private pool(size: number): SlotPool {
    const known = this.pools.get(size) ?? new SlotPool(size);
    this.pools.set(size, known);
    return known;
  }
}

interface NeededPlan {
  readonly frame: number;
  readonly plan: FramePlan;
  readonly needs: PlanNeeds;
  /** What each medium is decoded at. */
  readonly sizes: ReadonlyMap<string, Size>;
}

const isSize = (a: Size, b: Size): boolean => a.width === b.width && a.height === b.height;

/** Whether the next frame shows earlier pictures of the same medium, and none at or after this one. */
function goesBack(ref: PictureRef, next: readonly PictureRef[]): boolean {
  const near = next.filter((r) => r.mediumId === ref.mediumId && Math.abs(r.frame - ref.frame) <= RUN_FORWARD);
  return near.some((r) => r.frame < ref.frame) && near.every((r) => r.frame < ref.frame);
}

const canServe = (reader: FrameReader, ref: PictureRef, size: Size): boolean =>
  reader.mediumId === ref.mediumId && isSize(reader, size) && ref.frame >= reader.position && ref.frame - reader.position <= RUN_FORWARD;

/** True when the one layer's picture, decoded at `size`, already is the frame. */
function isPlain(plan: FramePlan, size: Size): boolean {
  const [layer, ...others] = plan.layers;
  if (layer === undefined || others.length > 0 || plan.finish.length > 0) return false;
  if (layer.content.kind !== 'picture' || layer.content.next !== null) return false;
  if (layer.mattes.length > 0 || layer.effects.length > 0 || layer.samples.length > 0 || layer.opacity !== 1) return false;
  const [a, b, c, d, e, f, g, h] = layer.matrix;
  const fills = (span: number, whole: number): boolean => Math.abs(span - whole) < 1e-6;
  return (
    [b, c, d, f, g, h].every((v) => v === 0) &&
    fills(a * layer.width, plan.width) &&
    fills(e * layer.height, plan.height) &&
    size.width === plan.width &&
    size.height === plan.height
  );
}
