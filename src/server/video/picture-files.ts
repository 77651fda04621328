import { mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { createImage, type Image } from '../../core/image/pixels';
import { rational } from '../../core/geometry/rational';
import { AppError } from '../base/errors';
import { LOOK_LIMIT, start } from '../base/processes';
import { RawEncoder } from './raw-encoder';

const STILL_GUARD = ['-protocol_whitelist', 'file,pipe', '-format_whitelist', 'image2,png_pipe,jpeg_pipe,webp_pipe,tiff_pipe,bmp_pipe'];
const MAX_SIDE = 16_384;

export interface PictureOptions {
  /** What it is called where something is wrong. */
  readonly name?: string;
  readonly signal?: AbortSignal;
  readonly mostPixels?: number;
}

/** Reads a still picture. @throws AppError 'unusable-file', also for one with more than `mostPixels` */
export async function readPicture(
  path: string,
  { name = path, signal, mostPixels = MAX_SIDE * MAX_SIDE }: PictureOptions = {},
): Promise<Image> {
  const unusable = (why: string): AppError => new AppError('unusable-file', `${name} ${why}`);
  const input = [...STILL_GUARD, '-max_pixels', String(mostPixels), '-i', path];
  // a portable arbitrary map says its size before its pixels
  const output = ['-frames:v', '1', '-f', 'image2pipe', '-c:v', 'pam', '-pix_fmt', 'rgba', 'pipe:1'];
  const child = start('ffmpeg', ['-hide_banner', '-nostdin', '-v', 'error', ...input, ...output], {
    stdout: 'pipe',
    seconds: LOOK_LIMIT,
    signal,
  });
  const parts: Buffer[] = [];
  child.stdout.on('data', (part: Buffer) => parts.push(part));
  const code = await child.ended;
  signal?.throwIfAborted();
  const bytes = Buffer.concat(parts);
  const header = /^P7\nWIDTH (\d+)\nHEIGHT (\d+)\n[^]*?ENDHDR\n/.exec(bytes.toString('latin1', 0, 200));
  if (header === null) throw unusable('is not a picture that can be read. PNG, JPEG, WebP, TIFF and BMP can.');
  const [width, height] = [Number(header[1]), Number(header[2])];
  const pixels = bytes.subarray(header[0].length);
  if (code !== 0 || pixels.length !== 4 * width * height) throw unusable('is damaged or ends early, so it could not be read.');
  const image = createImage(width, height);
  image.data.set(pixels);
  return image;
}

/** Writes 8-bit grey pictures as numbered PNGs, or as one when `pattern` has no number. */
export function greyWriter(pattern: string, width: number, height: number, firstNumber: number): RawEncoder {
  return pngWriter('gray', [], pattern, width, height, firstNumber);
}

function pngWriter(
  pixels: 'gray' | 'rgba',
  stored: readonly string[],
  pattern: string,
  width: number,
  height: number,
  firstNumber: number,
): RawEncoder {
  const numbered = pattern.includes('%') ? ['-start_number', String(firstNumber)] : ['-update', '1', '-frames:v', '1'];
  return new RawEncoder({ pixels, width, height, rate: rational(25, 1) }, [
    ...['-f', 'image2', '-c:v', 'png', ...stored, '-compression_level', '3'],
    ...numbered,
    pattern,
  ]);
}

/** Writes colour pictures as numbered PNGs, or as one when `pattern` has no number. */
export function colourWriter(pattern: string, width: number, height: number, firstNumber: number): RawEncoder {
  return pngWriter('rgba', ['-pix_fmt', 'rgb24'], pattern, width, height, firstNumber);
}

/** Writes one PNG; a half-written one never has the name. */
export async function writePicture(path: string, { width, height, data }: Image): Promise<void> {
  await writeWhole(path, colourWriter(`${path}.part`, width, height, 0), new Uint8Array(data));
}

/** Writes one 8-bit grey PNG; a half-written one never has the name. */
export async function writeGrey(path: string, coverage: Uint8Array, width: number, height: number): Promise<void> {
  await writeWhole(path, greyWriter(`${path}.part`, width, height, 0), coverage);
}

async function writeWhole(path: string, writer: RawEncoder, pixels: Uint8Array): Promise<void> {
  const partial = `${path}.part`;
  try {
    await writer.write(pixels);
    await writer.close();
    await rename(partial, path);
  } finally {
    await rm(partial, { force: true });
  }
}

/** Makes `folder` and gives the pattern of the numbered pictures in it. */
export async function numberedPictures(folder: string): Promise<string> {
  await mkdir(folder, { recursive: true });
  return join(folder.replaceAll('%', '%%'), '%05d.png');
}
