/** Numbers that look random and are the same on every run: a whole number from 0 to below `below`. */
export function seeded(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (state * 48271) % 2147483647;
    return state % below;
  };
}

/** The short run is part of every test; `IRIMI_LONG=1` makes it as long as what was once gone through by hand. */
export const isLong = process.env.IRIMI_LONG === '1';

export const times = (short: number, long: number): number => (isLong ? long : short);
