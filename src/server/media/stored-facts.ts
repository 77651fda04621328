import type { MediumFacts } from '../../core/film/media-facts';
import type { Probe } from '../video/ffmpeg';

/** Facts as stored: what the page needs and how to decode the pictures. */
export interface StoredFacts extends MediumFacts {
  readonly probe: Probe;
  /** The file its pictures are decoded from; the original unless said. */
  readonly pictures?: 'still.png' | 'sequence.mkv';
}
