import { createReadStream } from 'node:fs';
import { mkdir, open, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Unzip, UnzipInflate } from 'fflate';
import { isPictureName } from '../../core/interchange/picture-numbers';
import { freeBytes } from '../base/data-folder';
import { AppError } from '../base/errors';

/** Pictures in a zip, as sequences and mattes come in. */

/** Of a zip: entries, and bytes unpacked in all and of one picture. */
const MOST_ENTRIES = 100_000;
const MOST_UNPACKED_BYTES = 8 * 2 ** 30;
const MOST_PICTURE_BYTES = 256 * 2 ** 20;

/** A picture of a zip, unpacked. */
export interface ZipPicture {
  readonly path: string;
  readonly name: string;
}

/** The pictures of a zip, in the order of their names. */
export interface Unzipped {
  readonly pictures: readonly ZipPicture[];
  /** The picture in which the zip ends before its end; 'between' where that is between two; null for a whole one. */
  readonly endsIn: string | null;
}

/** Bytes of a zip that are unpacked at once: at most a thousand times as many come of them, and nothing else runs meanwhile. */
const UNZIPPED_AT_ONCE = 16_384;

/** Takes the pictures out of a zip; one that ends early gives those that are whole. Names inside it never become paths. @throws AppError over a limit */
export async function unzipPictures(path: string, folder: string, signal: AbortSignal): Promise<Unzipped> {
  await mkdir(folder, { recursive: true });
  const pictures: ZipPicture[] = [];
  const begun = new Set<string>();
  const writes: Promise<void>[] = [];
  const room = Math.min(MOST_UNPACKED_BYTES, await freeBytes());
  let entries = 0;
  let unpacked = 0;
  let failure: AppError | null = null;
  const unzipper = new Unzip((entry) => {
    const name = entry.name.split(/[\\/]/).pop() ?? '';
    if (++entries > MOST_ENTRIES) throw new AppError('too-large', `The zip holds more than ${MOST_ENTRIES} files.`);
    if (!isPictureName(name) || name.startsWith('.')) return;
    begun.add(name);
    const parts: Uint8Array[] = [];
    let size = 0;
    const fail = (why: AppError): void => {
      failure ??= why;
      parts.length = 0;
      entry.terminate();
    };
    entry.ondata = (error, chunk, final) => {
      if (failure !== null) return;
      if (error !== null) {
        console.error(`${name} in a zip cannot be unpacked:`, error);
        return fail(new AppError('unusable-file', `${name} in the zip is damaged and cannot be unpacked.`));
      }
      size += chunk.length;
      unpacked += chunk.length;
      if (size > MOST_PICTURE_BYTES) return fail(new AppError('too-large', `${name} in the zip is too large.`));
      if (unpacked > room) return fail(new AppError('too-large', `The zip unpacks to more than ${Math.floor(room / 2 ** 20)} MiB.`));
      parts.push(chunk);
      if (!final) return;
      begun.delete(name);
      const picture = { path: join(folder, String(pictures.length).padStart(6, '0')), name };
      pictures.push(picture);
      writes.push(writeFile(picture.path, Buffer.concat(parts)));
    };
    entry.start();
  });
  unzipper.register(UnzipInflate);
  const push = (chunk: Uint8Array, isLast: boolean): void => {
    try {
      unzipper.push(chunk, isLast);
    } catch (error) {
      if (error instanceof AppError) throw error;
      console.error('A zip cannot be read:', error);
      // what came before the damage is kept
      if (pictures.length === 0 && begun.size === 0) throw new AppError('unusable-file', 'The zip is damaged and cannot be read.');
    }
  };
  for await (const chunk of createReadStream(path, { highWaterMark: UNZIPPED_AT_ONCE })) {
    signal.throwIfAborted();
    push(new Uint8Array(chunk as Buffer), false);
    await Promise.all(writes.splice(0));
    if (failure !== null) throw failure as Error;
  }
  const isWhole = await hasZipEnd(path);
  if (isWhole) push(new Uint8Array(0), true);
  await Promise.all(writes);
  if (failure !== null) throw failure as Error;
  if (pictures.length === 0 && begun.size === 0)
    throw new AppError('unusable-file', 'The zip holds no pictures. PNG, JPEG, WebP, TIFF and BMP can be read.');
  pictures.sort((p, q) => p.name.localeCompare(q.name, 'en', { numeric: true }));
  const [cut] = begun;
  return { pictures, endsIn: cut ?? (isWhole ? null : 'between') };
}

/** Bytes at the end of a zip among which its end is told: the record itself, and as long a comment as it may have. */
const ZIP_END = 22 + 65_535;

/** Whether a zip goes on to its end. */
async function hasZipEnd(path: string): Promise<boolean> {
  const handle = await open(path);
  try {
    const { size } = await handle.stat();
    const tail = Buffer.alloc(Math.min(size, ZIP_END));
    await handle.read(tail, 0, tail.length, size - tail.length);
    return tail.includes(Buffer.of(0x50, 0x4b, 0x05, 0x06));
  } finally {
    await handle.close();
  }
}

export async function isZip(path: string): Promise<boolean> {
  const handle = await open(path);
  try {
    const head = Buffer.alloc(4);
    await handle.read(head, 0, 4, 0);
    return head.readUInt32LE(0) === 0x04034b50;
  } finally {
    await handle.close();
  }
}
