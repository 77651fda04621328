'use client';
import { useEffect, useRef } from 'react';
import type { Drawing } from '../../core/plan/plan-views';
import { useMatteChanges, useTools } from '../store/film-context';

/** It is drawn once and then stands: no layer of its own on the page for each of many. */
const STILL: CanvasRenderingContext2DSettings = { willReadFrequently: true };

interface ThumbProps {
  readonly drawing: Drawing;
  /** CSS pixels; drawn at twice that. */
  readonly width: number;
  readonly height: number;
  readonly className?: string;
}

/** A small picture of a frame, drawn by the same compositor as the film. */
export function Thumb({ drawing, width, height, className = '' }: ThumbProps) {
  const { frames } = useTools();
  const matteChanges = useMatteChanges(drawing);
  const canvas = useRef<HTMLCanvasElement>(null);
  const key = JSON.stringify(drawing);
  useEffect(() => {
    let wanted = true;
    const show = (bitmap: ImageBitmap): void => {
      const target = canvas.current;
      if (target === null) return;
      Object.assign(target, { width: 2 * width, height: 2 * height });
      target.getContext('2d', STILL)!.drawImage(bitmap, 0, 0);
      target.dataset.drawn = 'yes';
    };
    const ready = frames.cached(drawing, 2 * width, 2 * height);
    if (ready !== null) {
      show(ready);
      return;
    }
    const ask = (): void => {
      frames.draw(drawing, 2 * width, 2 * height, 'thumb').then(
        (bitmap) => {
          if (!wanted) return;
          if (bitmap === null) ask();
          else show(bitmap);
        },
        () => {
          if (wanted && canvas.current !== null) canvas.current.dataset.drawn = 'failed'; // the stage says why
        },
      );
    };
    ask();
    return () => {
      wanted = false;
    };
    // the key stands for the drawing
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [frames, matteChanges, key, width, height]);
  return <canvas ref={canvas} aria-hidden className={className} style={{ width, height }} />;
}
