'use client';
import { createContext, useContext } from 'react';

/** Width of the column of labels, and height of the ruler, in CSS pixels. */
export const LABELS = 211;
export const RULER = 19;

/** Sizes that grow with the height the weave is given, in CSS pixels: one frame's cell, a row, the picture in it. */
export interface WeaveSizes {
  readonly cell: number;
  readonly row: number;
  readonly picture: number;
}

const LEAST_PICTURE = 27;
const MOST_PICTURE = 110;

/** The sizes at which three rows fill a height, for pictures `aspect` times as wide as high. */
export function sizesFor(height: number, aspect: number): WeaveSizes {
  const picture = Math.max(LEAST_PICTURE, Math.min(MOST_PICTURE, Math.floor((height - RULER) / 3) - 4));
  return { picture, row: picture + 4, cell: Math.max(20, Math.min(200, Math.round(picture * aspect))) };
}

const Sizes = createContext<WeaveSizes>({ cell: 48, row: 31, picture: LEAST_PICTURE });
export const SizesProvider = Sizes.Provider;
export const useSizes = (): WeaveSizes => useContext(Sizes);
