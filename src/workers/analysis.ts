// Runs in a Node worker thread: carries or smooths a matte or follows a region, one picture at a time; finds what crosses a run of them.
import { parentPort } from 'node:worker_threads';
import { MatteCarrier } from '../core/matte/carry/carry';
import { TimeSmoother } from '../core/matte/carry/smooth-time';
import { PairFinder } from '../core/pair/find-pairs';
import { findCrossing } from '../core/track/crossing';
import { PlaneFollower } from '../core/track/plane-follower';
import { PointFollower } from '../core/track/point-follower';
import { centreOf } from '../core/track/track';
import type { AnalysisReply, AnalysisRequest } from './analysis-protocol';

/** What the current job is about; one thing at a time. */
let at: MatteCarrier | PlaneFollower | PointFollower | TimeSmoother | PairFinder | null = null;

function answer(request: Exclude<AnalysisRequest, { kind: 'end' }>): AnalysisReply {
  switch (request.kind) {
    case 'carry':
      at = new MatteCarrier(request.picture, request.alpha, request.hasHair);
      return { kind: 'ready' };
    case 'follow':
      at =
        request.model === 'position'
          ? new PointFollower(request.picture, [centreOf(request.corners)])
          : new PlaneFollower(request.picture, request.corners, request.model);
      return { kind: 'ready' };
    case 'begin smoothing':
      at = new TimeSmoother(request.strength);
      return { kind: 'ready' };
    case 'begin pairing':
      at = new PairFinder();
      return { kind: 'ready' };
    case 'sign':
      if (!(at instanceof PairFinder)) break;
      at.add(request.side, request.picture);
      return { kind: 'ready' };
    case 'pair': {
      if (!(at instanceof PairFinder)) break;
      const step = at.step();
      return typeof step === 'number' ? { kind: 'pairing', share: step } : { kind: 'paired', found: step };
    }
    case 'rest':
      at = null;
      return { kind: 'ready' };
    case 'crossing':
      return { kind: 'crossed', crossing: findCrossing(request.pictures) };
    case 'smooth':
    case 'end smoothing': {
      if (!(at instanceof TimeSmoother)) break;
      const smoothed = request.kind === 'smooth' ? at.next(request.picture, request.alpha) : at.end();
      return { kind: 'smoothed', coverage: smoothed?.data ?? null };
    }
    case 'confirm':
      if (!(at instanceof MatteCarrier)) break;
      return { kind: 'confirmed', coverage: at.confirm(request.picture)?.data ?? null };
    case 'step': {
      if (at instanceof PointFollower) {
        const { x, y, confidence } = at.step(request.picture)[0]!;
        return { kind: 'followed', region: { corners: [[x, y]], confidence } };
      }
      if (at instanceof PlaneFollower) return { kind: 'followed', region: at.step(request.picture) };
      if (!(at instanceof MatteCarrier)) break;
      const { coverage, before, confidence, doubt } = at.step(request.picture, request.detail);
      return { kind: 'carried', coverage: coverage.data, before: before?.data ?? null, confidence, doubt };
    }
  }
  return { kind: 'failed', reason: 'this was not begun' };
}

parentPort?.on('message', (request: AnalysisRequest) => {
  if (request.kind === 'end') {
    parentPort!.close();
    return;
  }
  try {
    parentPort!.postMessage(answer(request));
  } catch (error) {
    // a RangeError is of what was asked for, and says so after the name of who found it
    const isAboutOrder = error instanceof RangeError;
    if (!isAboutOrder) console.error(error);
    const reason = isAboutOrder ? error.message.replace(/^\w+: /, '') : 'an error that nobody foresaw; the log of the server says which';
    parentPort!.postMessage({ kind: 'failed', reason: `This could not be done: ${reason}.` } satisfies AnalysisReply);
  }
});
