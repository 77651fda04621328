import { SOUND_RATE } from '../../core/film/sound';
import { createReadStream, createWriteStream } from 'node:fs';
import { open, rename, rm, stat, type FileHandle } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { writeFile } from 'node:fs/promises';
import type { SoundFacts } from '../../core/film/media-facts';
import { PeakBuilder } from '../../core/sound/peaks';
import { silence, unpackPairs, type Stereo } from '../../core/sound/samples';
import { freeBytes, mediumFile } from '../base/data-folder';
import { AppError } from '../base/errors';
import { startSoundDecoder, type SoundProbe } from '../video/ffmpeg';
import { requireSteady, scanPackets } from '../video/packets';

/** Bytes of one sample of both channels as they are kept. */
export const PAIR_BYTES = 4;

/** Whole pairs of a stream of bytes, whatever the lengths of its chunks. */
export async function* pairsOf(bytes: AsyncIterable<Buffer>): AsyncGenerator<Int16Array<ArrayBuffer>> {
  let rest: Uint8Array = new Uint8Array(0);
  for await (const chunk of bytes) {
    const joined = rest.length === 0 ? chunk : Buffer.concat([rest, chunk]);
    const whole = joined.length - (joined.length % PAIR_BYTES);
    yield new Int16Array(Uint8Array.from(joined.subarray(0, whole)).buffer);
    rest = joined.subarray(whole);
  }
}

/** Seconds that a sound may go on past the picture it came with. */
const PAST_PICTURE = 600;

/**
 * Decodes the sound of a medium to stereo at `SOUND_RATE` and gathers its peaks. Sample 0 is where its picture begins or, without
 * one, where the sound does.
 * @throws AppError 'unusable-file' when it cannot be decoded, or there is no room for it
 */
export async function takeSound(
  id: string,
  name: string,
  probed: SoundProbe,
  picture: { readonly start: number; readonly seconds: number } | null,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
): Promise<SoundFacts> {
  const original = mediumFile(id, 'original');
  // what a file says of its length may be missing or wrong: what is stored counts
  const packets = await scanPackets(original, 'a', (await stat(original)).size, signal);
  requireSteady(packets, 'piece of sound', null);
  const seconds = Math.max(probed.duration, packets.end - Math.min(packets.first, picture?.start ?? packets.first));
  const expected = Math.max(1, seconds * SOUND_RATE);
  if (expected * PAIR_BYTES > (await freeBytes()))
    throw new AppError('unusable-file', 'There is not enough room on the disk for its sound. Make room and bring it in again.');
  const output = mediumFile(id, 'sound.s16');
  const partial = `${output}.part`;
  const most = picture === null ? seconds + PAST_PICTURE : Math.max(seconds, picture.seconds) + PAST_PICTURE;
  const child = startSoundDecoder(original, picture?.start ?? null, most, signal);
  const peaks = new PeakBuilder();
  try {
    const gathered = async function* (): AsyncGenerator<Uint8Array> {
      for await (const pairs of pairsOf(child.stdout as AsyncIterable<Buffer>)) {
        peaks.push(pairs);
        onProgress(Math.min(1, peaks.samples / expected));
        yield new Uint8Array(pairs.buffer);
      }
    };
    await pipeline(gathered, createWriteStream(partial));
    const code = await child.ended;
    signal.throwIfAborted();
    if (code !== 0 && peaks.samples === 0) {
      console.error(`The sound of ${name} cannot be decoded: ${child.complaint()}`);
      throw new AppError('unusable-file', 'Its sound cannot be decoded: it is damaged, or of a kind that is not known here.');
    }
    if (peaks.samples === 0) throw new AppError('unusable-file', 'Its sound track is empty.');
    await writeFile(mediumFile(id, 'peaks.s8'), new Uint8Array(peaks.finish().buffer));
    await rename(partial, output);
  } finally {
    child.kill();
    await rm(partial, { force: true });
  }
  return { id, name, samples: peaks.samples, codec: probed.codec, sourceRate: probed.rate, sourceChannels: probed.channels };
}

/** Reads spans of the kept sound of media. */
export class SoundFiles {
  private readonly files = new Map<string, Promise<FileHandle>>();

  /** Samples `from` … `from + count` of a medium; those it does not have are silence. */
  readonly read = async (mediumId: string, from: number, count: number): Promise<Stereo> => {
    const out = silence(count);
    const first = Math.max(0, from);
    const length = from + count - first;
    if (length <= 0) return out;
    let file = this.files.get(mediumId);
    if (file === undefined) {
      file = open(mediumFile(mediumId, 'sound.s16'));
      this.files.set(mediumId, file);
    }
    const bytes = new Uint8Array(length * PAIR_BYTES);
    const { bytesRead } = await (await file).read(bytes, 0, bytes.length, first * PAIR_BYTES);
    unpackPairs(new Int16Array(bytes.buffer, 0, 2 * Math.floor(bytesRead / PAIR_BYTES)), out, first - from);
    return out;
  };

  async close(): Promise<void> {
    for (const file of this.files.values()) await (await file).close();
    this.files.clear();
  }
}

/** The kept sound of a medium as pairs, in order. */
export const streamSound = (id: string): AsyncGenerator<Int16Array<ArrayBuffer>> =>
  pairsOf(createReadStream(mediumFile(id, 'sound.s16'), { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>);
