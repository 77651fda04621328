import { mkdirSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { join, resolve } from 'node:path';

/** The folder of this installation; `./irimi` sets it, tests may run from the root. */
export const rootFolder = (): string => process.env.IRIMI_ROOT ?? process.cwd();

export const dataFolder = (): string => resolve(process.env.IRIMI_DATA ?? join(rootFolder(), 'data'));

function folder(...parts: string[]): string {
  const path = join(dataFolder(), ...parts);
  mkdirSync(path, { recursive: true });
  return path;
}

export const databaseFile = (): string => join(folder(), 'irimi.sqlite');
/** Held by the process that works on the folder. */
export const lockFile = (): string => join(folder(), 'lock');
export const mediaFolder = (): string => folder('media');
/** Not made by asking for it. */
export const mediumFolder = (id: string): string => join(dataFolder(), 'media', id);
export const makeMediumFolder = (id: string): string => folder('media', id);
export const exportsFolder = (): string => folder('exports');
/** Received files that a job has yet to look at. */
export const incomingFolder = (): string => folder('incoming');
/** What was moved out of the way by hand. */
export const asideFolder = (): string => folder('aside');
/** What was found by comparing shots; it can be found again. */
export const pairsFolder = (): string => folder('pairs');
/** Files on their way here. */
export const uploadsFolder = (): string => folder('uploads');

/** `about.json`: what a medium was called, for when the database is lost. `sound.s16`: stereo, 16 bits, little-endian, at the rate of all sound; `peaks.s8`: its peaks, as core/sound/peaks has them. */
export type MediumFile =
  | 'original'
  /** Of a still that is no video: its first picture, upright, as PNG. */
  | 'still.png'
  /** Of numbered pictures: all of them in one file without loss. */
  | 'sequence.mkv'
  | 'about.json'
  | 'proxy.webm'
  /** The beginning of that while the rest is being made. */
  | `part-${number}.webm`
  | 'proxy.png'
  | 'poster.jpg'
  /** The first picture, until the poster is made. */
  | 'first.jpg'
  | 'strip.jpg'
  | 'sound.s16'
  | 'peaks.s8';
export const mediumFile = (id: string, file: MediumFile): string => join(mediumFolder(id), file);

/** Bytes that are left to other work on the disk. */
const RESERVE = 512 * 2 ** 20;

/** Bytes that may still be brought in. */
export async function freeBytes(): Promise<number> {
  const { bavail, bsize } = await statfs(folder());
  return Math.max(0, bavail * bsize - RESERVE);
}
