import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { Transform, type Readable } from 'node:stream';
import { finished, pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { produce } from 'immer';
import Joi from 'joi';
import type { Knex } from 'knex';
import sharp from 'sharp';
import { open as openZip, type Entry, type ZipFile } from 'yauzl';
import { ZipFile as NewZip } from 'yazl';
import { beginLater } from '../../core/film/edits/medium-span';
import type { MediumSpan } from '../../core/film/edits/spans';
import type { Film } from '../../core/film/film';
import type { MatteFrame } from '../../core/film/matte-frame';
import { readyMedia } from '../../core/film/media-facts';
import { referencesTo } from '../../core/film/references';
import { withIds } from '../../core/film/with-ids';
import { freeBytes, makeMediumFolder, mediumFile, mediumFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { parse } from '../base/parse';
import { insertMedium, listMedia } from '../media/media';
import { requirePrepared } from './medium-uses';
import { spanOfMedium } from '../media/span-of-medium';
import { parseFilm } from '../schema/film-schema';
import { addFilm, loadFilm } from './films';
import { listMatteFrames, loadCoverage, settleMatte, storeMatteFrame } from './matte-frames';

/**
 * A film with all it needs in one file: a ZIP (64-bit where it is large) of `film.json`, the originals of its media and the stored frames
 * of its mattes as grey PNG. docs/formats.md says every field.
 */

const FORMAT = 'irimi package';
const MOST_JSON = 256 * 2 ** 20;

interface PackedMedium {
  readonly id: string;
  readonly name: string;
  /** Its entry in the package. */
  readonly file: string;
  readonly bytes: number;
  readonly sha256: string;
}

interface PackedFrame extends Pick<MatteFrame, 'frame' | 'origin' | 'settled' | 'confidence' | 'doubt' | 'madeFrom'> {
  readonly file: string;
}

interface Packed {
  readonly format: typeof FORMAT;
  readonly version: 1;
  readonly film: Film;
  readonly media: readonly PackedMedium[];
  readonly mattes: readonly { readonly matteId: string; readonly frames: readonly PackedFrame[] }[];
}

const text = Joi.string().min(1).max(300).required();
const packedSchema = Joi.object<Packed>({
  format: Joi.valid(FORMAT).required(),
  version: Joi.valid(1).required(),
  film: Joi.object().unknown().required(),
  media: Joi.array()
    .items(
      Joi.object({
        id: text,
        name: text,
        file: text,
        bytes: Joi.number().integer().min(1).required(),
        sha256: Joi.string().hex().length(64).required(),
      }),
    )
    .unique('id')
    .max(5000)
    .required(),
  mattes: Joi.array()
    .items(
      Joi.object({
        matteId: text,
        frames: Joi.array()
          .items(
            Joi.object({
              frame: Joi.number().integer().min(0).required(),
              origin: Joi.valid('hand', 'carried').required(),
              settled: Joi.boolean().required(),
              confidence: Joi.number().min(0).max(1).required(),
              doubt: Joi.object({ x: Joi.number().required(), y: Joi.number().required() }).allow(null).required(),
              madeFrom: Joi.string().allow('').max(200).required(),
              file: text,
            }),
          )
          .required(),
      }),
    )
    .max(5000)
    .required(),
});

/** A file as a stream; `sha256` is that of what has passed. */
function hashed(path: string): { readonly stream: Transform; sha256(): string } {
  const digest = createHash('sha256');
  const stream = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      digest.update(chunk);
      done(null, chunk);
    },
  });
  createReadStream(path)
    .on('error', (error) => stream.destroy(error))
    .pipe(stream);
  return { stream, sha256: () => digest.digest('hex') };
}

/** What goes along in a package: all of the shelf, the media that are used, or of these only the frames in use with some around them. */
export type Packing = 'all' | 'used' | { readonly handles: number };

/** A film as one file that is being written. @throws AppError 'not-found', 'conflict' while something in it is being prepared */
export async function packFilm(db: Knex, filmId: string, which: Packing): Promise<NodeJS.ReadableStream> {
  const { film } = await loadFilm(db, filmId);
  await requirePrepared(db, film, filmId);
  const zip = new NewZip();
  const output = zip.outputStream as Readable;
  const fail = (error: Error): void => void output.destroy(error);
  zip.on('error', fail);
  pack(zip, db, filmId, film, which).catch(fail);
  return output;
}

