import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { copyFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import type { Knex } from 'knex';
import { formatRational, parseRational, toNumber, type Rational } from '../../core/geometry/rational';
import type { MediumFacts, MediumStatus, ShelfMedium, SoundFacts } from '../../core/film/media-facts';
import { makeMediumFolder, mediumFile, mediumFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { hashOfFile } from '../base/hash-of-file';
import { countFrames, look, proxyArgs, type PictureFile, type Probe, type SoundProbe } from '../video/ffmpeg';
import { isZip } from '../video/picture-zip';
import { requireSteady, scanPackets, type Packets } from '../video/packets';
import { run, runLimit } from '../base/processes';
import { takeSound } from './sound-files';
import { lookAtStill, prepareStill } from './stills';
import { joinSequence } from './sequences';
import type { StoredFacts } from './stored-facts';

interface MediumRow {
  id: string;
  film_id: string;
  name: string;
  status: MediumStatus;
  error: string | null;
  bytes: number;
  facts: string | null;
  sound: string | null;
  added_at: number;
  sha256: string | null;
  asked_rate: string | null;
}

/** What is noted beside a medium's files, so that they can be told apart without the database. */
export interface MediumNote {
  readonly name: string;
  readonly film: string;
}

const PROXY_WIDTH = 960;
const STRIP_TILES = 40;
const STRIP_COLUMNS = 8;
const STRIP_TILE_WIDTH = 160;

/** Makes a medium of a received file, which is moved. `askedRate` is what numbered pictures run at, the film's rate unless said. */
export async function takeInMedium(
  db: Knex,
  filmId: string,
  name: string,
  received: string,
  addedAt = Date.now(),
  askedRate: Rational | null = null,
): Promise<string> {
  const id = randomUUID();
  const { size } = await stat(received);
  if (size === 0) throw new AppError('unusable-file', `${name} is empty.`);
  makeMediumFolder(id);
  await rename(received, mediumFile(id, 'original'));
  await insertMedium(db, id, filmId, name, size, addedAt, askedRate);
  return id;
}

/** The hash of a medium's file, kept once it was asked for; null when the file is gone. */
async function contentOf(db: Knex, { id, sha256 }: Pick<MediumRow, 'id' | 'sha256'>): Promise<string | null> {
  const path = mediumFile(id, 'original');
  if (sha256 !== null || !existsSync(path)) return sha256;
  const hash = await hashOfFile(path);
  await db<MediumRow>('media').where({ id }).update({ sha256: hash });
  return hash;
}

/** The medium of a film that is the same file, byte for byte; null without one. */
export async function sameFile(db: Knex, filmId: string, path: string, offShelf: readonly string[]): Promise<string | null> {
  const { size } = await stat(path);
  const alike = await db<MediumRow>('media').where({ film_id: filmId, bytes: size }).whereNot({ status: 'failed' }).whereNotIn('id', offShelf).select('id', 'sha256'); // prettier-ignore
  if (alike.length === 0) return null;
  const hash = await hashOfFile(path);
  for (const row of alike) if ((await contentOf(db, row)) === hash) return row.id;
  return null;
}

/**
 * Puts a received file in the place of a medium's own that is gone.
 * @throws AppError 'unusable-file' where it is another file, 'not-found'
 */
export async function restoreFile(db: Knex, id: string, name: string, received: string): Promise<void> {
  const row = await mediumRow(db, id);
  const { size } = await stat(received);
  const isIt = row.sha256 === null ? size === row.bytes : (await hashOfFile(received)) === row.sha256;
  if (!isIt)
    throw new AppError(
      'unusable-file',
      `${name} is not the file that ${row.name} was imported from. Import it, then use it in place of ${row.name}.`,
    );
  makeMediumFolder(id);
  await rename(received, mediumFile(id, 'original'));
}

/** Makes a medium of a folder of media that no film knows, under the id that is its name. */
export async function takeInFolder(db: Knex, id: string, filmId: string, name: string): Promise<void> {
  await insertMedium(db, id, filmId, name, (await stat(mediumFile(id, 'original'))).size);
}

/** Adds a medium by copying a file that is already on this machine. */
export async function copyMedium(db: Knex, filmId: string, name: string, path: string): Promise<string> {
  const id = randomUUID();
  makeMediumFolder(id);
  await copyFile(path, mediumFile(id, 'original'));
  await insertMedium(db, id, filmId, name, (await stat(path)).size);
  return id;
}

/** Adds a medium whose original lies in its folder. */
export async function insertMedium(
  db: Knex,
  id: string,
  filmId: string,
  name: string,
  bytes: number,
  addedAt = Date.now(),
  askedRate: Rational | null = null,
): Promise<void> {
  await db<MediumRow>('media').insert({
    id,
    film_id: filmId,
    name,
    status: 'waiting',
    error: null,
    bytes,
    facts: null,
    sound: null,
    added_at: addedAt,
    sha256: null,
    asked_rate: askedRate === null ? null : formatRational(askedRate),
  });
  await noteMedium(db, id, filmId, name);
}

/** The rate of a film: numbered pictures have none of their own. */
async function rateOfFilm(db: Knex, filmId: string): Promise<Rational> {
  const { document } = (await db<{ id: string; document: string }>('films').where({ id: filmId }).first('document'))!;
  return (JSON.parse(document) as { rate: Rational }).rate;
}

async function noteMedium(db: Knex, id: string, filmId: string, name: string): Promise<void> {
  const film = await db<{ id: string; document: string }>('films').where({ id: filmId }).first('document');
  const note: MediumNote = { name, film: film === undefined ? '' : (JSON.parse(film.document) as { name: string }).name };
  await writeFile(mediumFile(id, 'about.json'), JSON.stringify(note));
}

/** Notes beside their files what media are called that came in before that was done. */
export async function noteMedia(db: Knex): Promise<void> {
  for (const { id, film_id, name } of await db<MediumRow>('media').select('id', 'film_id', 'name'))
    if (existsSync(mediumFolder(id)) && !existsSync(mediumFile(id, 'about.json'))) await noteMedium(db, id, film_id, name);
}

/** The shelf of a film in the order things came in. `progressOf` tells how far a running job is. */
export async function listMedia(db: Knex, filmId: string, progressOf: (mediumId: string) => number = () => 0): Promise<ShelfMedium[]> {
  const rows = await db<MediumRow>('media').where({ film_id: filmId }).orderBy(['added_at', 'id']);
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    status: row.status,
    error: row.error,
    bytes: row.bytes,
    progress: row.status === 'ready' ? 1 : progressOf(row.id),
    facts: row.facts === null ? null : publicFacts(JSON.parse(row.facts) as StoredFacts),
    sound: row.sound === null ? null : (JSON.parse(row.sound) as SoundFacts),
    ...(row.status === 'ready' && !existsSync(mediumFile(row.id, 'original')) ? { isLost: true as const } : {}),
  }));
}

