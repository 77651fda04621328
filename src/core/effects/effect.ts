import type { Image } from '../image/pixels';

/** A number an effect takes. */
export interface Param {
  readonly label: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly initial: number;
  /** A length in film pixels, which grows with the size it is drawn at. */
  readonly isLength?: boolean;
}

type Params = Readonly<Record<string, Param>>;
export type ParamValues = Readonly<Record<string, number>>;

/** What an effect says of itself; panel, validation and drawing are made from it. */
export interface EffectKind {
  /** Its name in films. */
  readonly kind: string;
  readonly name: string;
  /** In half a sentence. */
  readonly does: string;
  readonly params: Params;
  /** The number that says how much it does, 0 being nothing: what dies away. Null where there is none. */
  readonly amount: string | null;
  /** It moves or changes the picture all over: where it ends at once, that is seen. */
  readonly endsInSight?: true;
  /** It is meant to change the light at once. */
  readonly changesLight?: true;
  /** How far beyond what it is laid on it reaches, in the lengths of its numbers. */
  reachPx(values: ParamValues): number;
  /**
   * Draws `src` into `out`, both premultiplied and of one size; lengths in `values` are pixels of theirs. Besides the parameters, `frame` is the
   * film frame on the effect's clock and `scale` pixels of theirs a film pixel. `out` is other memory.
   */
  draw(src: Image, out: Image, values: ParamValues): void;
}

/** The values with those that are missing as they are at first, and lengths as they are at `scale` output pixels a film pixel. */
export const valuesAt = ({ params }: EffectKind, values: ParamValues, scale: number): ParamValues =>
  Object.fromEntries([
    ...Object.entries(params).map(([name, { min, max, initial, isLength }]) => {
      const value = Math.max(min, Math.min(max, values[name] ?? initial));
      return [name, isLength === true ? value * scale : value] as const;
    }),
    ['frame', values.frame ?? 0] as const,
    ['scale', scale] as const,
  ]);
