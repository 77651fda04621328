import { formatRational, type Rational } from '../../core/geometry/rational';
import { AppError } from '../base/errors';
import { STREAM_LIMIT, start, type Child } from '../base/processes';

export interface RawPictures {
  readonly pixels: 'gray' | 'rgba';
  readonly width: number;
  readonly height: number;
  readonly rate: Rational;
}

/** An ffmpeg process that encodes raw pictures as they are written to it. */
export class RawEncoder {
  private readonly child: Child;
  private broken: Error | null = null;

  /** `output`: encoder and file arguments of ffmpeg. */
  constructor({ pixels, width, height, rate }: RawPictures, output: readonly string[]) {
    const input = ['-f', 'rawvideo', '-pix_fmt', pixels, '-video_size', `${width}x${height}`, '-framerate', formatRational(rate)];
    this.child = start('ffmpeg', ['-hide_banner', '-v', 'error', '-y', ...input, '-i', 'pipe:0', ...output], {
      stdin: 'pipe',
      seconds: STREAM_LIMIT,
    });
    this.child.ended.catch((error: Error) => (this.broken = error));
    this.child.stdin.on('error', (error) => (this.broken = error)); // EPIPE; told with ffmpeg's own words in close
  }

  /** The picture may be written to again once this resolves. */
  async write(picture: Uint8Array): Promise<void> {
    await new Promise<void>((resolve) => this.child.stdin.write(picture, () => resolve()));
    if (this.broken !== null) await this.close();
  }

  /** @throws AppError with what ffmpeg says */
  async close(): Promise<void> {
    this.child.stdin.end();
    const code = await this.child.ended;
    if (code !== 0)
      throw new AppError('bad-request', `The pictures could not be written: ${this.child.complaint() || String(this.broken)}`);
  }

  kill(): void {
    this.child.kill();
  }
}