function publicFacts({ probe: _, ...facts }: StoredFacts): MediumFacts {
  return facts;
}

async function mediumRow(db: Knex, id: string): Promise<MediumRow> {
  const row = await db<MediumRow>('media').where({ id }).first();
  if (row === undefined) throw new AppError('not-found', 'There is no such media here.');
  return row;
}

/** @throws AppError 'not-found' */
export const filmOfMedium = async (db: Knex, id: string): Promise<string> => (await mediumRow(db, id)).film_id;

/** The file that the pictures of a ready medium are decoded from at their full size. */
export async function pictureFileOf(db: Knex, id: string): Promise<PictureFile> {
  const row = await mediumRow(db, id);
  if (row.status !== 'ready' || row.facts === null)
    throw new AppError('bad-request', `${row.name} is not ready: ${row.error ?? 'it is still being prepared'}.`);
  const { probe, pictures = 'original' } = JSON.parse(row.facts) as StoredFacts;
  if (!existsSync(mediumFile(id, pictures)))
    throw new AppError('bad-request', `The file of ${row.name} is gone from the server. Find it again from its card on the shelf.`);
  return { path: mediumFile(id, pictures), probe };
}

/** Says of a medium that it will not be prepared, and why. */
export async function giveUpMedium(db: Knex, id: string, why: string): Promise<void> {
  await db<MediumRow>('media').where({ id }).update({ status: 'failed', error: why });
}

/** Takes a medium away, from disk too. The caller has seen to it that nothing uses it, and no job is at work on it. */
export async function removeMedium(db: Knex, id: string): Promise<void> {
  await db<MediumRow>('media').where({ id }).delete();
  await rm(mediumFolder(id), { recursive: true, force: true });
}

/** True for what the system, or a program that writes, says of a disk without room. */
export const isDiskFull = (error: unknown): boolean =>
  (error as { code?: unknown }).code === 'ENOSPC' || /No space left on device/.test((error as Error).message);

const even = (n: number): number => Math.max(2, 2 * Math.round(n / 2));

/**
 * Looks at a medium's original and makes its proxy, poster and strip. The row ends as 'ready', or as 'failed'
 * with the reason; an abort leaves it waiting.
 */
