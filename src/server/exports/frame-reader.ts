import type { Medium } from '../../core/film/film';
import { AppError } from '../base/errors';
import { yuvBytes } from '../../core/image/yuv';
import { startDecoder, type PictureFile, type RawPixels } from '../video/ffmpeg';
import type { Child } from '../base/processes';

/** Memory for one decoded frame, counted by its users and given back to the pool by the last one. */
export class FrameSlot {
  readonly memory: SharedArrayBuffer;
  readonly bytes: Uint8Array;
  private users = 1;
  private readonly giveBack: (slot: FrameSlot) => void;

  constructor(size: number, giveBack: (slot: FrameSlot) => void) {
    this.memory = new SharedArrayBuffer(size);
    this.bytes = new Uint8Array(this.memory);
    this.giveBack = giveBack;
  }

  hold(): this {
    this.users++;
    return this;
  }

  release(): void {
    if (--this.users === 0) this.giveBack(this);
  }

  /** Makes a slot that came back from its pool one user's again. */
  reuse(): this {
    this.users = 1;
    return this;
  }
}

/** Frames of one size; slots are made as needed and used again. */
export class SlotPool {
  readonly size: number;
  private readonly free: FrameSlot[] = [];

  constructor(size: number) {
    this.size = size;
  }

  take(): FrameSlot {
    return this.free.pop()?.reuse() ?? new FrameSlot(this.size, (slot) => this.free.push(slot));
  }
}

/** Bytes of a frame. */
export const rawBytes = (width: number, height: number, pixels: RawPixels): number =>
  pixels === 'rgba' ? 4 * width * height : yuvBytes(width, height);

/**
 * Reads frames of one medium in rising order from an ffmpeg process, one frame ahead of what was asked.
 * @see FrameReader.frame
 */
export class FrameReader {
  readonly mediumId: string;
  readonly width: number;
  readonly height: number;
  readonly pixels: RawPixels;
  /** Number of the newest frame handed out. */
  position: number;
  private readonly child: Child;
  private readonly pool: SlotPool;
  private readonly chunks: AsyncIterator<Buffer>;
  private rest: Buffer | null = null;
  private current: FrameSlot | null = null;
  private ahead: Promise<FrameSlot | null>;
  private readonly name: string;

  constructor(
    { id, name }: Pick<Medium, 'id' | 'name'>,
    { path, probe }: PictureFile,
    from: number,
    width: number,
    height: number,
    pixels: RawPixels,
    pool: SlotPool,
  ) {
    this.mediumId = id;
    this.name = name;
    this.width = width;
    this.height = height;
    this.pixels = pixels;
    this.position = from - 1;
    this.pool = pool;
    this.child = startDecoder(path, probe, from, width, height, pixels);
    this.child.ended.catch((error: Error) => this.child.stdout.destroy(error));
    this.chunks = this.child.stdout[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
    this.ahead = this.readAhead();
  }

  /**
   * The slot with frame `number`, held for the caller, who releases it.
   * @throws AppError when the medium ends or breaks before it.
   */
  async frame(number: number): Promise<FrameSlot> {
    while (this.position < number || this.current === null) {
      const next = await this.ahead;
      if (next === null) {
        console.error(`${this.name} ended after frame ${this.position}: ${this.child.complaint()}`);
        throw new AppError(
          'unusable-file',
          `${this.name} cannot be read past frame ${this.position}, and frame ${number} is asked for. Its file is damaged or was changed: bring it in again.`,
        );
      }
      this.current?.release();
      this.current = next;
      this.position++;
      this.ahead = this.readAhead();
    }
    return this.current.hold();
  }

  async close(): Promise<void> {
    this.child.kill();
    this.current?.release();
    (await this.ahead.catch(() => null))?.release();
  }

  private readAhead(): Promise<FrameSlot | null> {
    const reading = this.readFrame();
    reading.catch(() => undefined); // whoever awaits it next gets the error
    return reading;
  }

  private async readFrame(): Promise<FrameSlot | null> {
    const slot = this.pool.take();
    const size = rawBytes(this.width, this.height, this.pixels);
    for (let filled = 0; filled < size;) {
      const chunk = this.rest ?? (await this.nextChunk());
      if (chunk === null) {
        slot.release();
        return null;
      }
      const used = Math.min(chunk.length, size - filled);
      slot.bytes.set(used === chunk.length ? chunk : chunk.subarray(0, used), filled);
      this.rest = used === chunk.length ? null : chunk.subarray(used);
      filled += used;
    }
    return slot;
  }

  private async nextChunk(): Promise<Buffer | null> {
    const { done, value } = (await this.chunks.next()) as IteratorResult<Buffer, undefined>;
    return done === true ? null : value;
  }
}
