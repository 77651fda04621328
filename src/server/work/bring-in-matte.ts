import { createReadStream } from 'node:fs';
import { mkdir, open, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Unzip, UnzipInflate } from 'fflate';
import type { Knex } from 'knex';
import type { BringInOrder } from '../../core/film/job';
import { readyMedia, type MediumFacts } from '../../core/film/media-facts';
import { isTransparent } from '../../core/image/image';
import type { Image } from '../../core/image/pixels';
import { framesOfPictures, isPictureName } from '../../core/interchange/picture-numbers';
import { analysisSize, bytesOf, coverageOf } from '../../core/matte/coverage/resize';
import { AnalysisFrames } from '../video/analysis-frames';
import { freeBytes, incomingFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { countVideoFrames, probe } from '../video/ffmpeg';
import { loadFilm } from '../films/films';
import { listMatteFrames, storeMatteFrame } from '../films/matte-frames';
import { endsEarly, listMedia } from '../media/media';
import { readPicture } from '../video/picture-files';
import { newFrameEdit, noteFrames, type FrameEdit } from '../films/server-edits';

/** Of a zip: entries, bytes unpacked in all and of one picture, and pixels of one picture, which decide what memory it takes. */
const MOST_ENTRIES = 100_000;
const MOST_UNPACKED_BYTES = 8 * 2 ** 30;
const MOST_PICTURE_BYTES = 256 * 2 ** 20;
const MOST_PIXELS = 50e6;

/** Takes a received file away whose job will not be run. */
export const forgetMatteFile = ({ file }: BringInOrder): Promise<void> => rm(join(incomingFolder(), file), { force: true });

interface Picture {
  readonly path: string;
  readonly name: string;
}

/** The pictures of a zip, in the order of their names. */
interface Unzipped {
  readonly pictures: readonly Picture[];
  /** The picture in which the zip ends before its end; 'between' where that is between two; null for a whole one. */
  readonly endsIn: string | null;
}

/** Bytes of a zip that are unpacked at once: at most a thousand times as many come of them, and nothing else runs meanwhile. */
const UNZIPPED_AT_ONCE = 16_384;

/** Takes the pictures out of a zip; one that ends early gives those that are whole. Names inside it never become paths. @throws AppError over a limit */
async function unzip(path: string, folder: string, signal: AbortSignal): Promise<Unzipped> {
  await mkdir(folder, { recursive: true });
  const pictures: Picture[] = [];
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

async function isZip(path: string): Promise<boolean> {
  const handle = await open(path);
  try {
    const head = Buffer.alloc(4);
    await handle.read(head, 0, 4, 0);
    return head.readUInt32LE(0) === 0x04034b50;
  } finally {
    await handle.close();
  }
}

type Keep = (frame: number, image: Image, share: number) => Promise<void>;

/** Pictures read at the same time, so that the next is there when the one before is stored. */
const READ_AHEAD = 3;

async function eachPicture(pictures: readonly Picture[], frames: readonly number[], signal: AbortSignal, keep: Keep): Promise<void> {
  const read: Promise<Image>[] = [];
  try {
    for (let i = 0; i < pictures.length; i++) {
      signal.throwIfAborted();
      for (const { path, name } of pictures.slice(i + read.length, i + READ_AHEAD)) {
        const picture = readPicture(path, { name, signal, mostPixels: MOST_PIXELS });
        picture.catch(() => undefined); // thrown when its turn comes
        read.push(picture);
      }
      await keep(frames[i]!, await read.shift()!, (i + 1) / pictures.length);
    }
  } finally {
    await Promise.allSettled(read);
  }
}

/** Gives a sentence where the video ends before it says it does. */
async function eachVideoFrame(path: string, medium: MediumFacts, first: number, signal: AbortSignal, keep: Keep): Promise<string | null> {
  const probed = await probe(path, signal);
  const stored = await countVideoFrames(path, probed, signal);
  const count = Math.min(stored, medium.frames - first);
  const size = analysisSize(probed.width, probed.height);
  const frames = new AnalysisFrames({ path, probe: probed }, size.width, size.height, { withAlpha: true });
  try {
    for (let i = 0; i < count; i++) {
      signal.throwIfAborted();
      await keep(first + i, await frames.frame(i), (i + 1) / count);
    }
  } finally {
    frames.close();
  }
  return stored < medium.frames - first ? endsEarly(probed, stored) : null;
}

/**
 * Brings the frames of a video, or of a zip of pictures, in as a matte's coverage, grey or alpha. Painted and settled
 * frames stay as they are. The whole is an edit of the film under `as`.
 */
export async function runBringIn(
  db: Knex,
  filmId: string,
  { matteId, file, first }: BringInOrder,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
  as: FrameEdit = newFrameEdit(),
): Promise<void> {
  const path = join(incomingFolder(), file);
  const folder = `${path}.pictures`;
  try {
    const matte = (await loadFilm(db, filmId)).film.mattes.find((m) => m.id === matteId);
    const medium = readyMedia(await listMedia(db, filmId)).get(matte?.mediumId ?? '');
    if (matte?.painted === undefined || medium === undefined) throw new AppError('not-found', 'The matte or its media is gone.');
    const size = analysisSize(medium.width, medium.height);
    const known = await listMatteFrames(db, filmId, matteId);
    const fixed = new Set(known.filter((f) => f.settled || f.origin === 'hand').map((f) => f.frame));
    let kept = 0;
    let stayed = 0;
    // pictures that are see-through anywhere are cut out already: their alpha is the matte
    let hasAlpha = false;
    const keep: Keep = async (frame, image, share) => {
      onProgress(share);
      if (frame >= medium.frames) return;
      if (Math.abs(image.width / image.height - medium.width / medium.height) > 0.02 * (medium.width / medium.height))
        throw new AppError(
          'bad-request',
          `The frames are ${image.width}×${image.height}, ${medium.name} is ${medium.width}×${medium.height}: they must have the same proportions.`,
        );
      hasAlpha ||= isTransparent(image);
      if (fixed.has(frame)) {
        stayed++;
        return;
      }
      kept++;
      const alpha = coverageOf(image, size.width, size.height, hasAlpha ? 'alpha' : 'red');
      const coverage = { ...size, data: bytesOf(alpha) };
      const made = { frame, origin: 'carried', confidence: 1, doubt: null, madeFrom: 'brought in', coverage } as const;
      await storeMatteFrame(db, filmId, matteId, made, as.editId);
    };
    let early: string | null;
    if (await isZip(path)) {
      const { pictures, endsIn } = await unzip(path, folder, signal);
      const whole = `${pictures.length} whole ${pictures.length === 1 ? 'picture' : 'pictures'}`;
      early = endsIn === null ? null : `The zip ends early${endsIn === 'between' ? '' : `, within ${endsIn}`}: ${whole} came in.`;
      const frames = framesOfPictures(
        pictures.map((p) => p.name),
        first,
        medium.frames,
      );
      await eachPicture(pictures, frames, signal, keep);
    } else early = await eachVideoFrame(path, medium, first, signal, keep);
    if (early !== null) throw new AppError('unusable-file', `${early} Bring the whole file in again for the others.`);
    if (kept === 0 && stayed > 0)
      throw new AppError('bad-request', 'All of these frames are painted or locked here. Unlock the frames, or erase the paint.');
    if (kept === 0)
      throw new AppError('bad-request', `None of the frames belongs to ${medium.name}, which has frames 0 to ${medium.frames - 1}.`);
  } finally {
    await noteFrames(db, filmId, matteId, as, (name) => `Imported frames of ${name}`);
    await rm(path, { force: true });
    await rm(folder, { recursive: true, force: true });
  }
}
