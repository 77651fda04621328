import { EncodedPacketSink, Input, WEBM, type EncodedPacket } from 'mediabunny';
import type { Image } from '../../core/image/pixels';
import type { Decoder } from './bank';
import type { ProxySource } from './protocol';
import { rangedFile } from './ranged-file';
import { sharedImage } from './shared-image';

/** Running forward is cheaper than seeking up to this many frames; proxies have a key frame every twelve. */
const RUN_FORWARD = 12;

/** Decodes single frames of one proxy by number with one open WebCodecs decoder. One request at a time. */
export class ProxyDecoder implements Decoder {
  private readonly source: ProxySource;
  private readonly input: Input;
  private sink: EncodedPacketSink | null = null;
  private decoder: VideoDecoder | null = null;
  private config: VideoDecoderConfig | null = null;
  private next: EncodedPacket | null = null;
  /** Number of the newest decoded frame. */
  private position = -1;
  private arrived: VideoFrame[] = [];
  /** Decoded on the way to the newest, oldest first. */
  private gone: VideoFrame[] = [];
  private failure: Error | null = null;
  private wake: () => void = () => undefined;

  constructor(source: ProxySource) {
    this.source = source;
    this.input = new Input({ source: rangedFile(source.url), formats: [WEBM] });
  }

  /** @throws Error when the proxy cannot be fetched or decoded, RangeError when it has no such frame. */
  async decode(frame: number): Promise<Image> {
    if (frame < 0 || frame >= this.source.frames) throw new RangeError(`the medium has no frame ${frame}`);
    this.closePassed();
    if (this.sink === null) await this.open();
    if (this.failure !== null || this.next === null || frame <= this.position || frame - this.position > RUN_FORWARD)
      await this.seek(frame);
    return copyFrame(await this.runTo(frame));
  }

  async *passed(): AsyncIterable<readonly [frame: number, image: Image]> {
    for (let frame = this.gone.pop(); frame !== undefined; frame = this.gone.pop()) yield [this.numberOf(frame), await copyFrame(frame)];
  }

  /** Decodes until the wanted frame comes. */
  private async runTo(frame: number): Promise<VideoFrame> {
    for (;;) {
      const found = this.takeFrame(frame);
      if (found !== null) return found;
      if (this.failure !== null) throw this.failure;
      if (this.next !== null) {
        const before = this.arrived.length;
        this.decoder!.decode(this.next.toEncodedVideoChunk());
        this.next = await this.sink!.getNextPacket(this.next);
        if (this.arrived.length === before) await this.output();
      } else {
        await this.decoder!.flush();
        const last = this.takeFrame(frame);
        if (last !== null) return last;
        throw new Error(`frame ${frame} is missing in the proxy`);
      }
    }
  }

  close(): void {
    this.closePassed();
    for (const frame of this.arrived) frame.close();
    if (this.decoder !== null && this.decoder.state !== 'closed') this.decoder.close();
    this.input.dispose();
  }

  private closePassed(): void {
    for (const frame of this.gone.splice(0)) frame.close();
  }

  private async open(): Promise<void> {
    const track = await this.input.getPrimaryVideoTrack();
    if (track === null) throw new Error('the proxy holds no picture');
    this.config = await track.getDecoderConfig();
    if (this.config === null) throw new Error('this browser cannot decode the proxy');
    this.sink = new EncodedPacketSink(track);
  }

  private async seek(frame: number): Promise<void> {
    for (const old of this.arrived) old.close();
    this.arrived = [];
    this.failure = null;
    if (this.decoder === null || this.decoder.state === 'closed')
      this.decoder = new VideoDecoder({
        output: (f) => {
          this.arrived.push(f);
          this.wake();
        },
        error: (e) => {
          this.failure = e;
          this.wake();
        },
      });
    else this.decoder.reset();
    this.decoder.configure({ ...this.config!, optimizeForLatency: true, hardwareAcceleration: 'prefer-software' });
    this.next = await this.sink!.getKeyPacket((frame + 0.5) / this.source.framesPerSecond, { verifyKeyPackets: false });
    this.position = -1;
  }

  /** Waits for the decoder to put something out; gives up waiting, not decoding, after a moment. */
  private output(): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, 20);
      this.wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  private takeFrame(wanted: number): VideoFrame | null {
    while (this.arrived.length > 0) {
      const frame = this.arrived.shift()!;
      this.position = this.numberOf(frame);
      if (this.position === wanted) return frame;
      this.gone.push(frame);
    }
    return null;
  }

  private numberOf(frame: VideoFrame): number {
    return Math.round((frame.timestamp * this.source.framesPerSecond) / 1e6);
  }
}

async function copyFrame(frame: VideoFrame): Promise<Image> {
  try {
    const image = sharedImage(frame.displayWidth, frame.displayHeight);
    await frame.copyTo(image.data, { format: 'RGBA', layout: [{ offset: 0, stride: 4 * image.width }] });
    return image;
  } finally {
    frame.close();
  }
}
