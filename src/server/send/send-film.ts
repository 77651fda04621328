import { rename, rm } from 'node:fs/promises';
import { setImmediate } from 'node:timers/promises';
import { cornersOf, depthAt, lengthScale, type Matrix } from '../../core/geometry/matrix';
import type { Film, Media } from '../../core/film/film';
import type { Sounds } from '../../core/film/media-facts';
import { planFrame } from '../../core/plan/plan-frame';
import { pictureOf, picturesOf, type FramePlan, type PictureRef } from '../../core/plan/frame-plan';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import type { SharedPicture, TaskCoverage } from '../../workers/compose';
import { AppError } from '../errors';
import { countFrames, startEncoder, type Probe } from '../ffmpeg';
import type { Child } from '../processes';
import { isDiskFull } from '../media';
import { compose } from '../worker-pool';
import { FrameReader, FrameSlot, SlotPool } from './frame-reader';
import { partialsOf } from './partials';
import { mixToFile, soundOfTask } from './send-sound';

/** Frames that may be on their way through the workers at once. */
const IN_FLIGHT = 4;
/** A reader is asked to run forward rather than opened anew up to this many frames. */
const RUN_FORWARD = 24;
/** Frames of a medium that runs backwards are kept as far as they fit in this. */
const MOST_KEPT_BYTES = 200 * 2 ** 20;

export interface OriginalFile {
  readonly path: string;
  readonly probe: Probe;
}

export interface SendTask {
  readonly film: Film;
  readonly media: Media;
  readonly sounds: Sounds;
  /** How to decode each medium's original, by id. */
  readonly originals: ReadonlyMap<string, OriginalFile>;
  /** Stored coverage of a matte on a medium frame; null where it has none. */
  coverage(matteId: string, frame: number): Promise<StoredCoverage | null>;
  /** First film frame, and the one past the last. */
  readonly from: number;
  readonly to: number;
  readonly format: 'webm' | 'mp4';
  readonly output: string;
  readonly signal: AbortSignal;
  onProgress(fraction: number): void;
}

/**
 * Draws film frames from the originals and encodes them. The file appears under its name only when it is
 * complete and its frames are counted; whatever goes wrong, nothing half-written is left.
 * @returns frames with pixels that nothing covers
 */
export async function sendFilm(task: SendTask): Promise<{ readonly frames: number; readonly framesWithHoles: readonly number[] }> {
  const { from, to, output, signal } = task;
  if (to <= from) throw new AppError('bad-request', 'There is nothing to send out: the film has no frames there.');
  const [partial, mixed] = partialsOf(output);
  const sizes = await decodeSizes(plansOf(task));
  const sound = soundOfTask(task);
  let sender: Sender | null = null;
  try {
    if (sound !== null) await mixToFile(sound, task, mixed);
    sender = new Sender(task, sizes, partial, sound === null ? null : mixed);
    const framesWithHoles = await sender.run();
    signal.throwIfAborted();
    const written = await countFrames(partial, signal);
    if (written !== to - from) throw new AppError('unavailable', `Only ${written} of ${to - from} frames were written. Send it out again.`);
    await rename(partial, output);
    return { frames: to - from, framesWithHoles };
  } finally {
    await sender?.close();
    await rm(partial, { force: true });
    await rm(mixed, { force: true });
  }
}

class Sender {
  private readonly task: SendTask;
  private readonly length: number;
  private readonly sizes: ReadonlyMap<string, Size>;
  private readonly pools = new Map<number, SlotPool>();
  private readers: FrameReader[] = [];
  /** Frames read ahead of a medium that is shown backwards, by medium and number. */
  private readonly backwards = new Map<string, Map<number, FrameSlot>>();
  private readonly encoder: Child;
  private encoderBroke: Error | null = null;

  constructor(task: SendTask, sizes: ReadonlyMap<string, Size>, partial: string, sound: string | null) {
    this.task = task;
    this.length = task.to - task.from;
    this.sizes = sizes;
    this.encoder = startEncoder(partial, task.format, task.film.width, task.film.height, task.film.rate, sound);
    this.encoder.ended.catch((error: Error) => (this.encoderBroke = error));
    this.encoder.stdin.on('error', (error) => (this.encoderBroke = error)); // EPIPE when ffmpeg has ended; reported with its own words
    task.signal.addEventListener('abort', this.stop, { once: true });
  }

  private readonly stop = (): void => {
    this.encoder.kill();
  };

