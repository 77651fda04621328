/** The number nearest to `value` that lies between `least` and `most`. */
export const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(most, value));
