import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { BringInOrder } from '../../core/film/job';
import { readyMedia, type MediumFacts } from '../../core/film/media-facts';
import { isTransparent } from '../../core/image/image';
import type { Image } from '../../core/image/pixels';
import { framesOfPictures } from '../../core/interchange/picture-numbers';
import { analysisSize, bytesOf, coverageOf } from '../../core/matte/coverage/resize';
import { AnalysisFrames } from '../video/analysis-frames';
import { incomingFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { countVideoFrames, probe } from '../video/ffmpeg';
import { loadFilm } from '../films/films';
import { listMatteFrames, storeMatteFrame } from '../films/matte-frames';
import { endsEarly } from '../media/proxies';
import { listMedia } from '../media/media';
import { readPicture } from '../video/picture-files';
import { isZip, unzipPictures, type ZipPicture } from '../video/picture-zip';
import { newFrameEdit, noteFrames, type FrameEdit } from '../films/server-edits';

/** Pixels of one picture, which decide what memory it takes. */
const MOST_PIXELS = 50e6;

/** Takes a received file away whose job will not be run. */
export const forgetMatteFile = ({ file }: BringInOrder): Promise<void> => rm(join(incomingFolder(), file), { force: true });

type Keep = (frame: number, image: Image, share: number) => Promise<void>;

/** Pictures read at the same time, so that the next is there when the one before is stored. */
const READ_AHEAD = 3;

async function eachPicture(pictures: readonly ZipPicture[], frames: readonly number[], signal: AbortSignal, keep: Keep): Promise<void> {
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
      const { pictures, endsIn } = await unzipPictures(path, folder, signal);
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