  async run(): Promise<number[]> {
    const holes: number[] = [];
    const flight: Promise<{ slot: FrameSlot; empty: number }>[] = [];
    try {
      for (let i = 0; i < this.length; i++) {
        this.task.signal.throwIfAborted();
        const plan = planFrame(this.task.film, this.task.media, this.task.from + i);
        const drawn = this.draw(
          plan,
          await this.readPictures(plan, i + 1 < this.length ? planFrame(this.task.film, this.task.media, this.task.from + i + 1) : null),
        );
        drawn.catch(() => undefined); // awaited below, in order
        flight.push(drawn);
        if (flight.length >= IN_FLIGHT) await this.writeNext(flight, i + 1 - flight.length, holes);
      }
      while (flight.length > 0) await this.writeNext(flight, this.length - flight.length, holes);
    } finally {
      await Promise.allSettled(flight);
    }
    this.encoder.stdin.end();
    const code = await this.encoder.ended;
    if (code !== 0) this.failEncoder();
    return holes;
  }

  async close(): Promise<void> {
    this.task.signal.removeEventListener('abort', this.stop);
    this.encoder.kill();
    for (const mediumId of [...this.backwards.keys()]) this.release(mediumId);
    await Promise.all([...this.readers.map((r) => r.close()), this.encoder.ended.catch(() => null)]);
  }

  private async writeNext(flight: Promise<{ slot: FrameSlot; empty: number }>[], index: number, holes: number[]): Promise<void> {
    const { slot, empty } = await flight.shift()!;
    if (empty > 0) holes.push(this.task.from + index);
    const length = 4 * this.task.film.width * this.task.film.height;
    await new Promise<void>((resolve) => {
      // the slot may be filled again only once the pipe has taken it
      this.encoder.stdin.write(slot.bytes.subarray(0, length), () => resolve());
    });
    slot.release();
    if (this.encoderBroke !== null || this.encoder.hasEnded) {
      this.task.signal.throwIfAborted();
      await this.encoder.ended.catch(() => null);
      this.failEncoder();
    }
    this.task.onProgress((index + 1) / this.length);
  }

  private failEncoder(): never {
    this.task.signal.throwIfAborted();
    console.error('Encoding ended early:', this.encoder.complaint(), this.encoderBroke);
    const isFull = this.encoderBroke !== null && isDiskFull(this.encoderBroke);
    throw new AppError(
      'unavailable',
      isFull || isDiskFull(new Error(this.encoder.complaint()))
        ? 'The disk is full, so the film could not be written. Make room and send it out again.'
        : 'The film could not be encoded to its end; the log of the server says why. Send it out again, or in another format.',
    );
  }

  private async readPictures(plan: FramePlan, next: FramePlan | null): Promise<{ ref: PictureRef; slot: FrameSlot }[]> {
    const refs = picturesOf(plan);
    this.dropReaders(refs);
    const wanted = next === null ? [] : picturesOf(next);
    const taken: { ref: PictureRef; slot: FrameSlot }[] = [];
    for (const ref of refs) taken.push({ ref, slot: await this.slotFor(ref, wanted) });
    return taken;
  }

  private async slotFor(ref: PictureRef, next: readonly PictureRef[]): Promise<FrameSlot> {
    const kept = this.backwards.get(ref.mediumId);
    const found = kept?.get(ref.frame);
    if (found !== undefined) return found.hold();
    this.release(ref.mediumId);
    if (this.readers.some((r) => canServe(r, ref)) || !goesBack(ref, next)) return this.readerFor(ref).frame(ref.frame);
    // a shot that runs backwards is read a stretch at a time, forwards
    const { width, height } = this.sizes.get(ref.mediumId)!;
    const stretch = Math.max(2, Math.min(RUN_FORWARD, Math.floor(MOST_KEPT_BYTES / (4 * width * height))));
    const first = Math.max(0, ref.frame - stretch + 1);
    const reader = this.newReader(ref, first);
    const slots = new Map<number, FrameSlot>();
    this.backwards.set(ref.mediumId, slots);
    try {
      for (let frame = first; frame <= ref.frame; frame++) slots.set(frame, await reader.frame(frame));
    } finally {
      await reader.close();
    }
    return slots.get(ref.frame)!.hold();
  }

  /** Gives back what is kept of a medium that was read backwards. */
  private release(mediumId: string): void {
    for (const slot of this.backwards.get(mediumId)?.values() ?? []) slot.release();
    this.backwards.delete(mediumId);
  }

  private readerFor(ref: PictureRef): FrameReader {
    const nearest = this.readers.filter((r) => canServe(r, ref)).sort((a, b) => b.position - a.position)[0];
    if (nearest !== undefined) return nearest;
    const reader = this.newReader(ref, ref.frame);
    this.readers.push(reader);
    return reader;
  }