/** Fills a package; what is large is read once, as it goes out. */
async function pack(zip: NewZip, db: Knex, filmId: string, stored: Film, which: Packing): Promise<void> {
  const used = new Set(referencesTo(stored, 'medium').map((r) => r.id));
  const rows = await db<{ id: string; name: string; film_id: string; status: string; added_at: number }>('media')
    .where({ film_id: filmId, status: 'ready' })
    .orderBy('added_at')
    .select('id', 'name');
  const media: PackedMedium[] = [];
  /** Frames that are left out before what is in the package of a medium. */
  const begins = new Map<string, MediumSpan>();
  const pictures = readyMedia(await listMedia(db, filmId));
  let film = stored;
  for (const { id, name } of rows.filter((m) => which === 'all' || used.has(m.id))) {
    const medium = pictures.get(id);
    const cut = typeof which === 'string' || medium === undefined ? null : await spanOfMedium(db, film, medium, which.handles);
    const path = cut?.path ?? mediumFile(id, 'original');
    const file = `media/${media.length + 1}${cut === null ? (/\.[A-Za-z0-9]{1,5}$/.exec(name)?.[0] ?? '') : '.mkv'}`;
    const { size } = await stat(path);
    const { stream, sha256 } = hashed(path);
    // what is compressed already gets no smaller
    zip.addReadStream(stream, file, { compress: false, size });
    await finished(stream);
    media.push({ id, name, file, bytes: size, sha256: sha256() });
    if (cut === null) continue;
    await rm(cut.path);
    begins.set(id, cut.span);
    film = produce(film, (d) => beginLater(d, cut.medium, cut.span.first));
  }
  const mattes: Packed['mattes'][number][] = [];
  for (const matte of film.mattes) {
    const frames: PackedFrame[] = [];
    const { first = 0, last = Infinity } = begins.get(matte.mediumId) ?? {};
    for (const { version: _, ...frame } of await listMatteFrames(db, filmId, matte.id)) {
      if (frame.frame < first || frame.frame > last) continue;
      const file = `mattes/${mattes.length + 1}/${String(frame.frame).padStart(6, '0')}.png`;
      const { width, height, data } = (await loadCoverage(db, filmId, matte.id, frame.frame))!;
      const png = await sharp(data, { raw: { width, height, channels: 1 } })
        .toColourspace('b-w')
        .png()
        .toBuffer();
      zip.addBuffer(png, file, { compress: false });
      frames.push({ ...frame, frame: frame.frame - first, file });
    }
    if (frames.length > 0) mattes.push({ matteId: matte.id, frames });
  }
  const packed: Packed = { format: FORMAT, version: 1, film, media, mattes };
  zip.addBuffer(Buffer.from(`${JSON.stringify(packed)}\n`), 'film.json');
  zip.end();
}

const damaged = (what: string): AppError =>
  new AppError('unusable-file', `This is no whole package of a film: ${what}. Nothing was opened.`);

