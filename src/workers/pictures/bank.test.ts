import { describe, expect, it } from 'vitest';
import type { Image } from '../../core/image/pixels';
import { PictureBank, type Decoder } from './bank';
import type { ProxySource } from './protocol';

const SOURCE: ProxySource = { mediumId: 'm', url: '/m', framesPerSecond: 24, frames: 40 };
const EVERY_TWELFTH = 12;

const numbered = (frame: number, width = 320): Image => ({ width, height: 2, data: new Uint8ClampedArray(8 * width).fill(frame) });

/** Decodes from every twelfth frame on, one at a time, as a proxy is decoded. */
class FakeDecoder implements Decoder {
  readonly decoded: number[] = [];
  private gone: number[] = [];
  isClosed = false;
  private isBusy = false;
  private readonly frames: number;
  constructor(frames: number) {
    this.frames = frames;
  }
  async decode(frame: number): Promise<Image> {
    if (this.isBusy) throw new Error('two at once');
    this.isBusy = true;
    await new Promise((resolve) => setTimeout(resolve, 0));
    this.isBusy = false;
    if (this.isClosed) throw new Error('it is closed');
    if (frame >= this.frames) throw new RangeError(`the medium has no frame ${frame}`);
    const key = frame - (frame % EVERY_TWELFTH);
    this.gone = this.decoded.at(-1) === frame - 1 ? [] : Array.from({ length: frame - key }, (_, i) => key + i);
    this.decoded.push(frame);
    return numbered(frame);
  }
  async *passed(): AsyncIterable<readonly [number, Image]> {
    for (const at of this.gone.splice(0)) yield [at, await Promise.resolve(numbered(at))];
  }
  close(): void {
    this.isClosed = true;
  }
}

function opened(): { readonly bank: PictureBank; readonly decoders: FakeDecoder[] } {
  const decoders: FakeDecoder[] = [];
  const bank = new PictureBank(({ frames }) => {
    decoders.push(new FakeDecoder(frames));
    return decoders.at(-1)!;
  });
  bank.add([SOURCE]);
  return { bank, decoders };
}
const valueOf = async (image: Promise<Image>): Promise<number> => (await image).data[0]!;
const quiet = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 60));

describe('a bank of pictures', () => {
  it('decodes each picture once, for all who ask at the same time and later', async () => {
    const { bank, decoders } = opened();
    const both = [bank.picture('m', 5, false), bank.picture('m', 5, false)];
    expect(await Promise.all(both.map(valueOf))).toEqual([5, 5]);
    expect(await valueOf(bank.picture('m', 5, false))).toBe(5);
    expect(decoders[0]!.decoded).toEqual([5]);
  });

  it('keeps what is decoded on the way: going backwards decodes no frame twice', async () => {
    const { bank, decoders } = opened();
    for (let frame = 23; frame >= 12; frame--) expect(await valueOf(bank.picture('m', frame, false))).toBe(frame);
    expect(decoders[0]!.decoded).toEqual([23]);
  });

  it('decodes ahead of what plays, to the end and not beyond, and not after a jump', async () => {
    const { bank, decoders } = opened();
    for (const frame of [0, 1, 2]) await bank.picture('m', frame, false);
    await quiet();
    expect(decoders[0]!.decoded).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]);
    await bank.picture('m', 30, false);
    await quiet();
    expect(decoders[0]!.decoded.at(-1)).toBe(30);
    await bank.picture('m', 31, false);
    await quiet();
    expect(decoders[0]!.decoded.at(-1)).toBe(39);
  });

  it('gives small pictures, shrunk once', async () => {
    const { bank, decoders } = opened();
    const small = await bank.picture('m', 3, true);
    expect([small.width, small.height]).toEqual([160, 1]);
    expect(await bank.picture('m', 3, true)).toBe(small);
    expect(decoders[0]!.decoded).toEqual([3]);
  });

  it('says why a picture cannot be had, and goes on', async () => {
    const { bank } = opened();
    await expect(bank.picture('m', 99, false)).rejects.toThrow('the medium has no frame 99');
    await expect(bank.picture('n', 0, false)).rejects.toThrow('not ready');
    expect(await valueOf(bank.picture('m', 1, false))).toBe(1);
  });

  it('waits for a medium that is told of only after it is asked for', async () => {
    const { bank } = opened();
    const early = bank.picture('late', 2, false);
    bank.add([{ ...SOURCE, mediumId: 'late' }]);
    expect(await valueOf(early)).toBe(2);
  });

  it('goes on with a medium of which more is ready now, and lets the other file finish', async () => {
    const { bank, decoders } = opened();
    bank.add([{ ...SOURCE, mediumId: 'long', url: '/part-1', frames: 4 }]);
    const early = bank.picture('long', 3, false);
    bank.add([{ ...SOURCE, mediumId: 'long', url: '/whole', frames: 40 }]);
    expect(await valueOf(bank.picture('long', 20, false))).toBe(20);
    expect(await valueOf(early)).toBe(3);
    await quiet();
    expect(decoders.map((d) => d.isClosed)).toEqual([false, true, false]);
  });
});
