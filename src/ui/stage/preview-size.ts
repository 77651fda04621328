const PREVIEW_WIDTH = 960;

/** The size at which frames of a film are shown, pixels. */
export function previewSize(filmWidth: number, filmHeight: number): { readonly width: number; readonly height: number } {
  const width = Math.min(PREVIEW_WIDTH, filmWidth);
  return { width, height: Math.max(1, Math.round((width * filmHeight) / filmWidth)) };
}