/** The entries of a ZIP by their names. @throws AppError 'unusable-file' */
async function entriesOf(path: string): Promise<{ readonly zip: ZipFile; readonly entries: ReadonlyMap<string, Entry> }> {
  const zip = await promisify<string, { lazyEntries: true; autoClose: false }, ZipFile>(openZip)(path, {
    lazyEntries: true,
    autoClose: false,
  }).catch(() => {
    throw damaged('it cannot be read as a ZIP');
  });
  const entries = new Map<string, Entry>();
  await new Promise<void>((resolve, reject) => {
    zip.on('entry', (entry: Entry) => {
      entries.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.on('end', resolve);
    zip.on('error', () => reject(damaged('its list of files is broken')));
    zip.readEntry();
  });
  return { zip, entries };
}

/** Reads entries of an open package. */
class PackageReader {
  private readonly zip: ZipFile;
  private readonly entries: ReadonlyMap<string, Entry>;

  constructor(zip: ZipFile, entries: ReadonlyMap<string, Entry>) {
    this.zip = zip;
    this.entries = entries;
  }

  /** An entry in memory. @throws AppError 'unusable-file' when it is larger than `most` */
  async bytes(file: string, most: number): Promise<Buffer> {
    const chunks: Buffer[] = [];
    let size = 0;
    for await (const chunk of (await this.stream(file)) as AsyncIterable<Buffer>) {
      size += chunk.length;
      if (size > most) throw damaged(`${file} is larger than it may be`);
      chunks.push(chunk);
    }
    return Buffer.concat(chunks);
  }

  /** Writes an entry to a file. @returns its SHA-256 */
  async extract(file: string, to: string): Promise<string> {
    const digest = createHash('sha256');
    const stream = await this.stream(file);
    stream.on('data', (chunk: Buffer) => digest.update(chunk));
    await pipeline(stream, createWriteStream(to)).catch(() => {
      throw damaged(`${file} ends early`);
    });
    return digest.digest('hex');
  }

  close(): void {
    this.zip.close();
  }

  private async stream(file: string): Promise<NodeJS.ReadableStream> {
    const entry = this.entries.get(file);
    if (entry === undefined) throw damaged(`${file} is missing`);
    return new Promise((resolve, reject) =>
      this.zip.openReadStream(entry, (error, stream) => (error === null ? resolve(stream) : reject(damaged(`${file} cannot be read`)))),
    );
  }
}

/** What a package says it holds, checked field by field. */
async function readPacked(reader: PackageReader): Promise<Packed> {
  let json: unknown;
  try {
    json = JSON.parse((await reader.bytes('film.json', MOST_JSON)).toString('utf8'));
  } catch (error) {
    if (error instanceof SyntaxError) throw damaged('film.json is no JSON');
    throw error;
  }
  return parse(packedSchema, json);
}

/** A film that was opened, and the media that are still to be prepared. */
export interface OpenedPackage {
  readonly filmId: string;
  readonly media: readonly { readonly id: string; readonly name: string; readonly bytes: number }[];
}

/** Makes a film of a package. What is wrong with it is said, and then nothing of it stays. @throws AppError */
export async function openPackage(db: Knex, path: string): Promise<OpenedPackage> {
  const { zip, entries } = await entriesOf(path);
  const reader = new PackageReader(zip, entries);
  const ids = new Map<string, string>();
  let filmId: string | null = null;
  try {
    const packed = await readPacked(reader);
    const room = packed.media.reduce((sum, m) => sum + m.bytes, 0);
    if (room > (await freeBytes()))
      throw new AppError('too-large', 'The disk has no room for the media of this package. Make room and open it again.');
    for (const { id } of packed.media) ids.set(id, randomUUID());
    const film = parseFilm(withIds(packed.film, ids));
    const unknown = referencesTo(film, 'medium').find((r) => !r.goesWith && ![...ids.values()].includes(r.id));
    if (unknown !== undefined) throw damaged(`${unknown.by} is of media that is not in it`);
    filmId = await addFilm(db, film);
    const media: OpenedPackage['media'][number][] = [];
    for (const { id, name, file, bytes, sha256 } of packed.media) {
      const own = ids.get(id)!;
      makeMediumFolder(own);
      if ((await reader.extract(file, mediumFile(own, 'original'))) !== sha256) throw damaged(`${file} was changed on its way`);
      await insertMedium(db, own, filmId, name, bytes);
      media.push({ id: own, name, bytes });
    }
    for (const { matteId, frames } of packed.mattes) await storeFrames(db, filmId, film, matteId, frames, reader);
    return { filmId, media };
  } catch (error) {
    if (filmId !== null) await db('films').where({ id: filmId }).delete();
    for (const id of ids.values()) await rm(mediumFolder(id), { recursive: true, force: true });
    throw error;
  } finally {
    reader.close();
  }
}

async function storeFrames(
  db: Knex,
  filmId: string,
  film: Film,
  matteId: string,
  frames: readonly PackedFrame[],
  reader: PackageReader,
): Promise<void> {
  if (!film.mattes.some((m) => m.id === matteId)) throw damaged(`it holds frames of a matte that the film has not`);
  for (const { file, settled: _, ...frame } of frames) {
    const { data, info } = await sharp(await reader.bytes(file, MOST_JSON), { limitInputPixels: 8192 * 8192 })
      .extractChannel(0)
      .raw()
      .toBuffer({ resolveWithObject: true })
      .catch(() => {
        throw damaged(`${file} is no picture`);
      });
    await storeMatteFrame(db, filmId, matteId, {
      ...frame,
      coverage: { width: info.width, height: info.height, data: new Uint8Array(data) },
    });
  }
  // a matte is locked as a whole
  if (frames.some((f) => f.settled)) await settleMatte(db, filmId, matteId, true);
}