  private newReader(ref: PictureRef, from: number): FrameReader {
    const original = this.task.originals.get(ref.mediumId);
    const medium = this.task.media.get(ref.mediumId);
    if (original === undefined || medium === undefined) throw new AppError('bad-request', 'A medium of the film is not ready.');
    const { width, height } = this.sizes.get(ref.mediumId)!;
    return new FrameReader(ref.mediumId, medium.name, original.path, original.probe, from, width, height, this.pool(4 * width * height));
  }

  /** Ends readers that serve none of the pictures wanted now. */
  private dropReaders(refs: readonly PictureRef[]): void {
    const idle = this.readers.filter((r) => !refs.some((ref) => canServe(r, ref)));
    this.readers = this.readers.filter((r) => !idle.includes(r));
    for (const reader of idle) void reader.close();
  }

  private async draw(plan: FramePlan, taken: readonly { ref: PictureRef; slot: FrameSlot }[]): Promise<{ slot: FrameSlot; empty: number }> {
    const [only] = taken;
    if (only !== undefined && isPlain(plan, this.sizes.get(only.ref.mediumId)!)) return { slot: only.slot, empty: 0 };
    const out = this.pool(4 * plan.width * plan.height).take();
    const pictures: SharedPicture[] = taken.map(({ ref, slot }) => ({
      mediumId: ref.mediumId,
      frame: ref.frame,
      ...this.sizes.get(ref.mediumId)!,
      memory: slot.memory,
    }));
    try {
      return {
        slot: out,
        empty: await compose({ as: 'picture', plan, pictures, coverages: await this.coveragesOf(plan), out: out.memory }),
      };
    } finally {
      for (const { slot } of taken) slot.release();
    }
  }

  private async coveragesOf(plan: FramePlan): Promise<TaskCoverage[]> {
    const found = new Map<string, TaskCoverage>();
    for (const matte of plan.layers.flatMap((l) => l.mattes)) {
      if (matte.kind !== 'coverage') continue;
      const { matteId, frame } = matte;
      const stored = await this.task.coverage(matteId, frame);
      if (stored !== null) found.set(`${matteId}:${frame}`, { matteId, frame, ...stored });
    }
    return [...found.values()];
  }

  private pool(size: number): SlotPool {
    const known = this.pools.get(size) ?? new SlotPool(size);
    this.pools.set(size, known);
    return known;
  }
}

/** Whether the next frame shows earlier pictures of the same medium, and none at or after this one. */
function goesBack(ref: PictureRef, next: readonly PictureRef[]): boolean {
  const near = next.filter((r) => r.mediumId === ref.mediumId && Math.abs(r.frame - ref.frame) <= RUN_FORWARD);
  return near.some((r) => r.frame < ref.frame) && near.every((r) => r.frame < ref.frame);
}

const canServe = (reader: FrameReader, ref: PictureRef): boolean =>
  reader.mediumId === ref.mediumId && ref.frame >= reader.position && ref.frame - reader.position <= RUN_FORWARD;

interface Size {
  readonly width: number;
  readonly height: number;
}

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

/** Frames planned without letting anything else run. */
const PLANNED_AT_ONCE = 200;

/** The plans of the frames to be sent, one at a time: a long film has more of them than there is memory for. */
async function* plansOf({ film, media, from, to, signal }: SendTask): AsyncGenerator<FramePlan> {
  for (let frame = from; frame < to; frame++) {
    if ((frame - from) % PLANNED_AT_ONCE === 0) await setImmediate();
    signal.throwIfAborted();
    yield planFrame(film, media, frame);
  }
}

/** The size each medium is decoded at: as large as any of the plans shows it, at most its own. */
export async function decodeSizes(plans: AsyncIterable<FramePlan> | Iterable<FramePlan>): Promise<ReadonlyMap<string, Size>> {
  const scales = new Map<string, { scale: number; width: number; height: number }>();
  const show = ({ mediumId, width, height }: PictureRef, matrix: Matrix): void => {
    const scale = Math.min(1, Math.max(largestScale(matrix, width, height), scales.get(mediumId)?.scale ?? 0));
    scales.set(mediumId, { scale, width, height });
  };
  for await (const plan of plans)
    for (const layer of plan.layers) {
      const picture = pictureOf(layer);
      if (picture !== null) for (const matrix of [layer.matrix, ...layer.samples]) show(picture, matrix);
      for (const matte of layer.mattes) if (matte.kind === 'key') show(matte.picture, matte.matrix);
    }
  return new Map(
    [...scales].map(([id, { scale, width, height }]) => [
      id,
      { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) },
    ]),
  );
}

/** How large a picture of this size shows where it shows largest; its own size where part of it lies behind the eye. */
function largestScale(matrix: Matrix, width: number, height: number): number {
  const corners = cornersOf(width, height);
  return corners.some((c) => depthAt(matrix, c) < 1e-3) ? 1 : Math.max(...corners.map((c) => lengthScale(matrix, c)));
}
