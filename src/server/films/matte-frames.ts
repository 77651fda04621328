import { deflate, inflate } from 'node:zlib';
import { promisify } from 'node:util';
import type { Knex } from 'knex';
import type { MatteFrame } from '../../core/film/matte-frame';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import { AppError } from '../base/errors';
import { tellFilm } from '../base/events';

const pack = promisify<Uint8Array, { level: number }, Buffer>(deflate);
/** Stored coverage as bytes again. */
export const unpacked = promisify<Buffer, Buffer>(inflate);

interface MatteFrameRow {
  film_id: string;
  matte_id: string;
  frame: number;
  origin: MatteFrame['origin'];
  settled: 0 | 1;
  confidence: number;
  doubt_x: number | null;
  doubt_y: number | null;
  made_from: string;
  width: number;
  height: number;
  version: number;
  coverage: Buffer;
  /** What had been carried here before a hand corrected it. */
  base: Buffer | null;
}

const WITHOUT_COVERAGE = ['frame', 'origin', 'settled', 'confidence', 'doubt_x', 'doubt_y', 'made_from', 'version'] as const;

type InfoRow = Pick<MatteFrameRow, (typeof WITHOUT_COVERAGE)[number]>;

const fromRow = (row: InfoRow): MatteFrame => ({
  frame: row.frame,
  origin: row.origin,
  settled: row.settled === 1,
  confidence: row.confidence,
  doubt: row.doubt_x === null || row.doubt_y === null ? null : { x: row.doubt_x, y: row.doubt_y },
  madeFrom: row.made_from,
  version: row.version,
});

const frames = (db: Knex, filmId: string, matteId: string): Knex.QueryBuilder<MatteFrameRow> =>
  db<MatteFrameRow>('matte_frames').where({ film_id: filmId, matte_id: matteId });

/** The frames a matte has, in order. */
export async function listMatteFrames(db: Knex, filmId: string, matteId: string): Promise<MatteFrame[]> {
  const rows = (await frames(db, filmId, matteId)
    .select(...WITHOUT_COVERAGE)
    .orderBy('frame')) as InfoRow[];
  return rows.map(fromRow);
}

/** Stored coverage of one frame, or what it was before a hand corrected it; null where there is none. */
export async function loadCoverage(
  db: Knex,
  filmId: string,
  matteId: string,
  frame: number,
  which: 'coverage' | 'base' = 'coverage',
): Promise<StoredCoverage | null> {
  const row = (await frames(db, filmId, matteId).where({ frame }).first()) as MatteFrameRow | undefined;
  const packed = which === 'coverage' || row?.origin === 'carried' ? row?.coverage : row?.base;
  return row === undefined || packed === null || packed === undefined
    ? null
    : { width: row.width, height: row.height, data: await unpacked(packed) };
}

/** The columns of a frame that an edit can change. */
const EDITABLE = ['origin', 'confidence', 'doubt_x', 'doubt_y', 'made_from', 'width', 'height', 'coverage', 'base'] as const;

type EditableRow = Pick<MatteFrameRow, (typeof EDITABLE)[number]>;

/** A frame's other state in an edit of stored frames: all null where there was no frame. */
type FrameEditRow = { film_id: string; matte_id: string; edit_id: string; frame: number } & {
  [K in keyof EditableRow]: EditableRow[K] | null;
};

const editableOf = (row: EditableRow | undefined): Omit<FrameEditRow, 'film_id' | 'matte_id' | 'edit_id' | 'frame'> =>
  Object.fromEntries(EDITABLE.map((k) => [k, row?.[k] ?? null])) as Omit<FrameEditRow, 'film_id' | 'matte_id' | 'edit_id' | 'frame'>;

/** Remembers what a frame is before an edit changes it; a second change of the same edit adds nothing. */
async function rememberFrame(db: Knex, editId: string, filmId: string, matteId: string, frame: number, row?: MatteFrameRow): Promise<void> {
  await db<FrameEditRow>('matte_frame_edits')
    .insert({ film_id: filmId, matte_id: matteId, edit_id: editId, frame, ...editableOf(row) })
    .onConflict(['film_id', 'matte_id', 'edit_id', 'frame'])
    .ignore();
}

/** True when an edit has changed any frame. */
export async function hasFrames(db: Knex, filmId: string, matteId: string, editId: string): Promise<boolean> {
  return (await db('matte_frame_edits').where({ film_id: filmId, matte_id: matteId, edit_id: editId }).first('frame')) !== undefined;
}

/** Exchanges the stored frames with what an edit remembers of them: takes it back, or brings it back. Settled and painted frames stay. */
export async function swapFrameEdit(db: Knex, filmId: string, matteId: string, editId: string): Promise<void> {
  const remembered: FrameEditRow[] = await db<FrameEditRow>('matte_frame_edits').where({
    film_id: filmId,
    matte_id: matteId,
    edit_id: editId,
  });
  for (const other of remembered) {
    const current = (await frames(db, filmId, matteId).where({ frame: other.frame }).first()) as MatteFrameRow | undefined;
    if (current?.settled === 1 || current?.origin === 'hand') continue;
    await db<FrameEditRow>('matte_frame_edits')
      .where({ film_id: filmId, matte_id: matteId, edit_id: editId, frame: other.frame })
      .update(editableOf(current));
    if (other.origin === null) await frames(db, filmId, matteId).where({ frame: other.frame }).delete();
    else
      await db<MatteFrameRow>('matte_frames')
        .insert({
          film_id: filmId,
          matte_id: matteId,
          frame: other.frame,
          settled: 0,
          version: (current?.version ?? Date.now()) + 1,
          ...(Object.fromEntries(EDITABLE.map((k) => [k, other[k]])) as EditableRow),
        })
        .onConflict(['film_id', 'matte_id', 'frame'])
        .merge();
  }
}

