import { isSameRate, type Rational } from '../../core/geometry/rational';

/** Sizes and rates that films are usually made in. */

export const SIZES: Readonly<Record<string, readonly [number, number]>> = {
  '1280 × 720': [1280, 720],
  '1920 × 1080': [1920, 1080],
  '3840 × 2160': [3840, 2160],
  '1080 × 1920': [1080, 1920],
  '1080 × 1080': [1080, 1080],
};

export const RATES: Readonly<Record<string, Rational>> = {
  '23.976': { numerator: 24000, denominator: 1001 },
  '24': { numerator: 24, denominator: 1 },
  '25': { numerator: 25, denominator: 1 },
  '29.97': { numerator: 30000, denominator: 1001 },
  '30': { numerator: 30, denominator: 1 },
  '50': { numerator: 50, denominator: 1 },
  '59.94': { numerator: 60000, denominator: 1001 },
  '60': { numerator: 60, denominator: 1 },
};

/** What a rate is called; its fraction where it is none of the usual. */
export const rateName = (rate: Rational): string =>
  Object.entries(RATES).find(([, r]) => isSameRate(r, rate))?.[0] ?? `${rate.numerator}/${rate.denominator}`;

/** A size that a film can have: whole even numbers within bounds. */
export const asSize = (value: number): number => Math.max(16, Math.min(8192, 2 * Math.round(value / 2)));
