import type { Rational } from '../geometry/rational';

/** A film as it is listed. */
export interface FilmEntry {
  readonly id: string;
  readonly name: string;
  readonly shots: number;
  /** ms */
  readonly updatedAt: number;
  readonly width: number;
  readonly height: number;
  readonly rate: Rational;
  /** Film frames. */
  readonly length: number;
  /** Media of its first shots, for a strip of pictures. */
  readonly pictures: readonly string[];
}