export interface NewMatteFrame extends Omit<MatteFrame, 'version' | 'settled'> {
  readonly coverage: StoredCoverage;
}

/**
 * Stores one frame in place of what was there, unless that is settled, or painted and this one is not: work that was begun
 * before the hand came must not undo it. With `editId` what was there is remembered.
 * @throws AppError when the coverage is not of its size.
 */
export async function storeMatteFrame(db: Knex, filmId: string, matteId: string, made: NewMatteFrame, editId?: string): Promise<void> {
  const { width, height, data } = made.coverage;
  if (width * height !== data.length || data.length === 0) throw new AppError('bad-request', 'The coverage is not of the size it says.');
  const coverage = await pack(data, { level: 3 });
  await db.transaction(async (trx) => {
    const old = (await frames(trx, filmId, matteId).where({ frame: made.frame }).first()) as MatteFrameRow | undefined;
    if (old?.settled === 1 || (old?.origin === 'hand' && made.origin !== 'hand')) return;
    if (editId !== undefined) await rememberFrame(trx, editId, filmId, matteId, made.frame, old);
    // a correction keeps what it corrects, as long as that has the same size
    const corrects = made.origin === 'hand' && old !== undefined && old.width === width && old.height === height;
    const base = corrects ? (old.origin === 'carried' ? old.coverage : old.base) : null;
    const row = {
      film_id: filmId,
      matte_id: matteId,
      frame: made.frame,
      origin: made.origin,
      settled: 0 as const,
      confidence: made.confidence,
      doubt_x: made.doubt?.x ?? null,
      doubt_y: made.doubt?.y ?? null,
      made_from: made.madeFrom,
      width,
      height,
      version: (old?.version ?? Date.now()) + 1,
      coverage,
      base,
    };
    await trx<MatteFrameRow>('matte_frames').insert(row).onConflict(['film_id', 'matte_id', 'frame']).merge();
  });
  tellFilm(filmId, { kind: 'matte', matteId, frame: made.frame });
}

/** Takes frames away: those listed, or all that were carried and are not settled; with `editId` they are remembered. */
export async function removeMatteFrames(
  db: Knex,
  filmId: string,
  matteId: string,
  which: readonly number[] | 'carried',
  editId: string | null = null,
): Promise<void> {
  const query = (): Knex.QueryBuilder<MatteFrameRow> => {
    const open = frames(db, filmId, matteId).where({ settled: 0 });
    return which === 'carried' ? open.where({ origin: 'carried' }) : open.whereIn('frame', [...which]);
  };
  if (editId !== null)
    for (const row of (await query()) as MatteFrameRow[]) await rememberFrame(db, editId, filmId, matteId, row.frame, row);
  await query().delete();
  tellFilm(filmId, { kind: 'matte', matteId, frame: null });
}

/** Takes the hand off a frame: what had been carried there comes back, or the frame goes. */
export async function restoreMatteFrame(db: Knex, filmId: string, matteId: string, frame: number): Promise<void> {
  const row = (await frames(db, filmId, matteId).where({ frame }).first()) as MatteFrameRow | undefined;
  if (row?.base == null) return removeMatteFrames(db, filmId, matteId, [frame]);
  const carried = {
    origin: 'carried' as const,
    confidence: 0.5,
    doubt_x: null,
    doubt_y: null,
    made_from: '',
    coverage: row.base,
    base: null,
  };
  await frames(db, filmId, matteId)
    .where({ frame, settled: 0, origin: 'hand' })
    .update({ ...carried, version: row.version + 1 });
  tellFilm(filmId, { kind: 'matte', matteId, frame });
}

/** Those of `wanted` that are settled, rising. */
export async function settledFrames(db: Knex, filmId: string, matteId: string, wanted: readonly number[]): Promise<number[]> {
  const query = frames(db, filmId, matteId)
    .where({ settled: 1 })
    .whereIn('frame', [...wanted])
    .orderBy('frame');
  const rows = await query.select<{ frame: number }[]>('frame');
  return rows.map((r) => r.frame);
}

/** Settles all frames of a matte, or opens them again. */
export async function settleMatte(db: Knex, filmId: string, matteId: string, settled: boolean): Promise<void> {
  await frames(db, filmId, matteId).update({ settled: settled ? 1 : 0 });
  tellFilm(filmId, { kind: 'matte', matteId, frame: null });
}

/** Copies the frames of one matte to another. */
export async function copyMatteFrames(db: Knex, filmId: string, from: string, to: string): Promise<void> {
  const rows = (await frames(db, filmId, from)) as MatteFrameRow[];
  for (const row of rows)
    await db<MatteFrameRow>('matte_frames')
      .insert({ ...row, matte_id: to })
      .onConflict(['film_id', 'matte_id', 'frame'])
      .ignore();
  tellFilm(filmId, { kind: 'matte', matteId: to, frame: null });
}
