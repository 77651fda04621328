'use client';
import { useEffect, useState } from 'react';
import type { Drawing } from '../../core/plan/plan-views';
import { useMatteChanges, useTools } from '../store/film-context';
import { previewSize } from './preview-size';

/** Draws on a canvas what is to be shown, from the frames that are ready or as soon as it is drawn. @returns why it could not be, or null */
export function useDrawn(
  canvas: React.RefObject<HTMLCanvasElement | null>,
  drawing: Drawing | null,
  caption: string,
  filmWidth: number,
  filmHeight: number,
): string | null {
  const { frames } = useTools();
  const matteChanges = useMatteChanges(drawing);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    const target = canvas.current!;
    if (drawing === null) {
      target.getContext('2d')!.clearRect(0, 0, target.width, target.height);
      target.dataset.drawn = '';
      return;
    }
    let wanted = true;
    const { width, height } = previewSize(filmWidth, filmHeight);
    const show = (bitmap: ImageBitmap): void => {
      if (target.width !== width || target.height !== height) Object.assign(target, { width, height });
      const context = target.getContext('2d')!;
      context.clearRect(0, 0, width, height);
      context.drawImage(bitmap, 0, 0);
      target.dataset.drawn = caption;
      setProblem(null);
    };
    const ready = frames.cached(drawing, width, height);
    if (ready !== null) show(ready);
    else
      frames.draw(drawing, width, height, 'now').then(
        (bitmap) => {
          if (wanted && bitmap !== null) show(bitmap);
        },
        (error: Error) => {
          if (wanted) setProblem(`This frame could not be drawn: ${error.message}.`);
        },
      );
    return () => {
      wanted = false;
    };
    // the caption changes with the drawing
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [frames, matteChanges, JSON.stringify(drawing), caption, filmWidth, filmHeight]);
  return problem;
}
