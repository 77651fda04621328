import { rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Piscina } from 'piscina';
import { lengthScale } from '../../core/geometry/matrix';
import type { Film, Media } from '../../core/film/film';
import type { SendFormat } from '../../core/film/job';
import { picturesOf, planFrame, type FramePlan, type PictureRef } from '../../core/render/plan';
import type { StoredCoverage } from '../../core/matte/stored-coverage';
import type { ComposeTask, SharedPicture, TaskCoverage } from '../../workers/compose';
import { rootFolder } from '../data-folder';
import { AppError } from '../errors';
import { countFrames, exitOf, spawnEncoder, tailOf, type EncodeProcess, type Probe } from '../ffmpeg';
import { FrameReader, FrameSlot, SlotPool } from './frame-reader';

/** Frames that may be on their way through the workers at once. */
const IN_FLIGHT = 4;
/** A reader is asked to run forward rather than opened anew up to this many frames. */
const RUN_FORWARD = 24;
const WORKERS = 2;

export interface OriginalFile {
  readonly path: string;
  readonly probe: Probe;
}

export interface SendTask {
  readonly film: Film;
  readonly media: Media;
  /** How to decode each medium's original, by id. */
  readonly originals: ReadonlyMap<string, OriginalFile>;
  /** Stored coverage of a matte on a medium frame; null where it has none. */
  coverage(matteId: string, frame: number): Promise<StoredCoverage | null>;
  /** First film frame, and the one past the last. */
  readonly from: number;
  readonly to: number;
  readonly format: SendFormat;
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
  const { film, media, from, to, output, signal } = task;
  if (to <= from) throw new AppError('bad-request', 'There is nothing to send out: the film has no frames there.');
  const plans = Array.from({ length: to - from }, (_, i) => planFrame(film, media, from + i));
  const partial = `${output}.part`;
  const sender = new Sender(task, plans, partial);
  try {
    const framesWithHoles = await sender.run();
    signal.throwIfAborted();
    const written = await countFrames(partial, signal);
    if (written !== plans.length) throw new Error(`The encoder wrote ${written} of ${plans.length} frames.`);
    await rename(partial, output);
    return { frames: plans.length, framesWithHoles };
  } finally {
    await sender.close();
    await rm(partial, { force: true });
  }
}

class Sender {
  private readonly task: SendTask;
  private readonly plans: readonly FramePlan[];
  private readonly sizes: ReadonlyMap<string, { readonly width: number; readonly height: number }>;
  private readonly pools = new Map<number, SlotPool>();
  private readers: FrameReader[] = [];
  private readonly workers: Piscina<ComposeTask, number>;
  private readonly encoder: EncodeProcess;
  private readonly encoderEnd: Promise<number | null>;
  private readonly encoderComplaint: () => string;
  private encoderBroke: Error | null = null;

  constructor(task: SendTask, plans: readonly FramePlan[], partial: string) {
    this.task = task;
    this.plans = plans;
    this.sizes = decodeSizes(plans);
    this.workers = new Piscina<ComposeTask, number>({
      filename: join(rootFolder(), 'dist/compose.mjs'),
      minThreads: WORKERS,
      maxThreads: WORKERS,
    });
    this.encoder = spawnEncoder(partial, task.format, task.film.width, task.film.height, task.film.rate);
    this.encoderComplaint = tailOf(this.encoder.stderr);
    this.encoderEnd = exitOf(this.encoder, 'ffmpeg');
    this.encoderEnd.catch((error: Error) => (this.encoderBroke = error));
    this.encoder.stdin.on('error', (error) => (this.encoderBroke = error)); // EPIPE when ffmpeg has ended; reported with its own words
    task.signal.addEventListener('abort', this.stop, { once: true });
  }

  private readonly stop = (): void => {
    this.encoder.kill('SIGKILL');
  };

  async run(): Promise<number[]> {
    const holes: number[] = [];
    const flight: Promise<{ slot: FrameSlot; empty: number }>[] = [];
    try {
      for (let i = 0; i < this.plans.length; i++) {
        this.task.signal.throwIfAborted();
        const drawn = this.draw(this.plans[i]!, await this.readPictures(this.plans[i]!));
        drawn.catch(() => undefined); // awaited below, in order
        flight.push(drawn);
        if (flight.length >= IN_FLIGHT) await this.writeNext(flight, i + 1 - flight.length, holes);
      }
      while (flight.length > 0) await this.writeNext(flight, this.plans.length - flight.length, holes);
    } finally {
      await Promise.allSettled(flight);
    }
    this.encoder.stdin.end();
    const code = await this.encoderEnd;
    if (code !== 0) this.failEncoder();
    return holes;
  }

