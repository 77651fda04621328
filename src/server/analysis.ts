import type { Knex } from 'knex';
import { setOutline } from '../core/film/edits';
import type { CarryOrder, FindEdgeOrder, FollowOrder } from '../core/film/job';
import { makeEdit } from '../core/film/history';
import { readyMedia, type MediumFacts } from '../core/film/media-facts';
import type { Image } from '../core/image/image';
import { blendMattes } from '../core/matte/blend';
import { crossingOutline } from '../core/matte/crossing-outline';
import { analysisSize, bytesOf, resized } from '../core/matte/resize-matte';
import type { StoredCoverage } from '../core/matte/stored-coverage';
import type { Plane } from '../core/image/plane';
import type { Corner } from '../core/track/plane-template';
import type { TrackFrame } from '../core/track/track';
import { AnalysisFrames } from './analysis-frames';
import { AnalysisWorker } from './analysis-worker';
import { carryFrames, type CarriedFrame } from './carry-frames';
import { CROSSING_FRAMES, CROSSING_WIDTH } from './crossing-frames';
import { mediumFile } from './data-folder';
import { AppError } from './errors';
import { loadFilm } from './films';
import { listMatteFrames, loadCoverage, newFrameEdit, storeMatteFrame } from './matte-frames';
import { editFilm, noteFrames } from './server-edits';
import { listMedia, probeOf } from './media';

type Progress = (fraction: number) => void;

/** The worker thread of one job and the frames it looks at. */
class Analysis extends AnalysisWorker {
  readonly frames: AnalysisFrames;

  constructor(frames: AnalysisFrames, signal: AbortSignal) {
    super(signal);
    this.frames = frames;
  }

  /** A copy, since what goes to the worker is lost here. */
  async picture(frame: number): Promise<Image> {
    const { width, height, data } = await this.frames.frame(frame);
    return { width, height, data: data.slice() };
  }

  override async close(): Promise<void> {
    this.frames.close();
    await super.close();
  }
}

function readyMedium(all: Parameters<typeof readyMedia>[0], mediumId: string): MediumFacts {
  const medium = readyMedia(all).get(mediumId);
  if (medium === undefined) throw new AppError('bad-request', 'The medium is not ready.');
  return medium;
}

async function openAnalysis(
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
  const frames = new AnalysisFrames(mediumFile(mediumId, 'original'), await probeOf(db, mediumId), size.width, size.height);
  return { analysis: new Analysis(frames, signal), medium };
}

const planeOf = ({ width, height, data }: StoredCoverage): Plane => ({ width, height, data: Float32Array.from(data, (v) => v / 255) });

/**
 * Carries a matte from a frame that has one, storing every frame as it comes. Painted frames on the way and at the other
 * end are carried back from as well, and both meet in a blend. With an `editId` the whole
 * is an edit of the film, to be taken back or brought back.
 */
export async function runCarry(
  db: Knex,
  filmId: string,
  order: CarryOrder,
  signal: AbortSignal,
  onProgress: Progress,
  editId: string | null = newFrameEdit(),
): Promise<void> {
  const { film } = await loadFilm(db, filmId);
  const matte = film.mattes.find((m) => m.id === order.matteId);
  if (matte === undefined) throw new AppError('not-found', 'The matte is gone.');
  const medium = readyMedium(await listMedia(db, filmId), matte.mediumId);
  const path = mediumFile(matte.mediumId, 'original');
  const probe = await probeOf(db, matte.mediumId);
  const { width, height } = analysisSize(medium.width, medium.height);
  const to = Math.max(0, Math.min(medium.frames - 1, order.to));
  const known = await listMatteFrames(db, filmId, matte.id);
  const spans = spansBetween(order.from, to, new Set(known.filter((f) => f.origin === 'hand').map((f) => f.frame)));
  const carry = async function* (from: number, end: number): AsyncGenerator<CarriedFrame> {
    const start = await loadCoverage(db, filmId, matte.id, from);
    if (start === null) throw new AppError('bad-request', `Frame ${from} of ${matte.name} has no matte to carry on from.`);
    yield* carryFrames({ path, probe, alpha: resized(planeOf(start), width, height), from, to: end }, signal);
  };
  const all = spans.reduce((sum, s) => sum + s.steps * (s.meets ? 2 : 1), 0);
  let done = 0;
  const store = async ({ frame, confidence, doubt }: CarriedFrame, data: Uint8Array): Promise<void> => {
    const scale = medium.width / width;
    const place = doubt === null ? null : { x: (doubt.x - width / 2) * scale, y: (doubt.y - height / 2) * scale };
    const coverage = { width, height, data };
    await storeMatteFrame(db, filmId, matte.id, { frame, origin: 'carried', confidence, doubt: place, madeFrom: '', coverage }, editId);
    onProgress(++done / all);
  };
  try {
    for (const { from, end, steps, meets } of spans) {
      const direction = Math.sign(end - from);
      const last = meets ? end - direction : end;
      for await (const carried of carry(from, last)) await store(carried, carried.coverage);
      if (!meets) continue;
      for await (const carried of carry(end, from + direction)) {
        const first = (await loadCoverage(db, filmId, matte.id, carried.frame))!;
        const share = Math.abs(carried.frame - from) / (steps + 1);
        const blended = blendMattes(planeOf(first), planeOf({ width, height, data: carried.coverage }), share);
        await store(carried, bytesOf(blended));
      }
    }
  } finally {
    // what was carried before a stop can be taken back as well
    if (editId !== null) await noteFrames(db, filmId, matte.id, editId, (name) => `Carried ${name}`);
  }
}

