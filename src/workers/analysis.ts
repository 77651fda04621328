// Runs in a Node worker thread: carries a matte or follows a region, one picture at a time; finds what crosses a run of them.
import { parentPort } from 'node:worker_threads';
import type { Image } from '../core/image/image';
import type { Plane } from '../core/image/plane';
import { MatteCarrier, type CarriedMatte } from '../core/matte/carry';
import { refineCoverage } from '../core/matte/refine-coverage';
import { bytesOf } from '../core/matte/resize-matte';
import { findCrossing, type Crossing } from '../core/track/crossing';
import type { MotionModel } from '../core/track/homography';
import { PlaneFollower, type FollowedRegion } from '../core/track/plane-follower';
import type { Corner } from '../core/track/plane-template';

export type AnalysisRequest =
  | { readonly kind: 'carry'; readonly picture: Image; readonly alpha: Plane }
  | { readonly kind: 'follow'; readonly picture: Image; readonly corners: readonly Corner[]; readonly model: MotionModel }
  /** With `detail`, the same frame at a larger size, carried coverage comes at that size. */
  | { readonly kind: 'step'; readonly picture: Image; readonly detail?: Image }
  | { readonly kind: 'crossing'; readonly pictures: readonly Image[] };

/** Every request ends in exactly one reply, in order. */
export type AnalysisReply =
  | { readonly kind: 'ready' }
  | { readonly kind: 'carried'; readonly coverage: Uint8Array; readonly confidence: number; readonly doubt: CarriedMatte['doubt'] }
  | { readonly kind: 'followed'; readonly region: FollowedRegion }
  | { readonly kind: 'crossed'; readonly crossing: Crossing | null }
  | { readonly kind: 'failed'; readonly reason: string };

let carrier: MatteCarrier | null = null;
let follower: PlaneFollower | null = null;

function answer(request: AnalysisRequest): AnalysisReply {
  if (request.kind === 'carry') {
    [carrier, follower] = [new MatteCarrier(request.picture, request.alpha), null];
    return { kind: 'ready' };
  }
  if (request.kind === 'follow') {
    [carrier, follower] = [null, new PlaneFollower(request.picture, request.corners, request.model)];
    return { kind: 'ready' };
  }
  if (request.kind === 'crossing') return { kind: 'crossed', crossing: findCrossing(request.pictures) };
  if (follower !== null) return { kind: 'followed', region: follower.step(request.picture) };
  if (carrier === null) return { kind: 'failed', reason: 'nothing was begun' };
  const { picture, detail } = request;
  const { alpha, confidence, doubt } = carrier.step(picture);
  const carried = { width: alpha.width, height: alpha.height, data: bytesOf(alpha) };
  const { data: coverage } = detail === undefined ? carried : refineCoverage(carried, detail, picture);
  return { kind: 'carried', coverage, confidence, doubt };
}

parentPort?.on('message', (request: AnalysisRequest) => {
  try {
    parentPort!.postMessage(answer(request));
  } catch (error) {
    parentPort!.postMessage({ kind: 'failed', reason: (error as Error).message } satisfies AnalysisReply);
  }
});
