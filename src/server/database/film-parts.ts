import type { Knex } from 'knex';
import type { Film, FrameStrokes, Matte } from '../../core/film/film';
import type { Stroke } from '../../core/matte/cut/strokes';
import type { Track, TrackFrame } from '../../core/track/track';

// What grows without end lies in tables of its own, so that a change of it writes only what it changed, and the film's
// document stays small: the strokes of painted mattes, and the frames of tracks.

const LISTS = ['keep', 'drop', 'hair', 'touches'] as const;
type List = (typeof LISTS)[number];

interface StrokeRow {
  film_id: string;
  matte_id: string;
  frame: number;
  list: List;
  place: number;
  stroke: string;
}

interface TrackFrameRow {
  film_id: string;
  track_id: string;
  frame: number;
  corners: string;
  confidence: number;
}

/** Rows written by one statement; SQLite takes a limited number of values. */
const CHUNK = 100;

/** The film as its document holds it: painted frames without their strokes, tracks without their frames. */
export function withoutParts(film: Film): Film {
  const mattes = film.mattes.map((m) =>
    m.painted === undefined ? m : { ...m, painted: m.painted.map(({ frame }) => ({ frame, keep: [], drop: [] })) },
  );
  const tracks = film.tracks?.map((t) => ({ ...t, frames: [] }));
  return tracks === undefined ? { ...film, mattes } : { ...film, mattes, tracks };
}

/** The whole film of its document and what lies beside it. */
export async function withParts(db: Knex, filmId: string, document: Film): Promise<Film> {
  const strokes = await db<StrokeRow>('strokes').where({ film_id: filmId }).orderBy(['matte_id', 'frame', 'list', 'place']);
  const frames = await db<TrackFrameRow>('track_frames').where({ film_id: filmId }).orderBy(['track_id', 'frame']);
  const painted = new Map<string, Partial<Record<List, Stroke[]>>>();
  for (const { matte_id, frame, list, stroke } of strokes) {
    const key = `${matte_id}:${frame}`;
    const lists = painted.get(key) ?? {};
    (lists[list] ??= []).push(JSON.parse(stroke) as Stroke);
    painted.set(key, lists);
  }
  const followed = new Map<string, TrackFrame[]>();
  for (const { track_id, frame, corners, confidence } of frames) {
    const known = followed.get(track_id) ?? [];
    known.push({ frame, corners: JSON.parse(corners) as TrackFrame['corners'], confidence });
    followed.set(track_id, known);
  }
  const mattes = document.mattes.map((m): Matte =>
    m.painted === undefined
      ? m
      : { ...m, painted: m.painted.map((p): FrameStrokes => ({ ...p, ...(painted.get(`${m.id}:${p.frame}`) as Partial<FrameStrokes>) })) },
  );
  const tracks = document.tracks?.map((t): Track => ({ ...t, frames: followed.get(t.id) ?? [] }));
  return tracks === undefined ? { ...document, mattes } : { ...document, mattes, tracks };
}

/** Stores what lies beside the document of `after`; only what it does not share with `before`, the film as it is stored. */
export async function storeParts(db: Knex, filmId: string, before: Film | null, after: Film): Promise<void> {
  await storeStrokes(db, filmId, before, after);
  await storeTrackFrames(db, filmId, before, after);
}

type PaintedFrame = readonly [matteId: string, frame: number, strokes: FrameStrokes];

const paintedFrames = (film: Film | null): Map<string, PaintedFrame> =>
  new Map(
    (film?.mattes ?? []).flatMap((m) => (m.painted ?? []).map((p): [string, PaintedFrame] => [`${m.id}:${p.frame}`, [m.id, p.frame, p]])),
  );

async function storeStrokes(db: Knex, filmId: string, before: Film | null, after: Film): Promise<void> {
  const had = paintedFrames(before);
  const has = paintedFrames(after);
  const rows: StrokeRow[] = [];
  for (const [key, [matte_id, frame]] of had) if (!has.has(key)) await db('strokes').where({ film_id: filmId, matte_id, frame }).delete();
  for (const [key, [matte_id, frame, strokes]] of has) {
    const old = had.get(key)?.[2];
    if (old === strokes) continue;
    for (const list of LISTS) {
      const [was, is] = [old?.[list] ?? [], strokes[list] ?? []];
      let same = 0;
      while (same < was.length && same < is.length && was[same] === is[same]) same++;
      if (was.length > same) await db('strokes').where({ film_id: filmId, matte_id, frame, list }).where('place', '>=', same).delete();
      for (let place = same; place < is.length; place++)
        rows.push({ film_id: filmId, matte_id, frame, list, place, stroke: JSON.stringify(is[place]) });
    }
  }
  await db.batchInsert('strokes', rows, CHUNK);
}

async function storeTrackFrames(db: Knex, filmId: string, before: Film | null, after: Film): Promise<void> {
  const rows: TrackFrameRow[] = [];
  const had = new Map((before?.tracks ?? []).map((t) => [t.id, t.frames]));
  for (const { id: track_id, frames } of after.tracks ?? []) {
    const was = had.get(track_id) ?? [];
    had.delete(track_id);
    if (was === frames) continue;
    const known = new Set(was);
    const wanted = new Set(frames);
    const gone = was.filter((f) => !wanted.has(f)).map((f) => f.frame);
    for (let i = 0; i < gone.length; i += CHUNK)
      await db('track_frames')
        .where({ film_id: filmId, track_id })
        .whereIn('frame', gone.slice(i, i + CHUNK))
        .delete();
    for (const f of frames)
      if (!known.has(f))
        rows.push({ film_id: filmId, track_id, frame: f.frame, corners: JSON.stringify(f.corners), confidence: f.confidence });
  }
  for (const track_id of had.keys()) await db('track_frames').where({ film_id: filmId, track_id }).delete();
  await db.batchInsert('track_frames', rows, CHUNK);
}