interface CarrySpan {
  readonly from: number;
  /** Last frame to carry to or, where it `meets` a painted one, that frame. */
  readonly end: number;
  /** Frames to be carried. */
  readonly steps: number;
  readonly meets: boolean;
}

/** The way between two frames, parted at the painted ones; spans without a frame to carry are left out. */
function spansBetween(from: number, to: number, painted: ReadonlySet<number>): CarrySpan[] {
  const spans: CarrySpan[] = [];
  const direction = Math.sign(to - from);
  for (let start = from, at = from; at !== to;) {
    at += direction;
    const meets = painted.has(at);
    if (!meets && at !== to) continue;
    const steps = Math.abs(at - start) - (meets ? 1 : 0);
    if (steps > 0) spans.push({ from: start, end: at, steps, meets });
    start = at;
  }
  return spans;
}

/** Follows a track from each of its keys to the next, and from the outer ones to the ends; stores it as an edit. */
export async function runFollow(db: Knex, filmId: string, order: FollowOrder, signal: AbortSignal, onProgress: Progress): Promise<void> {
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
    const runs = keys.flatMap((key, i) => [
      { key, end: keys[i + 1] === undefined ? last : keys[i + 1]!.frame - 1 },
      ...(i === 0 ? [{ key, end: first }] : []),
    ]);
    for (const { key, end } of runs) {
      const direction = Math.sign(end - key.frame);
      if (direction === 0) continue;
      await analysis.ask({
        kind: 'follow',
        picture: await analysis.picture(key.frame),
        corners: key.corners.map(inward),
        model: track.model,
      });
      for (let frame = key.frame + direction; frame !== end + direction; frame += direction) {
        const reply = await analysis.ask({ kind: 'step', picture: await analysis.picture(frame) });
        if (reply.kind !== 'followed') throw new Error('the analysis answered something else');
        found.set(frame, { frame, corners: reply.region.corners.map(outward), confidence: reply.region.confidence });
        onProgress(++done / Math.max(1, last - first));
      }
    }
  } finally {
    await analysis.close();
    // what was found before a stop is kept
    if (done > 0) await keepTrack(db, filmId, order.trackId, [...found.values()]);
  }
}

/** Finds what crosses the picture and makes a matte's outline follow its trailing edge; stores it as an edit. */
export async function runFindEdge(
  db: Knex,
  filmId: string,
  order: FindEdgeOrder,
  signal: AbortSignal,
  onProgress: Progress,
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
        'Nothing was found that crosses the picture and leaves it free again. Draw its trailing edge by hand, or choose a frame nearer to the pass.',
      );
    const { width, height } = analysis.frames;
    const length = crossing.direction === 'left' || crossing.direction === 'right' ? width : height;
    const outline = crossingOutline(crossing, length, first, medium.width, medium.height);
    const media = readyMedia(await listMedia(db, filmId));
    await editFilm(db, filmId, (now) =>
      now.mattes.some((m) => m.id === matte.id)
        ? makeEdit(now, 'Found the trailing edge', (draft) => {
            setOutline(draft, media, matte.id, outline);
            const found = draft.mattes.find((m) => m.id === matte.id)!;
            delete found.trackId;
            if (crossing.covered === null) delete found.coversFrame;
            else found.coversFrame = { from: first + crossing.covered.from, to: first + crossing.covered.to };
          })
        : null,
    );
  } finally {
    await analysis.close();
  }
}

async function keepTrack(db: Knex, filmId: string, trackId: string, frames: TrackFrame[]): Promise<void> {
  frames.sort((a, b) => a.frame - b.frame);
  await editFilm(db, filmId, (film) => {
    const index = film.tracks?.findIndex((t) => t.id === trackId) ?? -1;
    if (index < 0) return null;
    return makeEdit(film, `Followed ${film.tracks![index]!.name}`, (draft) => {
      draft.tracks![index]!.frames = frames.map((f) => ({ ...f, corners: f.corners.map(([x, y]) => [x, y] as [number, number]) }));
    });
  });
}
