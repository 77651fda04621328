import { createImage, type Image } from '../../core/image/pixels';
import { AppError } from '../base/errors';
import { startDecoder, type PictureFile, type Probe } from './ffmpeg';
import type { Child } from '../base/processes';

/** Most frames decoded at once when going backwards, and most frames skipped rather than sought. */
const STRETCH = 32;
const MOST_BYTES = 256 * 2 ** 20;

/**
 * Frames of a video at one size, by number, for going through forwards or backwards: forwards one decoder runs on,
 * backwards a stretch is decoded at a time and kept. Memory stays the same however long the video is.
 */
export class AnalysisFrames {
  private readonly path: string;
  private readonly probe: Probe;
  readonly width: number;
  readonly height: number;
  private decoder: { readonly child: Child; readonly chunks: AsyncIterator<Buffer> } | null = null;
  private readonly decoderName: string | null;
  private readonly stretch: number;
  private rest: Buffer = Buffer.alloc(0);
  private next = 0;
  private kept = new Map<number, Image>();

  /** Going backwards keeps as many frames as `mostBytes` hold, one at least. `withAlpha` looks for alpha wherever it may be. */
  constructor({ path, probe }: PictureFile, width: number, height: number, { mostBytes = MOST_BYTES, withAlpha = false } = {}) {
    this.path = path;
    this.probe = probe;
    this.decoderName = withAlpha ? probe.alphaDecoder : null;
    this.width = width;
    this.height = height;
    this.stretch = Math.max(1, Math.min(STRETCH, Math.floor(mostBytes / (4 * width * height))));
  }

  get bytesKept(): number {
    return this.kept.size * 4 * this.width * this.height;
  }

  /** @throws AppError when the video has no such frame. */
  async frame(n: number): Promise<Image> {
    const known = this.kept.get(n);
    if (known !== undefined) return known;
    if (this.decoder === null || n < this.next || n > this.next + STRETCH) {
      const backwards = this.decoder !== null && n < this.next;
      this.close();
      this.open(backwards ? Math.max(0, n - this.stretch + 1) : n);
    }
    this.kept.clear();
    for (;;) {
      const at = this.next;
      const image = await this.read();
      if (image === null) throw new AppError('bad-request', `The video has no frame ${n}: ${this.complaint(at)}.`);
      this.kept.set(at, image);
      if (this.kept.size > this.stretch) this.kept.delete(this.kept.keys().next().value!);
      if (at === n) return image;
    }
  }

  close(): void {
    this.decoder?.child.kill();
    this.decoder = null;
    this.kept.clear();
  }

  private complaint(frames: number): string {
    return this.decoder?.child.complaint() || `it ends after ${frames} frames`;
  }

  private open(from: number): void {
    const child = startDecoder(this.path, this.probe, from, this.width, this.height, 'rgba', this.decoderName);
    this.decoder = { child, chunks: child.stdout[Symbol.asyncIterator]() as AsyncIterator<Buffer> };
    this.rest = Buffer.alloc(0);
    this.next = from;
  }

  private async read(): Promise<Image | null> {
    const image = createImage(this.width, this.height);
    for (let filled = 0; filled < image.data.length;) {
      if (this.rest.length === 0) {
        const chunk = await this.decoder!.chunks.next();
        if (chunk.done === true) return null;
        this.rest = chunk.value;
      }
      const take = Math.min(this.rest.length, image.data.length - filled);
      image.data.set(this.rest.subarray(0, take), filled);
      this.rest = this.rest.subarray(take);
      filled += take;
    }
    this.next++;
    return image;
  }
}
