import { rename, rm } from 'node:fs/promises';
import type { Film } from '../../core/film/film';
import { yuvBytes } from '../../core/image/yuv';
import type { Sounds } from '../../core/film/media-facts';
import { AppError } from '../base/errors';
import { countFrames, startEncoder } from '../video/ffmpeg';
import { isDiskFull } from '../base/disk-full';
import type { Child } from '../base/processes';
import { FrameDrawer, type DrawnFrom } from './frame-drawer';
import { partialsOf } from './partials';
import { mixToFile, soundOfTask } from './send-sound';

export interface SendTask extends DrawnFrom {
  readonly sounds: Sounds;
  /** First film frame, and the one past the last. */
  readonly from: number;
  readonly to: number;
  readonly format: 'webm' | 'mp4';
  readonly output: string;
  onProgress(fraction: number): void;
}

/**
 * Draws film frames from the originals and encodes them. The file appears under its name only when it is
 * complete and its frames are counted; whatever goes wrong, nothing half-written is left.
 * @returns frames with pixels that nothing covers
 */
export async function sendFilm(task: SendTask): Promise<{ readonly frames: number; readonly framesWithHoles: readonly number[] }> {
  const { film, from, to, format, output, signal } = task;
  if (to <= from) throw new AppError('bad-request', 'There is nothing to export: the film has no frames there.');
  const [partial, mixed] = partialsOf(output);
  const sound = soundOfTask(task);
  const drawer = new FrameDrawer(task, 'yuv420p');
  let encoder: Encoder | null = null;
  try {
    if (sound !== null) await mixToFile(sound, task, mixed);
    encoder = new Encoder(film, format, partial, sound === null ? null : mixed, signal);
    const framesWithHoles: number[] = [];
    for await (const { frame, slot, empty } of drawer.draw(span(from, to))) {
      if (empty > 0) framesWithHoles.push(frame);
      await encoder.write(slot.bytes.subarray(0, yuvBytes(film.width, film.height)));
      slot.release();
      task.onProgress((frame + 1 - from) / (to - from));
    }
    await encoder.finish();
    signal.throwIfAborted();
    const written = await countFrames(partial, signal);
    if (written !== to - from) throw new AppError('unavailable', `Only ${written} of ${to - from} frames were written. Export it again.`);
    await rename(partial, output);
    return { frames: to - from, framesWithHoles };
  } finally {
    await drawer.close();
    await encoder?.close();
    await rm(partial, { force: true });
    await rm(mixed, { force: true });
  }
}

function* span(from: number, to: number): Iterable<number> {
  for (let frame = from; frame < to; frame++) yield frame;
}

/** The program that encodes what is drawn. Whatever ends it early is told once, in words for whoever reads them. */
class Encoder {
  private readonly child: Child;
  private readonly signal: AbortSignal;
  private broke: Error | null = null;

  constructor(
    { width, height, rate }: Pick<Film, 'width' | 'height' | 'rate'>,
    format: SendTask['format'],
    partial: string,
    sound: string | null,
    signal: AbortSignal,
  ) {
    this.signal = signal;
    this.child = startEncoder(partial, format, width, height, rate, sound);
    this.child.ended.catch((error: Error) => (this.broke = error));
    this.child.stdin.on('error', (error) => (this.broke = error)); // EPIPE when it has ended; reported with its own words
    signal.addEventListener('abort', this.stop, { once: true });
  }

  private readonly stop = (): void => this.child.kill();

  /** Done when the pipe has taken the frame, whose memory may be filled again then. */
  async write(bytes: Uint8Array): Promise<void> {
    await new Promise<void>((resolve) => this.child.stdin.write(bytes, () => resolve()));
    if (this.broke === null && !this.child.hasEnded) return;
    await this.child.ended.catch(() => null);
    this.fail();
  }

  async finish(): Promise<void> {
    this.child.stdin.end();
    if ((await this.child.ended) !== 0) this.fail();
  }

  async close(): Promise<void> {
    this.signal.removeEventListener('abort', this.stop);
    this.child.kill();
    await this.child.ended.catch(() => null);
  }

  private fail(): never {
    this.signal.throwIfAborted();
    const complaint = this.child.complaint();
    console.error('Encoding ended early:', complaint, this.broke);
    const isFull = [this.broke, new Error(complaint)].some((error) => error !== null && isDiskFull(error));
    throw new AppError(
      'unavailable',
      isFull
        ? 'The disk is full, so the film could not be written. Make room and export it again.'
        : 'The film could not be encoded to its end; the log of the server says why. Export it again, or in another format.',
    );
  }
}
