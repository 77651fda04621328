import { copyImage } from '../../core/image/image';
import type { Image, Plane } from '../../core/image/pixels';
import { carrySize } from '../../core/matte/coverage/resize';
import { AnalysisFrames } from '../video/analysis-frames';
import { AnalysisWorker } from './analysis-worker';
import type { Probe } from '../video/ffmpeg';

export interface CarryRun {
  readonly path: string;
  readonly probe: Probe;
  /** The matte on frame `from`; the carried ones get its size. */
  readonly alpha: Plane;
  /** Whether what it covers in part is hair, to be told from colour on every frame. */
  readonly hasHair?: boolean;
  readonly from: number;
  /** Last frame to carry to; before `from` to carry backwards. */
  readonly to: number;
  /** The frame after `to` in the direction of travel; null where the video has none. It tells what has come into view on `to`. */
  readonly beyond: number | null;
}

export interface CarriedFrame {
  readonly frame: number;
  readonly coverage: Uint8Array;
  readonly confidence: number;
  /** In pixels of the coverage. */
  readonly doubt: { readonly x: number; readonly y: number } | null;
}

/**
 * Carries a matte through a video in a worker thread, frame by frame from the one after `from` to `to`. It is carried on a
 * small picture and gets its edge's detail from one of the size asked for; the next frame is decoded meanwhile. A frame
 * comes when the one after it has been looked at, or when there is none.
 * @throws AppError when the video ends too early, or the abort's reason
 */
export async function* carryFrames(
  { path, probe, alpha, hasHair = false, from, to, beyond }: CarryRun,
  signal: AbortSignal,
): AsyncGenerator<CarriedFrame> {
  const size = carrySize(alpha);
  const frames = new AnalysisFrames({ path, probe }, size.width, size.height);
  const details = size.width === alpha.width ? null : new AnalysisFrames({ path, probe }, alpha.width, alpha.height);
  const worker = new AnalysisWorker(signal);
  const direction = Math.sign(to - from);
  // copies, since what goes to a worker is lost here
  const read = async (n: number): Promise<{ picture: Image; detail?: Image }> => {
    const [picture, detail] = await Promise.all([frames.frame(n), details?.frame(n)]);
    return detail === undefined ? { picture: copyImage(picture) } : { picture: copyImage(picture), detail: copyImage(detail) };
  };
  const readAhead = (n: number): ReturnType<typeof read> | null => {
    if (n === to + direction) return null;
    const reading = read(n);
    reading.catch(() => null); // told when it is awaited
    return reading;
  };
  let last: CarriedFrame | null = null;
  try {
    await worker.ask({ kind: 'carry', picture: copyImage(await frames.frame(from)), alpha, hasHair });
    for (let frame = from + direction, coming = readAhead(frame); coming !== null; frame += direction) {
      const pictures = await coming;
      coming = readAhead(frame + direction);
      const reply = await worker.ask({ kind: 'step', ...pictures });
      if (reply.kind !== 'carried') throw new Error('the analysis answered something else');
      const { coverage, before, confidence, doubt } = reply;
      const done: CarriedFrame | null = last === null ? null : { ...last, coverage: before ?? last.coverage };
      last = { frame, coverage, confidence, doubt };
      if (done !== null) yield done;
    }
    if (last !== null && beyond !== null) {
      const reply = await worker.ask({ kind: 'confirm', picture: copyImage(await frames.frame(beyond)) });
      if (reply.kind !== 'confirmed') throw new Error('the analysis answered something else');
      last = { ...last, coverage: reply.coverage ?? last.coverage };
    }
    if (last !== null) yield last;
  } catch (error) {
    // stopped: what is made already is not lost
    if (last !== null) yield last;
    throw error;
  } finally {
    frames.close();
    details?.close();
    await worker.close();
  }
}
