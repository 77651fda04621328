// Runs in Node worker threads: onset strengths of a part of a sound.
import { onsetsOf, type Onsets } from '../core/sound/onsets';

export interface OnsetsTask {
  /** Mono; begins `ONSET_MARGIN` samples before the first strength. */
  readonly sound: Float32Array;
  readonly count: number;
}

export default ({ sound, count }: OnsetsTask): Onsets => onsetsOf(sound, count);