export async function ingestMedium(db: Knex, id: string, signal: AbortSignal, onProgress: (fraction: number) => void): Promise<void> {
  const row = await mediumRow(db, id);
  await db<MediumRow>('media').where({ id }).update({ status: 'working', error: null });
  try {
    await contentOf(db, row);
    const original = mediumFile(id, 'original');
    const still = await lookAtStill(original);
    if (still !== null) {
      const facts = await prepareStill(id, displayName(row.name), original, still);
      await db<MediumRow>('media')
        .where({ id })
        .update({ status: 'ready', facts: JSON.stringify(facts), sound: null, error: null });
      onProgress(1);
      return;
    }
    if (await isZip(original)) {
      const rate = parseRational(row.asked_rate ?? '') ?? (await rateOfFilm(db, row.film_id));
      const { probe, endsEarly: early } = await joinSequence(id, rate, row.bytes, signal, (f) => onProgress(0.5 * f));
      const file = { path: mediumFile(id, 'sequence.mkv'), probe };
      const { facts } = await makeProxy(row, file, signal, (f) => onProgress(0.5 + 0.5 * f));
      const stored: StoredFacts = { ...facts, pictures: 'sequence.mkv' };
      await db<MediumRow>('media')
        .where({ id })
        .update({ status: 'ready', facts: JSON.stringify(stored), sound: null, error: early });
      return;
    }
    const { picture, sound } = await look(original, signal);
    const share = picture === null ? 0 : sound === null ? 1 : PICTURE_SHARE;
    const made = picture === null ? null : await makeProxy(row, { path: original, probe: picture }, signal, (f) => onProgress(share * f));
    const heard =
      sound === null ? null : await soundOf(row, sound, made?.facts ?? null, signal, (f) => onProgress(share + (1 - share) * f));
    // a picture whose sound is broken serves without it, one that ends early as far as it goes; both are said
    if (made === null && typeof heard === 'string') throw new AppError('unusable-file', heard);
    const said = [made?.endsEarly ?? null, typeof heard === 'string' ? heard : null].filter((s) => s !== null);
    await db<MediumRow>('media')
      .where({ id })
      .update({
        status: 'ready',
        facts: made === null ? null : JSON.stringify(made.facts),
        error: said.length === 0 ? null : said.join(' '),
        ...(typeof heard === 'string' ? {} : { sound: heard === null ? null : JSON.stringify(heard) }),
      });
  } catch (error) {
    const message = signal.aborted
      ? 'Stopped before it was ready. Bring it in again.'
      : error instanceof AppError
        ? error.message
        : isDiskFull(error)
          ? 'The disk is full, so this could not be prepared. Make room and bring it in again.'
          : 'This file is damaged or of a kind that is not known here: it could not be read to its end.';
    if (!(error instanceof AppError) && !signal.aborted) console.error(`${row.name} could not be prepared:`, error);
    await rm(`${mediumFile(id, 'proxy.webm')}.part`, { force: true });
    await db<MediumRow>('media').where({ id }).update({ status: 'failed', error: message });
    throw error;
  }
}

/** The sound of a medium, or a sentence why there is none. */
async function soundOf(
  row: MediumRow,
  probed: SoundProbe,
  picture: StoredFacts | null,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
): Promise<SoundFacts | string> {
  try {
    const shown = picture === null ? null : { start: picture.probe.start, seconds: picture.frames / toNumber(picture.rate) };
    return await takeSound(row.id, displayName(row.name), probed, shown, signal, onProgress);
  } catch (error) {
    if (!(error instanceof AppError) || signal.aborted) throw error;
    return error.message;
  }
}

/** Media that were brought in before their sound was kept. */
export const mediaWithoutSound = async (db: Knex): Promise<{ readonly id: string; readonly filmId: string; readonly name: string }[]> =>
  (await db<MediumRow>('media').where({ status: 'ready', sound: null, error: null }).whereNotNull('facts'))
    .filter((row) => (JSON.parse(row.facts!) as StoredFacts).hasSound)
    .map((row) => ({ id: row.id, filmId: row.film_id, name: displayName(row.name) }));

/** Keeps the sound of a medium that is ready but for that. */
export async function addSound(db: Knex, id: string, signal: AbortSignal, onProgress: (fraction: number) => void): Promise<void> {
  const row = await mediumRow(db, id);
  const { sound } = await look(mediumFile(id, 'original'), signal);
  if (sound === null) return;
  const picture = row.facts === null ? null : (JSON.parse(row.facts) as StoredFacts);
  const heard = await soundOf(row, sound, picture, signal, onProgress);
  await db<MediumRow>('media')
    .where({ id })
    .update(typeof heard === 'string' ? { error: heard } : { sound: JSON.stringify(heard) });
}

/** Share of the work on a medium that its picture takes. */
const PICTURE_SHARE = 0.9;

