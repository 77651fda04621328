import { randomUUID } from 'node:crypto';
import { rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { Film } from '../../core/film/film';
import { readyMedia, readySounds } from '../../core/film/media-facts';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import type { ExportEnding, MatteSendOrder, SendOrder } from '../../core/film/job';
import { visitJoin, type Reference } from '../../core/film/references';
import { filmLength, placedJoins, placeJoin } from '../../core/film/timing';
import { reachOf } from '../../core/plan/plan-join';
import { exportsFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { migrateFilm } from '../../core/film/migrate';
import { loadFilm } from '../films/films';
import { loadCoverage, unpacked } from '../films/matte-frames';
import { listMedia, pictureFileOf } from '../media/media';
import type { PictureFile } from '../video/ffmpeg';
import { sendFilm, type SendTask } from './send-film';
import { sendSound } from './send-sound';
import { ENDINGS, sendMatte, type MatteTask } from './send-matte';

interface ExportRow {
  id: string;
  film_id: string;
  name: string;
  format: ExportEnding;
  order: string;
  revision: number;
  frames: number | null;
  bytes: number | null;
  added_at: number;
  /** The film as it was ordered, until the order is carried out. */
  document: string | null;
}

interface ExportFrameRow {
  export_id: string;
  matte_id: string;
  frame: number;
  width: number;
  height: number;
  coverage: Buffer;
}

/** What was sent out, or is on its way (`frames` is null until it is complete). */
export interface ExportEntry {
  readonly id: string;
  readonly name: string;
  readonly format: ExportEnding;
  readonly frames: number | null;
  readonly bytes: number | null;
  readonly addedAt: number;
}

export const exportFile = (id: string, format: ExportEnding): string => join(exportsFolder(), `${id}.${format}`);

/** Film frames of an order: first, and the one past the last. @throws AppError when the join is not on the reel. */
export function orderedFrames(film: Film, order: SendOrder): { readonly from: number; readonly to: number } {
  const length = filmLength(film);
  if (order.joinId === null) return { from: 0, to: length };
  const placed = placeJoin(film, order.joinId);
  if (placed === null) throw new AppError('not-found', 'This join is not on the reel.');
  return { from: Math.max(0, placed.from - order.handles), to: Math.min(length, placed.to + order.handles) };
}

/** An order that was taken: its file to be, and the frames it takes. */
export interface OrderedExport {
  readonly entry: ExportEntry;
  readonly cost: number;
}

/**
 * Remembers an order together with the film and the coverage of its mattes as they are now: that is what will be sent out, whatever
 * is changed meanwhile. The job that carries it out is added by the caller.
 */
export async function orderExport(db: Knex, filmId: string, order: SendOrder): Promise<OrderedExport> {
  const { film, revision } = await loadFilm(db, filmId);
  const { from, to } = orderedFrames(film, order);
  if (to <= from)
    throw new AppError(
      'bad-request',
      order.joinId === null ? 'The reel is empty: add a shot first.' : 'This join has no overlap: give it handles to export it.',
    );
  const join = order.joinId === null ? null : placeJoin(film, order.joinId);
  const title = join === null ? film.name : `${film.name} - ${join.join.name}`;
  const taken = { film, revision, mattes: shownIn(film, from, to).mattes };
  const waits = order.after !== undefined && order.after.length > 0;
  return { entry: await insertExport(db, filmId, waits ? null : taken, title, order.format, order), cost: to - from };
}

/** Remembers an order for a matte. @throws AppError 'not-found', or 'bad-request' for frames the medium does not have. */
export async function orderMatteExport(db: Knex, filmId: string, order: MatteSendOrder): Promise<OrderedExport> {
  const { film, revision } = await loadFilm(db, filmId);
  const matte = film.mattes.find((m) => m.id === order.matteId);
  if (matte === undefined) throw new AppError('not-found', 'There is no such matte in this film.');
  const medium = readyMedia(await listMedia(db, filmId)).get(matte.mediumId);
  if (medium === undefined) throw new AppError('bad-request', 'The media is not ready.');
  if (order.last < order.first || order.last >= medium.frames)
    throw new AppError(
      'bad-request',
      `${medium.name} has frames 0 to ${medium.frames - 1}; ${order.first} to ${order.last} cannot be exported.`,
    );
  const entry = await insertExport(
    db,
    filmId,
    { film, revision, mattes: [matte.id] },
    `${film.name} - ${matte.name}${order.format.startsWith('alpha') ? ', with alpha' : ''}`,
    ENDINGS[order.format],
    order,
  );
  return { entry, cost: order.last - order.first + 1 };
}

/** What an order takes of a film: it as it is, and the stored coverage of these mattes. */
interface Taken {
  readonly film: Film;
  readonly revision: number;
  readonly mattes: readonly string[];
}

/** `taken` is null for an order that waits: it takes the film as it is when it is begun. */
async function insertExport(
  db: Knex,
  filmId: string,
  taken: Taken | null,
  title: string,
  ending: ExportEnding,
  order: SendOrder | MatteSendOrder,
): Promise<ExportEntry> {
  const names = new Set((await db<ExportRow>('exports').where({ film_id: filmId }).select('name')).map((e) => e.name));
  const row: ExportRow = {
    id: randomUUID(),
    film_id: filmId,
    name: freeFileName(title, ending, names),
    format: ending,
    order: JSON.stringify(order),
    revision: taken?.revision ?? 0,
    frames: null,
    bytes: null,
    added_at: Date.now(),
    document: null,
  };
  await db.transaction(async (trx) => {
    await trx<ExportRow>('exports').insert(row);
    if (taken !== null) await take(trx, row.id, filmId, taken);
  });
  return entryOf(row);
}

/** Keeps for an order what it takes of a film. */
async function take(trx: Knex, exportId: string, filmId: string, { film, revision, mattes }: Taken): Promise<void> {
  // drawing asks for the coverage that was cut, not for the strokes
  const document = JSON.stringify({ ...film, mattes: film.mattes.map((m) => (m.painted === undefined ? m : { ...m, painted: [] })) });
  await trx<ExportRow>('exports').where({ id: exportId }).update({ document, revision });
  const columns = ['matte_id', 'frame', 'width', 'height', 'coverage'];
  await trx(trx.raw('?? (??, ??, ??, ??, ??, ??)', ['export_frames', 'export_id', ...columns])).insert(
    trx('matte_frames')
      .where({ film_id: filmId })
      .whereIn('matte_id', [...new Set(mattes)])
      .select(trx.raw('? as export_id', [exportId]), ...columns),
  );
}

/** The film of an order: as it was when it was given or, of one that waited, as it is now. */
async function orderedFilm(db: Knex, row: ExportRow): Promise<Film> {
  if (row.document !== null) return migrateFilm(JSON.parse(row.document));
  const order = JSON.parse(row.order) as SendOrder;
  if (order.after === undefined || row.frames !== null) throw new AppError('not-found', 'The order is gone.');
  const { film, revision } = await loadFilm(db, row.film_id);
  const { from, to } = orderedFrames(film, order);
  const taken = { film, revision, mattes: shownIn(film, from, to).mattes };
  await db.transaction((trx) => take(trx, row.id, row.film_id, taken));
  return film;
}

/** 'Dusk.webm', or the next of 'Dusk 2.webm' … that no other file has. */
function freeFileName(title: string, ending: string, taken: ReadonlySet<string>): string {
  for (let n = 1; ; n++) {
    const name = `${title}${n === 1 ? '' : ` ${n}`}.${ending}`;
    if (!taken.has(name)) return name;
  }
}

/** The media and the mattes that film frames `from` … `to` may need, whatever they need of them. */
export function shownIn(film: Film, from: number, to: number): { readonly media: readonly string[]; readonly mattes: readonly string[] } {
  const [media, mattes] = [new Set<string>(), new Set<string>()];
  const visit = (r: Reference): void => {
    if (r.isSetting) return;
    if (r.to === 'matte') mattes.add(r.id);
    if (r.to === 'medium') media.add(r.id);
  };
  let start = 0;
  for (const shot of film.shots) {
    if (start < to && start + shot.length > from) media.add(shot.mediumId);
    start += shot.length;
  }
  for (const placed of placedJoins(film)) {
    const reach = reachOf(placed);
    if (reach.from >= to || reach.to <= from) continue;
    for (const { mediumId } of [placed.leaving, placed.entering]) media.add(mediumId);
    visitJoin(placed.join, visit);
  }
  for (const matte of film.mattes) if (mattes.has(matte.id)) media.add(matte.mediumId);
  return { media: [...media], mattes: [...mattes] };
}

/** Coverage of a matte on a medium frame as it was when the order was given. */
async function orderedCoverage(db: Knex, exportId: string, matteId: string, frame: number): Promise<StoredCoverage | null> {
  const row = await db<ExportFrameRow>('export_frames').where({ export_id: exportId, matte_id: matteId, frame }).first();
  return row === undefined ? null : { width: row.width, height: row.height, data: await unpacked(row.coverage) };
}

/** Forgets what an order held of the film, once it has ended one way or another. */
export async function forgetOrder(db: Knex, id: string): Promise<void> {
  await db<ExportFrameRow>('export_frames').where({ export_id: id }).delete();
  await db<ExportRow>('exports').where({ id }).update({ document: null });
}

const entryOf = ({ id, name, format, frames, bytes, added_at }: ExportRow): ExportEntry => ({
  id,
  name,
  format,
  frames,
  bytes,
  addedAt: added_at,
});

export async function listExports(db: Knex, filmId: string): Promise<ExportEntry[]> {
  return (await db<ExportRow>('exports').where({ film_id: filmId }).orderBy('added_at', 'desc').limit(20)).map(entryOf);
}

/** @throws AppError 'not-found' */
export async function findExport(db: Knex, id: string): Promise<ExportEntry> {
  const row = await db<ExportRow>('exports').where({ id }).first();
  if (row === undefined) throw new AppError('not-found', 'There is no such file here.');
  return entryOf(row);
}

/** Everything needed to draw film frames `from` … `to` from originals. @throws AppError when a medium they need is not ready. */
export async function sourcesOf(
  db: Knex,
  filmId: string,
  film: Film,
  { from, to }: Pick<SendTask, 'from' | 'to'> = { from: 0, to: filmLength(film) },
): Promise<Pick<SendTask, 'media' | 'sounds' | 'originals' | 'coverage'>> {
  const shelf = await listMedia(db, filmId);
  const media = readyMedia(shelf);
  const sounds = readySounds(shelf);
  const heard = [...(film.soundLanes ?? []).flatMap((l) => l.clips), ...film.joins.flatMap((j) => j.hits ?? [])];
  const silent = heard.find((h) => !sounds.has(h.mediumId));
  if (silent !== undefined) throw new AppError('bad-request', `${silent.name} cannot be exported: its sound is not ready.`);
  const originals = new Map<string, PictureFile>();
  for (const mediumId of shownIn(film, from, to).media) {
    if (!media.has(mediumId)) {
      const name = shelf.find((m) => m.id === mediumId)?.name ?? 'A medium of the film';
      throw new AppError('bad-request', `${name} cannot be exported: it is not ready.`);
    }
    originals.set(mediumId, await pictureFileOf(db, mediumId));
  }
  return { media, sounds, originals, coverage: (matteId, frame) => loadCoverage(db, filmId, matteId, frame) };
}

async function matteSource(db: Knex, filmId: string, film: Film, matteId: string): Promise<Pick<MatteTask, 'medium' | 'original'>> {
  const mediumId = film.mattes.find((m) => m.id === matteId)?.mediumId;
  const medium = readyMedia(await listMedia(db, filmId)).get(mediumId ?? '');
  if (medium === undefined) throw new AppError('not-found', 'The matte or its media is gone.');
  return {
    medium,
    original: await pictureFileOf(db, medium.id),
  };
}

/** Carries out an order on the film as it was when it was given. */
export async function runExport(db: Knex, id: string, signal: AbortSignal, onProgress: (fraction: number) => void): Promise<void> {
  const row = await db<ExportRow>('exports').where({ id }).first();
  if (row === undefined) throw new AppError('not-found', 'The order is gone.');
  const film = await orderedFilm(db, row);
  const order = JSON.parse(row.order) as SendOrder | MatteSendOrder;
  const output = exportFile(id, row.format);
  const common = { film, output, signal, onProgress };
  const coverage = (matteId: string, frame: number): Promise<StoredCoverage | null> => orderedCoverage(db, id, matteId, frame);
  try {
    const { frames } =
      'matteId' in order
        ? await sendMatte({
            ...common,
            ...order,
            ...(await matteSource(db, row.film_id, film, order.matteId)),
            coverage: (frame) => coverage(order.matteId, frame),
          })
        : await sendOrdered(order, {
            ...common,
            ...(await sourcesOf(db, row.film_id, film, orderedFrames(film, order))),
            coverage,
            ...orderedFrames(film, order),
          });
    await db<ExportRow>('exports')
      .where({ id })
      .update({ frames, bytes: (await stat(output)).size });
  } finally {
    await forgetOrder(db, id);
  }
}

/** Sends film frames out, or their sound alone. */
export async function sendOrdered(
  { format }: Pick<SendOrder, 'format'>,
  task: Omit<SendTask, 'format'>,
): Promise<{ readonly frames: number; readonly framesWithHoles: readonly number[] }> {
  if (format !== 'wav') return sendFilm({ ...task, format });
  await sendSound(task, task.output, task.onProgress);
  return { frames: task.to - task.from, framesWithHoles: [] };
}

/** Takes an export away with its file. The caller has seen to it that no job is at work on it. */
export async function removeExport(db: Knex, id: string): Promise<void> {
  const { format } = await findExport(db, id);
  await db<ExportRow>('exports').where({ id }).delete();
  await rm(exportFile(id, format), { force: true });
}
