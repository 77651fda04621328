/** A frame rate as an exact fraction, such as 30000/1001 frames a second. */
export interface Rational {
  readonly numerator: number;
  readonly denominator: number;
}

/** @throws RangeError unless both are positive whole numbers. */
export function rational(numerator: number, denominator: number): Rational {
  if (!(Number.isInteger(numerator) && Number.isInteger(denominator) && numerator > 0 && denominator > 0))
    throw new RangeError(`rational: ${numerator}/${denominator} is not a positive fraction`);
  const divide = (a: number, b: number): number => (b === 0 ? a : divide(b, a % b));
  const common = divide(numerator, denominator);
  return { numerator: numerator / common, denominator: denominator / common };
}

export const toNumber = (r: Rational): number => r.numerator / r.denominator;

/** Shares by which two ways of writing one rate differ: 29.97 and 30000/1001 do by a millionth, a frame in nine hours. */
const SAME_RATE = 5e-6;

export const isSameRate = (a: Rational, b: Rational): boolean => Math.abs(toNumber(a) / toNumber(b) - 1) < SAME_RATE;

/** The fraction as ffmpeg writes it: '30000/1001'. */
export const formatRational = (r: Rational): string => `${r.numerator}/${r.denominator}`;

/** Reads '24', '24/1' or '30000/1001'; null when it is no positive fraction ('0/0' is what ffprobe says of stills). */
export function parseRational(text: string): Rational | null {
  const match = /^(\d+)(?:\/(\d+))?$/.exec(text);
  if (match === null) return null;
  const numerator = Number(match[1]);
  const denominator = Number(match[2] ?? 1);
  return numerator > 0 && denominator > 0 ? rational(numerator, denominator) : null;
}
