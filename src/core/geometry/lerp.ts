/** From `a` at 0 to `b` at 1. */
export const lerp = (a: number, b: number, t: number): number => a + (b - a) * t;
