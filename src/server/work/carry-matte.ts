import type { Knex } from 'knex';
import type { CarryOrder } from '../../core/film/job';
import { blendMattes } from '../../core/matte/carry/meet';
import { analysisSize, bytesOf, planeOf, resized } from '../../core/matte/coverage/resize';
import { readyMedium, type Progress } from './analysis';
import { carryFrames, type CarriedFrame } from './carry-frames';
import { AppError } from '../base/errors';
import { loadFilm } from '../films/films';
import { listMatteFrames, loadCoverage, storeMatteFrame } from '../films/matte-frames';
import { listMedia, pictureFileOf } from '../media/media';
import { newFrameEdit, noteFrames, type FrameEdit } from '../films/server-edits';

/**
 * Carries a matte from a frame that has one, storing every frame as it comes. Painted frames on the way and at the other
 * end are carried back from as well, and both meet in a blend. With `as` the whole
 * is an edit of the film, to be taken back or brought back.
 */
export async function runCarry(
  db: Knex,
  filmId: string,
  order: CarryOrder,
  signal: AbortSignal,
  onProgress: Progress,
  as: FrameEdit | null = newFrameEdit(),
): Promise<void> {
  const { film } = await loadFilm(db, filmId);
  const matte = film.mattes.find((m) => m.id === order.matteId);
  if (matte === undefined) throw new AppError('not-found', 'The matte is gone.');
  const medium = readyMedium(await listMedia(db, filmId), matte.mediumId);
  const { path, probe } = await pictureFileOf(db, matte.mediumId);
  const { width, height } = analysisSize(medium.width, medium.height);
  const to = Math.max(0, Math.min(medium.frames - 1, order.to));
  const known = await listMatteFrames(db, filmId, matte.id);
  const hasHair = matte.painted?.some((p) => p.hair !== undefined) ?? false;
  const spans = spansBetween(order.from, to, new Set(known.filter((f) => f.origin === 'hand').map((f) => f.frame)));
  const carry = async function* (from: number, end: number): AsyncGenerator<CarriedFrame> {
    const start = await loadCoverage(db, filmId, matte.id, from);
    if (start === null) throw new AppError('bad-request', `Frame ${from} of ${matte.name} has no matte to carry on from.`);
    const next = end + Math.sign(end - from);
    const beyond = next >= 0 && next < medium.frames ? next : null;
    yield* carryFrames({ path, probe, alpha: resized(planeOf(start), width, height), hasHair, from, to: end, beyond }, signal);
  };
  const all = spans.reduce((sum, s) => sum + s.steps * (s.meets ? 2 : 1), 0);
  let done = 0;
  const store = async ({ frame, confidence, doubt }: CarriedFrame, data: Uint8Array): Promise<void> => {
    const scale = medium.width / width;
    const place = doubt === null ? null : { x: (doubt.x - width / 2) * scale, y: (doubt.y - height / 2) * scale };
    const coverage = { width, height, data };
    await storeMatteFrame(db, filmId, matte.id, { frame, origin: 'carried', confidence, doubt: place, madeFrom: '', coverage }, as?.editId);
  };
  const carriedOn = (): void => onProgress(++done / all);
  try {
    for (const { from, end, steps, meets } of spans) {
      const direction = Math.sign(end - from);
      const last = meets ? end - direction : end;
      // both ways at once, each on a core of its own
      const back = meets ? underway(carry(end, from + direction), steps * width * height, carriedOn) : null;
      try {
        for await (const carried of carry(from, last)) {
          await store(carried, carried.coverage);
          carriedOn();
        }
      } finally {
        await back?.ended;
      }
      if (back === null) continue;
      for await (const carried of back.frames()) {
        const first = (await loadCoverage(db, filmId, matte.id, carried.frame))!;
        const share = Math.abs(carried.frame - from) / (steps + 1);
        const blended = blendMattes(planeOf(first), planeOf({ width, height, data: carried.coverage }), share);
        await store(carried, bytesOf(blended));
      }
    }
  } finally {
    // what was carried before a stop can be taken back as well
    if (as !== null) await noteFrames(db, filmId, matte.id, as, (name) => `Carried ${name}`);
  }
}

/** What is carried back from a painted frame is kept until the way there is done, as long as it fits in this. */
const MOST_KEPT_BYTES = 256 * 2 ** 20;

/** Frames that are carried while others are, kept until they are asked for; those that would take too much room only then. */
function underway(
  carried: AsyncGenerator<CarriedFrame>,
  bytes: number,
  onCarried: () => void,
): { readonly ended: Promise<unknown>; frames(): AsyncGenerator<CarriedFrame> } {
  const counted = async function* (): AsyncGenerator<CarriedFrame> {
    for await (const frame of carried) {
      onCarried();
      yield frame;
    }
  };
  if (bytes > MOST_KEPT_BYTES) return { ended: Promise.resolve(), frames: counted };
  const kept: CarriedFrame[] = [];
  const all = (async () => {
    for await (const frame of counted()) kept.push(frame);
  })();
  return {
    ended: all.catch(() => undefined), // told when its frames are asked for
    async *frames() {
      await all.catch(() => undefined);
      // stopped: what is made already is not lost
      yield* kept;
      await all;
    },
  };
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
