import type { Knex } from 'knex';
import type { SmoothOrder } from '../../core/film/job';
import { planeOf, resized } from '../../core/matte/coverage/resize';
import { openAnalysis, type Progress } from './analysis';
import { AppError } from '../base/errors';
import { loadFilm } from '../films/films';
import { listMatteFrames, loadCoverage, storeMatteFrame } from '../films/matte-frames';
import { newFrameEdit, noteFrames, type FrameEdit } from '../films/server-edits';

/**
 * Takes jitter out of the stored frames of a matte between two frames, both included. Painted and settled frames have
 * their say in their neighbours and stay as they are. The whole is an edit of the film under `as`.
 */
export async function runSmooth(
  db: Knex,
  filmId: string,
  order: SmoothOrder,
  signal: AbortSignal,
  onProgress: Progress,
  as: FrameEdit = newFrameEdit(),
): Promise<void> {
  const { film } = await loadFilm(db, filmId);
  const matte = film.mattes.find((m) => m.id === order.matteId);
  if (matte === undefined) throw new AppError('not-found', 'The matte is gone.');
  const known = (await listMatteFrames(db, filmId, matte.id)).filter((f) => f.frame >= order.first && f.frame <= order.last);
  if (known.length < 2) throw new AppError('bad-request', `${matte.name} has too few frames here to smooth over time; carry it first.`);
  const { analysis } = await openAnalysis(db, filmId, matte.mediumId, signal);
  const { width, height } = analysis.frames;
  const ask = async (request: Parameters<typeof analysis.ask>[0]): Promise<Uint8Array | null> => {
    const reply = await analysis.ask(request);
    if (reply.kind !== 'smoothed') throw new Error('the analysis answered something else');
    return reply.coverage;
  };
  let done = 0;
  const keep = async (index: number, data: Uint8Array | null): Promise<void> => {
    const { frame, origin, confidence, doubt } = known[index]!;
    if (data !== null && origin === 'carried')
      await storeMatteFrame(
        db,
        filmId,
        matte.id,
        { frame, origin, confidence, doubt, madeFrom: '', coverage: { width, height, data } },
        as.editId,
      );
    onProgress(++done / known.length);
  };
  try {
    await analysis.ask({ kind: 'begin smoothing', strength: order.strength });
    for (let i = 0; i < known.length; i++) {
      const { frame } = known[i]!;
      const follows = i > 0 && known[i - 1]!.frame === frame - 1;
      // a gap ends one run and begins another
      if (i > 0 && !follows) await keep(i - 1, await ask({ kind: 'end smoothing' }));
      const alpha = resized(planeOf((await loadCoverage(db, filmId, matte.id, frame))!), width, height);
      const before = await ask({ kind: 'smooth', picture: await analysis.picture(frame), alpha });
      if (follows) await keep(i - 1, before);
    }
    await keep(known.length - 1, await ask({ kind: 'end smoothing' }));
  } finally {
    await analysis.close();
    await noteFrames(db, filmId, matte.id, as, (name) => `Smoothed ${name} over time`);
  }
}
