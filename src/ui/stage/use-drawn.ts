'use client';
import { useEffect, useState, useSyncExternalStore } from 'react';
import type { Drawing } from '../../core/plan/plan-views';
import { useMatteChanges, useTools } from '../store/film-context';
import { paint } from '../store/screen';
import { previewSize } from './preview-size';

/** How long a frame stands before it is drawn whole after its draft, ms. */
const RESTS_MS = 120;

/**
 * Draws on a canvas what is to be shown, from the frames that are ready or as soon as it is drawn: where that takes long, as a draft
 * first. While it plays, playing draws. @returns why it could not be, or null
 */
export function useDrawn(
  canvas: React.RefObject<HTMLCanvasElement | null>,
  drawing: Drawing | null,
  caption: string,
  filmWidth: number,
  filmHeight: number,
): string | null {
  const { frames, screen } = useTools();
  const matteChanges = useMatteChanges(drawing);
  const { isLive, problem: problemOfPlaying } = useSyncExternalStore(screen.subscribe, screen.now, screen.now);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    const target = canvas.current!;
    screen.attach(target, caption);
    if (drawing === null) {
      target.getContext('2d')!.clearRect(0, 0, target.width, target.height);
      target.dataset.drawn = '';
      return;
    }
    if (isLive) return;
    let wanted = true;
    const { width, height } = previewSize(filmWidth, filmHeight);
    const failed = (error: Error): void => {
      if (wanted) setProblem(`This frame could not be drawn: ${error.message}.`);
    };
    const drawWhole = (): void => {
      frames.draw(drawing, width, height, 'now').then((bitmap) => {
        if (!wanted || bitmap === null) return;
        paint(target, bitmap, width, height, caption);
        setProblem(null);
      }, failed);
    };
    // what a draft shows is not yet what the caption says
    const showDraft = (bitmap: ImageBitmap): void => paint(target, bitmap, width, height, '');
    const ready = frames.shown(drawing, width, height);
    let timer: ReturnType<typeof setTimeout> | undefined;
    if (ready?.isDraft === false) {
      paint(target, ready.bitmap, width, height, caption);
      setProblem(null);
    } else if (ready !== null) {
      showDraft(ready.bitmap);
      timer = setTimeout(drawWhole, RESTS_MS);
    } else if (frames.isSlow(drawing)) {
      frames.drawDraft(drawing, width, height, 'now').then((bitmap) => {
        if (!wanted || bitmap === null) return;
        showDraft(bitmap);
        timer = setTimeout(drawWhole, RESTS_MS);
      }, failed);
    } else drawWhole();
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
    // the caption changes with the drawing
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [frames, screen, isLive, matteChanges, JSON.stringify(drawing), caption, filmWidth, filmHeight]);
  useEffect(() => {
    const target = canvas.current!;
    return () => screen.detach(target);
  }, [canvas, screen]);
  return isLive ? problemOfPlaying : problem;
}
