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
  /** Rows of pictures: all three, or the result alone in the low form. */
  readonly rows: 1 | 3;
}

/** Low: the result's row alone, with what is marked under it. */
export type WeaveForm = 'low' | 'tall';

const LEAST_PICTURE = 27;
/** In the low form the row keeps the size of a thumbnail, whatever room there is: that is for what lies under it. */
const MOST_PICTURE: Record<WeaveForm, number> = { low: 40, tall: 110 };

/** The sizes at which the rows of a form fill a height, for pictures `aspect` times as wide as high. */
export function sizesFor(height: number, aspect: number, form: WeaveForm): WeaveSizes {
  const rows = form === 'low' ? 1 : 3;
  const picture = Math.max(LEAST_PICTURE, Math.min(MOST_PICTURE[form], Math.floor((height - RULER) / rows) - 4));
  return { picture, row: picture + 4, cell: Math.max(20, Math.min(200, Math.round(picture * aspect))), rows };
}

const Sizes = createContext<WeaveSizes>({ cell: 48, row: 31, picture: LEAST_PICTURE, rows: 3 });
export const SizesProvider = Sizes.Provider;
export const useSizes = (): WeaveSizes => useContext(Sizes);
