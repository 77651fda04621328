import { rm } from 'node:fs/promises';
import type { Knex } from 'knex';
import { parseRational, toNumber, type Rational } from '../../core/geometry/rational';
import type { SoundFacts } from '../../core/film/media-facts';
import { mediumFile } from '../base/data-folder';
import { isDiskFull } from '../base/disk-full';
import { AppError } from '../base/errors';
import { look, type SoundProbe } from '../video/ffmpeg';
import { isZip } from '../video/picture-zip';
import { removeParts } from './first-parts';
import { contentOf, mediumRow, type MediumRow } from './media';
import { displayName, makeProxy } from './proxies';
import { takeSound } from './sound-files';
import { lookAtStill, prepareStill } from './stills';
import { joinSequence } from './sequences';
import type { StoredFacts } from './stored-facts';

/** Share of the work on a medium that its picture takes. */
const PICTURE_SHARE = 0.9;

/** The rate of a film: numbered pictures have none of their own. */
async function rateOfFilm(db: Knex, filmId: string): Promise<Rational> {
  const { document } = (await db<{ id: string; document: string }>('films').where({ id: filmId }).first('document'))!;
  return (JSON.parse(document) as { rate: Rational }).rate;
}

/** What a medium is once it is prepared. */
interface Prepared {
  readonly facts: StoredFacts | null;
  readonly sound: SoundFacts | null;
  /** What has to be known of it, as sentences. */
  readonly error: string | null;
}

/**
 * Looks at a medium's original and makes its proxy, poster and strip. The row ends as 'ready', or as 'failed' with the reason; an abort
 * leaves it waiting. `onPart` is called when a first part of it, or more of that, can be used already.
 */
export async function ingestMedium(
  db: Knex,
  id: string,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
  onPart: () => void = () => undefined,
): Promise<void> {
  const row = await mediumRow(db, id);
  const update = (part: Partial<MediumRow>): Promise<unknown> => db<MediumRow>('media').where({ id }).update(part);
  await removeParts(id);
  await update({ status: 'working', error: null, facts: null });
  try {
    const { facts, sound, error } = await prepare(db, row, signal, onProgress, async (part) => {
      await update({ facts: JSON.stringify(part) });
      onPart();
    });
    const text = (value: object | null): string | null => (value === null ? null : JSON.stringify(value));
    await update({ status: 'ready', facts: text(facts), sound: text(sound), error });
    await removeParts(id, 'soon');
    await contentOf(db, row);
    onProgress(1);
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
    await removeParts(id);
    await update({ status: 'failed', facts: null, error: message });
    throw error;
  }
}

async function prepare(
  db: Knex,
  row: MediumRow,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
  onPart: (facts: StoredFacts) => Promise<void>,
): Promise<Prepared> {
  const original = mediumFile(row.id, 'original');
  const still = await lookAtStill(original);
  if (still !== null) return { facts: await prepareStill(row.id, displayName(row.name), original, still), sound: null, error: null };
  if (await isZip(original)) {
    const rate = parseRational(row.asked_rate ?? '') ?? (await rateOfFilm(db, row.film_id));
    const { probe, endsEarly: error } = await joinSequence(row.id, rate, row.bytes, signal, (f) => onProgress(0.5 * f));
    const file = { path: mediumFile(row.id, 'sequence.mkv'), probe };
    const { facts } = await makeProxy(row, file, signal, (f) => onProgress(0.5 + 0.5 * f));
    return { facts: { ...facts, pictures: 'sequence.mkv' }, sound: null, error };
  }
  const { picture, sound } = await look(original, signal);
  const share = picture === null ? 0 : sound === null ? 1 : PICTURE_SHARE;
  const made =
    picture === null ? null : await makeProxy(row, { path: original, probe: picture }, signal, (f) => onProgress(share * f), onPart);
  const heard = sound === null ? null : await soundOf(row, sound, made?.facts ?? null, signal, (f) => onProgress(share + (1 - share) * f));
  // a picture whose sound is broken serves without it, one that ends early as far as it goes; both are said
  if (made === null && typeof heard === 'string') throw new AppError('unusable-file', heard);
  const said = [made?.endsEarly ?? null, typeof heard === 'string' ? heard : null].filter((s) => s !== null);
  return { facts: made?.facts ?? null, sound: typeof heard === 'string' ? null : heard, error: said.length === 0 ? null : said.join(' ') };
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
