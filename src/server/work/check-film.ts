import type { Knex } from 'knex';
import { checkJoin } from '../../core/check/join';
import { coveragePlan, EmptinessMeter } from '../../core/check/coverage';
import type { Finding } from '../../core/check/finding';
import { FrameLooker, lookPlans, picturesToLook, plansToLook, type FrameLook } from '../../core/check/look';
import { framesToCover, framesToLook } from '../../core/check/frames';
import type { Film, Media } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import type { Image } from '../../core/image/pixels';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import type { FramePlan, PictureRef } from '../../core/plan/frame-plan';
import { coverageKey, keyedPictures, needsOf, pictureKey } from '../../core/plan/plan-needs';
import type { PictureSource } from '../../core/render/compositor';
import { AnalysisFrames } from '../video/analysis-frames';
import { loadCoverage } from '../films/matte-frames';
import { pictureFileOf } from '../media/media';

/** The width at which keyed pictures are looked at. */
const LOOK_WIDTH = 480;

/** Checks a join of a film as it is stored, with the mattes it has and the pictures its keys look at. */
export async function checkStoredJoin(db: Knex, filmId: string, film: Film, media: Media, placed: PlacedJoin): Promise<Finding[]> {
  const meter = new EmptinessMeter(film);
  const readers = new Map<string, AnalysisFrames>();
  const readerOf = async (mediumId: string): Promise<AnalysisFrames> => {
    const { width, height } = media.get(mediumId)!;
    const across = Math.min(LOOK_WIDTH, width);
    const known = readers.get(mediumId);
    if (known !== undefined) return known;
    const size = [across, Math.max(1, Math.round((across * height) / width))] as const;
    const reader = new AnalysisFrames(await pictureFileOf(db, mediumId), ...size);
    readers.set(mediumId, reader);
    return reader;
  };
  const picturesOf = async (refs: readonly PictureRef[]): Promise<PictureSource> => {
    const pictures = new Map<string, Image>();
    for (const ref of refs)
      if (!pictures.has(pictureKey(ref))) pictures.set(pictureKey(ref), await (await readerOf(ref.mediumId)).frame(ref.frame));
    return (ref) => pictures.get(pictureKey(ref)) ?? null;
  };
  try {
    const shares: number[] = [];
    for (const frame of framesToCover(film, media, placed)) {
      const plan = coveragePlan(film, media, frame);
      const pictures = await picturesOf(keyedPictures(plan));
      const coverages = await coveragesOf(db, filmId, plan);
      shares.push(meter.measure(plan, pictures, (matte) => coverages.get(coverageKey(matte)) ?? null));
    }
    const looker = new FrameLooker(film);
    const looks: (FrameLook | null)[] = [];
    for (const frame of framesToLook(film, placed)) {
      if (frame === null) {
        looks.push(null);
        continue;
      }
      const plans = lookPlans(film, media, placed, frame);
      const pictures = await picturesOf(picturesToLook(plans));
      const stored = await Promise.all(plansToLook(plans).map((plan) => coveragesOf(db, filmId, plan)));
      looks.push(
        looker.look(plans, pictures, (matte) => {
          const key = coverageKey(matte);
          return stored.find((s) => s.has(key))?.get(key) ?? null;
        }),
      );
    }
    return checkJoin(film, media, placed, shares, looks);
  } finally {
    for (const reader of readers.values()) reader.close();
  }
}

async function coveragesOf(db: Knex, filmId: string, plan: FramePlan): Promise<Map<string, StoredCoverage>> {
  const found = new Map<string, StoredCoverage>();
  for (const [key, { matteId, frame }] of needsOf(plan).coverages) {
    const stored = await loadCoverage(db, filmId, matteId, frame);
    if (stored !== null) found.set(key, stored);
  }
  return found;
}
