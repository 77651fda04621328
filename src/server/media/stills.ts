import sharp, { type Metadata, type Sharp } from 'sharp';
import { rational, toNumber } from '../../core/geometry/rational';
import { mediumFile } from '../base/data-folder';
import { AppError } from '../base/errors';
import type { StoredFacts } from './stored-facts';

/** Formats of pictures that come in as stills. */
const FORMATS = new Set(['png', 'jpeg', 'webp', 'tiff', 'gif', 'heif']);
const MOST_SIDE = 8192;
const PROXY_WIDTH = 960;
const POSTER_WIDTH = 480;
const TILE_WIDTH = 160;
/** A still has a rate only so that there is one: nothing of it passes. */
const RATE = rational(24, 1);

/** What a file says of its picture; null when it is no picture, as of videos and sounds. */
export async function lookAtStill(path: string): Promise<Metadata | null> {
  // what cannot be looked at is no picture: whoever looks next says what it is
  const found = await sharp(path).metadata().catch(() => null); // prettier-ignore
  return found !== null && FORMATS.has(found.format) ? found : null;
}

/** Writes the first picture of a file, upright and in sRGB, with its alpha, and what the page needs of it. @throws AppError 'unusable-file' */
export async function prepareStill(id: string, name: string, path: string, { width, height, format }: Metadata): Promise<StoredFacts> {
  if (width > MOST_SIDE || height > MOST_SIDE)
    throw new AppError('unusable-file', `The picture is ${width}×${height}; at most ${MOST_SIDE} pixels a side can be used.`);
  const still = mediumFile(id, 'still.png');
  const written = await sharp(path)
    .rotate()
    .toColourspace('srgb')
    .ensureAlpha()
    .png({ compressionLevel: 3 })
    .toFile(still)
    .catch((error: Error) => {
      throw new AppError('unusable-file', `This picture is damaged or of a kind that is not known here: ${firstLine(error)}.`);
    });
  const resized = (across: number): Sharp => sharp(still).resize({ width: Math.min(across, written.width) });
  const proxy = await resized(PROXY_WIDTH).png({ compressionLevel: 3 }).toFile(mediumFile(id, 'proxy.png'));
  const onGrey = (across: number): Sharp => resized(across).flatten({ background: '#808080' });
  await onGrey(POSTER_WIDTH).jpeg().toFile(mediumFile(id, 'poster.jpg'));
  await onGrey(TILE_WIDTH).jpeg().toFile(mediumFile(id, 'strip.jpg'));
  const own = { id, name, width: written.width, height: written.height, rate: RATE, codec: format };
  return {
    ...own,
    kind: 'still',
    frames: 1,
    hasSound: false,
    wasVariable: false,
    proxy: 'proxy.png',
    proxyWidth: proxy.width,
    proxyHeight: proxy.height,
    stripTiles: 1,
    stripColumns: 1,
    pictures: 'still.png',
    probe: { ...own, wasVariable: false, duration: 1 / toNumber(RATE), start: 0, hasSound: false, matrix: 'bt709', alphaDecoder: null },
  };
}

const firstLine = (error: Error): string => error.message.split('\n')[0]!;
