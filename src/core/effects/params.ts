import type { Param } from './effect';

/** A share of how much an effect does, 0 nothing, 1 all. */
export const amountParam = (initial = 1): Param => ({ label: 'Amount', unit: '', min: 0, max: 1, step: 0.01, initial });

export const seedParam: Param = { label: 'Seed', unit: '', min: 0, max: 9999, step: 1, initial: 1 };

/** A length in film pixels. */
export const lengthParam = (label: string, initial: number, max = 400, min = 0): Param => ({
  label,
  unit: 'px',
  min,
  max,
  step: 1,
  initial,
  isLength: true,
});

/** The three numbers of a colour, 0..255. */
export const colourParams = ([r, g, b]: readonly [number, number, number]): Readonly<Record<'red' | 'green' | 'blue', Param>> => {
  const part = (label: string, initial: number): Param => ({ label, unit: '', min: 0, max: 255, step: 1, initial });
  return { red: part('Red', r), green: part('Green', g), blue: part('Blue', b) };
};
