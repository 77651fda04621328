import { randomUUID } from 'node:crypto';
import { rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { ERRORS, MemoryLocker, Server, type Upload } from '@tus/server';
import { freeBytes, incomingFolder, uploadsFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { tellFilm } from '../base/events';
import { KNOWN_HEADER, MEDIUM_HEADER } from '../../core/film/arrival';
import { parseRational, type Rational } from '../../core/geometry/rational';
import { parse } from '../base/parse';
import { chosenAtSchema, frameSchema, idSchema, rateTextSchema } from './request-schema';
import { loadFilm } from '../films/films';
import { filmOfMedium, restoreFile, sameFile, takeInMedium } from '../media/media';
import { getWorkshop } from '../workshop/workshop';

// Files come in by the tus protocol (tus.io, version 1.0): in parts, each taken up where the one before ended, over any
// interruption and as large as the disk allows.

interface FileInfo {
  readonly filmId: string;
  readonly name: string;
  /** The frames of this painted matte, from medium frame `first` on; without it a medium. */
  readonly matte: { readonly id: string; readonly first: number } | null;
  readonly window: string | null;
  /** When it was chosen in the page, ms; files of one choice keep their order. */
  readonly chosenAt: number;
  /** What numbered pictures run at; null for the film's rate. */
  readonly rate: Rational | null;
  /** It becomes a medium also where the film has the same file already. */
  readonly isAgain: boolean;
  /** The medium whose own file is gone, and whose place it takes. */
  readonly restores: string | null;
}

/** What the page says of a file. @throws AppError 'bad-request' */
function infoOf(filmId: string, metadata: Upload['metadata'], window: string | null): FileInfo {
  const name = (metadata?.filename ?? '').split(/[\\/]/).pop()!.trim().slice(0, 200);
  if (name === '') throw new AppError('bad-request', 'The file has no name.');
  const matte = metadata?.matte == null ? null : { id: parse(idSchema, metadata.matte), first: parse(frameSchema, metadata.first, true) };
  return {
    ...{ filmId, name, matte, window },
    chosenAt: parse(chosenAtSchema, metadata?.chosenAt ?? Date.now(), true),
    rate: metadata?.rate == null ? null : parseRational(parse(rateTextSchema, metadata.rate)),
    isAgain: metadata?.again === 'yes',
    restores: metadata?.restores == null ? null : parse(idSchema, metadata.restores),
  };
}

/** @throws AppError 'too-large' unless the disk has room for so much more */
async function requireRoom(bytes: number, name: string): Promise<void> {
  const free = await freeBytes();
  if (bytes > free)
    throw new AppError(
      'too-large',
      `The disk has no room for ${name}: ${gigabytes(bytes)} are to come, ${gigabytes(free)} are free. Make room and bring it in again.`,
    );
}

const gigabytes = (bytes: number): string => `${(bytes / 2 ** 30).toFixed(bytes < 2 ** 30 ? 2 : 1)} GiB`;

/** @throws AppError when the film, or the matte, cannot take the file */
async function requireTaker({ filmId, matte }: FileInfo): Promise<void> {
  const { film } = await loadFilm((await getWorkshop()).db, filmId);
  if (matte !== null && film.mattes.find((m) => m.id === matte.id)?.painted === undefined)
    throw new AppError('not-found', 'There is no such painted matte in this film.');
}

/** What the page is told of a file that has arrived: the medium it is, or the one that was the same file already. */
type Arrived = Readonly<Record<string, string>>;

async function takeInAsMedium(
  path: string,
  { filmId, name, window, chosenAt, rate, isAgain, restores }: FileInfo,
  size: number,
): Promise<Arrived> {
  const { db, jobs } = await getWorkshop();
  if (restores !== null) {
    if ((await filmOfMedium(db, restores)) !== filmId) throw new AppError('not-found', 'There is no such media in this film.');
    await restoreFile(db, restores, name, path);
    tellFilm(filmId, { kind: 'media' });
    return { [MEDIUM_HEADER]: restores };
  }
  const { offShelf = [] } = (await loadFilm(db, filmId)).film;
  const known = isAgain ? null : await sameFile(db, filmId, path, offShelf);
  if (known !== null) return { [KNOWN_HEADER]: known };
  const id = await takeInMedium(db, filmId, name, path, chosenAt, rate);
  await jobs.add({ filmId, kind: 'ingest', subjectId: id, label: `Preparing ${name}`, window, cost: size });
  tellFilm(filmId, { kind: 'media' });
  return { [MEDIUM_HEADER]: id };
}

/** Makes of a file that is here whole what it was sent for. */
async function takeIn(path: string, info: FileInfo, size: number): Promise<Arrived> {
  const { filmId, name, matte, window } = info;
  if (matte === null) return takeInAsMedium(path, info, size);
  const { jobs } = await getWorkshop();
  await requireTaker(info);
  const file = randomUUID();
  await rename(path, join(incomingFolder(), file));
  const order = { matteId: matte.id, file, first: matte.first };
  await jobs.add({ filmId, kind: 'bring in', subjectId: matte.id, label: `Importing ${name}`, order, window });
  return {};
}

/** What the protocol's server understands of an error. */
const answerOf = async (error: unknown): Promise<{ status_code: number; body: string }> => {
  // the store tells only that it could not write
  if (error === ERRORS.FILE_WRITE_ERROR && (await freeBytes()) === 0)
    return answerOf(new AppError('too-large', 'The disk is full. Make room, then import the file again to go on where it was.'));
  if (error instanceof AppError) return { status_code: error.status, body: JSON.stringify({ code: error.code, message: error.message }) };
  const { status_code = 500, body = 'The file could not be received; the log of the server says why.' } = error as {
    status_code?: number;
    body?: string;
  };
  if (status_code >= 500) console.error('An upload failed:', error);
  return { status_code, body: JSON.stringify({ code: 'upload', message: body.trim() }) };
};

const shared = globalThis as { irimiUploadLocks?: MemoryLocker };

/** Shared by all requests, so that two of them never write one upload at once. */
const locks = (): MemoryLocker => (shared.irimiUploadLocks ??= new MemoryLocker());

function serverFor(filmId: string, window: string | null): Server {
  const store = new FileStore({ directory: uploadsFolder() });
  return new Server({
    path: `/api/films/${filmId}/uploads`,
    relativeLocation: true,
    datastore: store,
    allowedOrigins: [],
    locker: locks(),
    namingFunction: () => randomUUID(),
    async onUploadCreate(_, upload) {
      const info = infoOf(filmId, upload.metadata, window);
      if (upload.size === undefined) throw new AppError('bad-request', `${info.name} does not say how large it is.`);
      if (upload.size === 0) throw new AppError('unusable-file', `${info.name} is empty.`);
      await requireTaker(info);
      await requireRoom(upload.size, info.name);
      return {};
    },
    async onIncomingRequest(request, id) {
      if (request.method !== 'PATCH') return;
      const { size = 0, offset, metadata } = await store.getUpload(parse(idSchema, id));
      await requireRoom(size - offset, infoOf(filmId, metadata, window).name);
    },
    async onUploadFinish(_, { id, metadata, size = 0 }) {
      const path = join(uploadsFolder(), id);
      try {
        return { headers: await takeIn(path, infoOf(filmId, metadata, window), size) };
      } finally {
        await rm(path, { force: true });
        await store.configstore.delete(id);
      }
    },
    onResponseError: (_, error) => answerOf(error),
  });
}

/** Answers one request of an upload to a film. */
export const answerUpload = async (request: Request, filmId: string, window: string | null): Promise<Response> =>
  serverFor(filmId, window).handleWeb(request);
