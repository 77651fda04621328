/** Sizes of the weave's parts, in CSS pixels: one frame's cell, the column of labels, a row, the picture in it, the ruler. */
export const CELL = 48;
export const LABELS = 211;
export const ROW = 31;
export const PICTURE = 27;
export const RULER = 19;