/** Pictures, and a share of all, by which a file may be shorter than it says before that is worth a word. */
const SHORTER_BY = { frames: 6, share: 0.02 };

/** A sentence where a file holds fewer pictures than it says it has. */
export function endsEarly(probed: Probe, frames: number): string | null {
  const said = Math.round(probed.duration * toNumber(probed.rate));
  if (said - frames <= Math.max(SHORTER_BY.frames, SHORTER_BY.share * said)) return null;
  return `This file ends early: ${frames} of about ${said} pictures came in. The rest is missing or damaged.`;
}

/** Seconds of picture in a file, by what is stored of it; what a file says of its length may be missing or wrong. */
const storedSeconds = ({ duration }: Probe, { first, end }: Packets): number => Math.max(duration, end - first);

async function makeProxy(
  row: MediumRow,
  { path: original, probe: probed }: PictureFile,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
): Promise<{ readonly facts: StoredFacts; readonly endsEarly: string | null }> {
  const packets = await scanPackets(original, 'v', row.bytes, signal);
  requireSteady(packets, 'picture', probed.rate);
  const proxyWidth = even(Math.min(PROXY_WIDTH, probed.width));
  const proxyHeight = even((proxyWidth * probed.height) / probed.width);
  const proxy = mediumFile(row.id, 'proxy.webm');
  const partial = `${proxy}.part`;
  const expected = Math.max(1, storedSeconds(probed, packets) * toNumber(probed.rate));
  await run('ffmpeg', proxyArgs(original, probed, proxyWidth, proxyHeight, partial), {
    signal,
    seconds: runLimit(row.bytes, expected * probed.width * probed.height),
    onLine(line) {
      const frame = /^frame=(\d+)/.exec(line)?.[1];
      if (frame !== undefined) onProgress(Math.min(0.97, (0.97 * Number(frame)) / expected));
    },
  });
  const frames = await countFrames(partial, signal);
  if (frames === 0) throw new AppError('unusable-file', 'This file holds no picture that can be decoded.');
  await rename(partial, proxy);
  const stripTiles = Math.min(STRIP_TILES, frames);
  await makeStrip(row.id, proxy, frames, stripTiles, signal);
  onProgress(1);
  const { width, height, rate, codec, hasSound, wasVariable, timecode = null, reelName = null } = probed;
  const facts: StoredFacts = {
    id: row.id,
    kind: frames === 1 ? 'still' : 'video',
    name: displayName(row.name),
    proxy: 'proxy.webm',
    width,
    height,
    rate,
    frames,
    codec,
    hasSound,
    wasVariable,
    timecode,
    reelName,
    proxyWidth,
    proxyHeight,
    stripTiles,
    stripColumns: STRIP_COLUMNS,
    probe: probed,
  };
  return { facts, endsEarly: endsEarly(probed, frames) };
}

/** 'street-tram.webm' is shown as 'Street tram'. */
function displayName(file: string): string {
  const words = file
    .replace(/\.[^.]+$/, '')
    .replace(/[-_]+/g, ' ')
    .trim();
  return words === '' ? file : words[0]!.toUpperCase() + words.slice(1);
}

/** Draws the tiles that the shelf scrubs over, evenly spread, and a larger poster from a third into the medium. */
async function makeStrip(id: string, proxy: string, frames: number, tiles: number, signal: AbortSignal): Promise<void> {
  const wanted = Array.from({ length: tiles }, (_, i) => Math.floor(((i + 0.5) * frames) / tiles));
  const select = (list: readonly number[]): string => `select='${list.map((n) => `eq(n\\,${n})`).join('+')}'`;
  const rows = Math.ceil(tiles / STRIP_COLUMNS);
  const poster = Math.floor(frames / 3);
  await run(
    'ffmpeg',
    [
      '-hide_banner',
      '-nostdin',
      '-v',
      'error',
      '-y',
      '-i',
      proxy,
      '-filter_complex',
      `[0:v]split[a][b];[a]${select(wanted)},scale=${STRIP_TILE_WIDTH}:-2,tile=${STRIP_COLUMNS}x${rows}[strip];[b]${select([poster])},scale=480:-2[poster]`,
      '-map',
      '[strip]',
      '-frames:v',
      '1',
      '-q:v',
      '4',
      '-f',
      'mjpeg',
      mediumFile(id, 'strip.jpg'),
      '-map',
      '[poster]',
      '-frames:v',
      '1',
      '-q:v',
      '3',
      '-f',
      'mjpeg',
      mediumFile(id, 'poster.jpg'),
    ],
    { signal, seconds: runLimit((await stat(proxy)).size) },
  );
}
