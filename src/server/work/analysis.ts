import type { Knex } from 'knex';
import { setOutlineAndFit } from '../../core/recipes/wipe-past/wipe-past';
import type { FindEdgeOrder, FollowOrder } from '../../core/film/job';
import { makeEdit } from '../../core/film/history';
import { readyMedia, type MediumFacts } from '../../core/film/media-facts';
import { copyImage } from '../../core/image/image';
import type { Image } from '../../core/image/pixels';
import { crossingOutline } from '../../core/matte/outline/crossing-outline';
import { analysisSize } from '../../core/matte/coverage/resize';
import { bridgeHidden, meetBetweenKeys } from '../../core/track/hidden-frames';
import { isFollowable, type Corner } from '../../core/track/plane-template';
import { centreOf, type TrackFrame, type TrackKey } from '../../core/track/track';
import { AnalysisFrames } from '../video/analysis-frames';
import { AnalysisWorker } from './analysis-worker';
import { CROSSING_FRAMES, CROSSING_WIDTH } from './crossing-frames';
import { AppError } from '../base/errors';
import { loadFilm } from '../films/films';
import { BY_NO_ONE, type Asked } from '../films/film-edits';
import { editFilm } from '../films/server-edits';
import { listMedia, pictureFileOf } from '../media/media';

export type Progress = (fraction: number) => void;

/** The worker thread of one job and the frames it looks at. */
class Analysis extends AnalysisWorker {
  readonly frames: AnalysisFrames;

  constructor(frames: AnalysisFrames, signal: AbortSignal) {
    super(signal);
    this.frames = frames;
  }

  /** A copy, since what goes to the worker is lost here. */
  async picture(frame: number): Promise<Image> {
    return copyImage(await this.frames.frame(frame));
  }

  override async close(): Promise<void> {
    this.frames.close();
    await super.close();
  }
}

/** @throws AppError while the medium is not there or not ready */
export function readyMedium(all: Parameters<typeof readyMedia>[0], mediumId: string): MediumFacts {
  const medium = readyMedia(all).get(mediumId);
  if (medium === undefined) throw new AppError('bad-request', 'The media is not ready.');
  return medium;
}

/** A worker for one job and the frames of a medium at analysis size, at most `mostWidth` wide. */
export async function openAnalysis(
  db: Knex,
  filmId: string,
  mediumId: string,
  signal: AbortSignal,
  mostWidth = Infinity,
): Promise<{ analysis: Analysis; medium: MediumFacts }> {
  const medium = readyMedium(await listMedia(db, filmId), mediumId);
  const full = analysisSize(medium.width, medium.height);
  const share = Math.min(1, mostWidth / full.width);
  const size = { width: Math.round(full.width * share), height: Math.round(full.height * share) };
  const frames = new AnalysisFrames(await pictureFileOf(db, mediumId), size.width, size.height);
  return { analysis: new Analysis(frames, signal), medium };
}

/**
 * Follows a track between its keys from both of them, and from the outer ones to the ends, and bridges what was hidden; stores it
 * as an edit.
 */
export async function runFollow(
  db: Knex,
  filmId: string,
  order: FollowOrder,
  signal: AbortSignal,
  onProgress: Progress,
  asked = BY_NO_ONE,
): Promise<void> {
  const { film } = await loadFilm(db, filmId);
  const track = film.tracks?.find((t) => t.id === order.trackId);
  if (track === undefined) throw new AppError('not-found', 'The track is gone.');
  const { analysis, medium } = await openAnalysis(db, filmId, track.mediumId, signal);
  const found = new Map<number, TrackFrame>(track.frames.map((f) => [f.frame, f]));
  const { width, height } = analysis.frames;
  const scale = width / medium.width;
  const inward = ([x, y]: Corner): Corner => [x * scale + width / 2, y * scale + height / 2];
  const outward = ([x, y]: Corner): Corner => [(x - width / 2) / scale, (y - height / 2) / scale];
  const first = Math.max(0, order.first);
  const last = Math.min(medium.frames - 1, order.last);
  let done = 0;
  try {
    const keys = track.keys.filter((k) => k.frame >= first && k.frame <= last);
    if (keys.length === 0) throw new AppError('bad-request', `${track.name} has no region on these frames; draw one first.`);
    const between = keys.slice(1).reduce((sum, key, i) => sum + key.frame - keys[i]!.frame - 1, 0);
    const all = Math.max(1, last - first - keys.length + 1 + between);
    /** The frames after `key` up to but not `end`, whichever way that lies; a stop keeps those found so far. */
    const follow = async (key: TrackKey, end: number, keep: (found: TrackFrame) => void): Promise<void> => {
      const direction = Math.sign(end - key.frame);
      if (Math.abs(end - key.frame) <= 1) return;
      const corners = key.corners.map(inward);
      if (track.model !== 'position' && !isFollowable(corners, width, height))
        throw new AppError('bad-request', `${track.name} holds almost nothing of the picture on frame ${key.frame}; make it larger there.`);
      await analysis.ask({
        kind: 'follow',
        picture: await analysis.picture(key.frame),
        corners,
        model: track.model,
      });
      for (let frame = key.frame + direction; frame !== end; frame += direction) {
        const reply = await analysis.ask({ kind: 'step', picture: await analysis.picture(frame) });
        if (reply.kind !== 'followed') throw new Error('the analysis answered something else');
        const there = reply.region.corners.map(outward);
        const kept = track.model === 'position' ? movedTo(key.corners, centreOf(there)) : there;
        keep({ frame, corners: kept, confidence: reply.region.confidence });
        onProgress(++done / all);
      }
    };
    const store = (frame: TrackFrame): void => void found.set(frame.frame, frame);
    for (const [i, key] of keys.entries()) {
      const next = keys[i + 1];
      await follow(key, next?.frame ?? last + 1, store);
      if (i === 0) await follow(key, first - 1, store);
      if (next === undefined) continue;
      const onward: TrackFrame[] = [];
      for (let frame = key.frame + 1; frame < next.frame; frame++) onward.push(found.get(frame)!);
      const back: TrackFrame[] = [];
      await follow(next, key.frame, (frame) => void back.unshift(frame));
      meetBetweenKeys(onward, back).forEach(store);
    }
    for (const key of keys) store({ ...key, confidence: 1 });
    const frames: TrackFrame[] = [];
    for (let frame = first; frame <= last; frame++) frames.push(found.get(frame)!);
    bridgeHidden(frames).forEach(store);
    for (const key of keys) found.delete(key.frame);
  } finally {
    await analysis.close();
    // what was found before a stop is kept
    if (done > 0) await keepTrack(db, filmId, asked, order.trackId, [...found.values()]);
  }
}

