import type { Film, Medium } from '../core/film/film';
import type { SoundFacts } from '../core/film/media-facts';
import type { SecondsSpan, SharedWord } from '../core/sound/words';

export type SoundRequest =
  /** What is heard from now on. Where parts of sounds come from: `url`, the medium's id and `/sound.s16`. */
  | {
      readonly kind: 'film';
      readonly url: string;
      readonly film: Film;
      readonly media: readonly Medium[];
      readonly sounds: readonly SoundFacts[];
    }
  /** Film samples from … from + count, mixed. */
  | { readonly kind: 'mix'; readonly job: number; readonly from: number; readonly count: number }
  /** Samples of one medium as they are. */
  | { readonly kind: 'medium'; readonly job: number; readonly mediumId: string; readonly from: number; readonly count: number }
  /** Where a word of one medium is said in another; `within` is the span of it to look in. */
  | {
      readonly kind: 'word';
      readonly job: number;
      readonly a: string;
      readonly aWithin: SecondsSpan;
      readonly span: SecondsSpan;
      readonly b: string;
      readonly bWithin: SecondsSpan;
    }
  | { readonly kind: 'silences'; readonly job: number; readonly mediumId: string; readonly within: SecondsSpan };

export type SoundReply =
  | { readonly kind: 'sound'; readonly job: number; readonly left: Float32Array<ArrayBuffer>; readonly right: Float32Array<ArrayBuffer> }
  | { readonly kind: 'word'; readonly job: number; readonly word: SharedWord | null }
  | { readonly kind: 'silences'; readonly job: number; readonly spans: readonly SecondsSpan[] }
  | { readonly kind: 'failed'; readonly job: number; readonly reason: string };
