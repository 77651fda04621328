import type { Image, Plane } from '../core/image/pixels';
import type { CarriedMatte } from '../core/matte/carry/carry';
import type { FoundPairs } from '../core/pair/find-pairs';
import type { Crossing } from '../core/track/crossing';
import type { TrackModel } from '../core/track/track';
import type { FollowedRegion } from '../core/track/plane-follower';
import type { Corner } from '../core/track/plane-template';

export type AnalysisRequest =
  /** `alpha` may be larger than the picture; then every step brings a `detail` of its size, and carried coverage has it too. */
  | { readonly kind: 'carry'; readonly picture: Image; readonly alpha: Plane; readonly hasHair?: boolean }
  | { readonly kind: 'follow'; readonly picture: Image; readonly corners: readonly Corner[]; readonly model: TrackModel }
  | { readonly kind: 'step'; readonly picture: Image; readonly detail?: Image }
  /** The frame after the last that is carried, which may tell that one better. */
  | { readonly kind: 'confirm'; readonly picture: Image }
  | { readonly kind: 'begin smoothing'; readonly strength: number }
  | { readonly kind: 'smooth'; readonly picture: Image; readonly alpha: Plane }
  | { readonly kind: 'end smoothing' }
  | { readonly kind: 'crossing'; readonly pictures: readonly Image[] }
  | { readonly kind: 'begin pairing' }
  /** The next frame of one of two shots that are paired. */
  | { readonly kind: 'sign'; readonly side: 'a' | 'b'; readonly picture: Image }
  /** Goes on comparing; asked again until it is done. */
  | { readonly kind: 'pair' }
  /** The job is done; what it was about is forgotten. */
  | { readonly kind: 'rest' }
  /** No more requests: the thread ends. */
  | { readonly kind: 'end' };

/** Every request but the last ends in exactly one reply, in order. */
export type AnalysisReply =
  | { readonly kind: 'ready' }
  | {
      readonly kind: 'carried';
      readonly coverage: Uint8Array;
      /** The coverage of the frame before where this one has told it better. */
      readonly before: Uint8Array | null;
      readonly confidence: number;
      readonly doubt: CarriedMatte['doubt'];
    }
  /** The coverage of the last frame where the one after it has told it better. */
  | { readonly kind: 'confirmed'; readonly coverage: Uint8Array | null }
  /** The frame before the one asked about, or the last one; null where there was none. */
  | { readonly kind: 'smoothed'; readonly coverage: Uint8Array | null }
  | { readonly kind: 'followed'; readonly region: FollowedRegion }
  | { readonly kind: 'crossed'; readonly crossing: Crossing | null }
  | { readonly kind: 'pairing'; readonly share: number }
  | { readonly kind: 'paired'; readonly found: FoundPairs }
  | { readonly kind: 'failed'; readonly reason: string };

/** What `request` brings along in pictures. */
export function picturesIn(request: AnalysisRequest): readonly Image[] {
  if (request.kind === 'crossing') return request.pictures;
  const { picture, detail } = request as { readonly picture?: Image; readonly detail?: Image };
  return [picture, detail].filter((p) => p !== undefined);
}