/** The corners as they are, their centre at `to`. */
function movedTo(corners: readonly Corner[], to: Corner): Corner[] {
  const [x, y] = centreOf(corners);
  return corners.map(([a, b]) => [a + to[0] - x, b + to[1] - y]);
}

/** Finds what crosses the picture and makes a matte's outline follow its trailing edge; stores it as an edit. */
export async function runFindEdge(
  db: Knex,
  filmId: string,
  order: FindEdgeOrder,
  signal: AbortSignal,
  onProgress: Progress,
  asked = BY_NO_ONE,
): Promise<void> {
  const { film } = await loadFilm(db, filmId);
  const matte = film.mattes.find((m) => m.id === order.matteId);
  if (matte === undefined) throw new AppError('not-found', 'The matte is gone.');
  const { analysis, medium } = await openAnalysis(db, filmId, matte.mediumId, signal, CROSSING_WIDTH);
  try {
    const first = Math.max(0, order.first);
    const last = Math.min(medium.frames - 1, order.last, first + CROSSING_FRAMES - 1);
    if (last - first < 2) throw new AppError('bad-request', 'There are too few frames here to find anything that crosses them.');
    const pictures: Image[] = [];
    for (let frame = first; frame <= last; frame++) {
      signal.throwIfAborted();
      pictures.push(await analysis.picture(frame));
      onProgress((0.5 * pictures.length) / (last - first + 1));
    }
    const reply = await analysis.ask({ kind: 'crossing', pictures });
    if (reply.kind !== 'crossed') throw new Error('the analysis answered something else');
    const { crossing } = reply;
    if (crossing === null)
      throw new AppError(
        'bad-request',
        'Nothing was found that crosses the picture and leaves it free again. Draw its trailing edge, or go to a frame nearer to the pass.',
      );
    const { width, height } = analysis.frames;
    const length = crossing.direction === 'left' || crossing.direction === 'right' ? width : height;
    const outline = crossingOutline(crossing, length, first, medium.width, medium.height);
    const media = readyMedia(await listMedia(db, filmId));
    await editFilm(db, filmId, asked, (now) =>
      now.mattes.some((m) => m.id === matte.id)
        ? makeEdit(now, 'Found the trailing edge', (draft) => {
            setOutlineAndFit(draft, media, matte.id, outline);
            const found = draft.mattes.find((m) => m.id === matte.id)!;
            delete found.trackId;
            found.coversFrame = crossing.covered === null ? null : { from: first + crossing.covered.from, to: first + crossing.covered.to };
          })
        : null,
    );
  } finally {
    await analysis.close();
  }
}

async function keepTrack(db: Knex, filmId: string, asked: Asked, trackId: string, frames: TrackFrame[]): Promise<void> {
  frames.sort((a, b) => a.frame - b.frame);
  await editFilm(db, filmId, asked, (film) => {
    const index = film.tracks?.findIndex((t) => t.id === trackId) ?? -1;
    if (index < 0) return null;
    return makeEdit(film, `Followed ${film.tracks![index]!.name}`, (draft) => {
      draft.tracks![index]!.frames = frames.map((f) => ({ ...f, corners: f.corners.map(([x, y]) => [x, y] as [number, number]) }));
    });
  });
}