  async close(): Promise<void> {
    this.task.signal.removeEventListener('abort', this.stop);
    this.encoder.kill('SIGKILL');
    await Promise.all([...this.readers.map((r) => r.close()), this.workers.destroy(), this.encoderEnd.catch(() => null)]);
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
    if (this.encoderBroke !== null || this.encoder.exitCode !== null) {
      this.task.signal.throwIfAborted();
      await this.encoderEnd.catch(() => null);
      this.failEncoder();
    }
    this.task.onProgress((index + 1) / this.plans.length);
  }

  private failEncoder(): never {
    this.task.signal.throwIfAborted();
    throw new Error(`The film could not be encoded. ${this.encoderComplaint() || (this.encoderBroke?.message ?? '')}`.trim());
  }

  private async readPictures(plan: FramePlan): Promise<{ ref: PictureRef; slot: FrameSlot }[]> {
    const refs = picturesOf(plan);
    this.dropReaders(refs);
    const taken: { ref: PictureRef; slot: FrameSlot }[] = [];
    for (const ref of refs) taken.push({ ref, slot: await this.readerFor(ref).frame(ref.frame) });
    return taken;
  }

  private readerFor(ref: PictureRef): FrameReader {
    const nearest = this.readers.filter((r) => canServe(r, ref)).sort((a, b) => b.position - a.position)[0];
    if (nearest !== undefined) return nearest;
    const original = this.task.originals.get(ref.mediumId);
    const medium = this.task.media.get(ref.mediumId);
    if (original === undefined || medium === undefined) throw new AppError('bad-request', 'A medium of the film is not ready.');
    const { width, height } = this.sizes.get(ref.mediumId)!;
    const reader = new FrameReader(
      ref.mediumId,
      medium.name,
      original.path,
      original.probe,
      ref.frame,
      width,
      height,
      this.pool(4 * width * height),
    );
    this.readers.push(reader);
    return reader;
  }

  /** Ends readers that serve none of the pictures wanted now. */
  private dropReaders(refs: readonly PictureRef[]): void {
    const idle = this.readers.filter((r) => !refs.some((ref) => canServe(r, ref)));
    this.readers = this.readers.filter((r) => !idle.includes(r));
    for (const reader of idle) void reader.close();
  }

  private async draw(plan: FramePlan, taken: readonly { ref: PictureRef; slot: FrameSlot }[]): Promise<{ slot: FrameSlot; empty: number }> {
    const [layer] = plan.layers;
    const only = taken[0];
    const size = only === undefined ? undefined : this.sizes.get(only.ref.mediumId);
    if (
      plan.layers.length === 1 &&
      layer !== undefined &&
      only !== undefined &&
      isPlain(plan, layer.matrix, layer.opacity, layer.mattes.length, size!)
    )
      return { slot: only.slot, empty: 0 };
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
        empty: await this.workers.run({ as: 'picture', plan, pictures, coverages: await this.coveragesOf(plan), out: out.memory }),
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

const canServe = (reader: FrameReader, ref: PictureRef): boolean =>
  reader.mediumId === ref.mediumId && ref.frame >= reader.position && ref.frame - reader.position <= RUN_FORWARD;

/** True when the decoded picture already is the frame. */
const isPlain = (
  plan: FramePlan,
  m: FramePlan['layers'][number]['matrix'],
  opacity: number,
  mattes: number,
  size: { width: number; height: number },
): boolean =>
  mattes === 0 &&
  opacity === 1 &&
  m.b === 0 &&
  m.c === 0 &&
  m.e === 0 &&
  m.f === 0 &&
  m.a === m.d &&
  size.width === plan.width &&
  size.height === plan.height;

/** The size each medium is decoded at: as large as any frame shows it, at most its own. */
export function decodeSizes(plans: readonly FramePlan[]): Map<string, { width: number; height: number }> {
  const scales = new Map<string, { scale: number; width: number; height: number }>();
  for (const plan of plans) {
    const shown = plan.layers.flatMap((l) => [l, ...l.mattes.flatMap((m) => (m.kind === 'key' ? [m] : []))]);
    for (const { picture, matrix } of shown) {
      const scale = Math.min(1, Math.max(lengthScale(matrix), scales.get(picture.mediumId)?.scale ?? 0));
      scales.set(picture.mediumId, { scale, width: picture.width, height: picture.height });
    }
  }
  return new Map(
    [...scales].map(([id, { scale, width, height }]) => [
      id,
      { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) },
    ]),
  );
}
