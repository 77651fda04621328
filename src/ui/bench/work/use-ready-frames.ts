'use client';
import { useEffect, useState, useSyncExternalStore } from 'react';
import type { Drawing } from '../../../core/plan/plan-views';
import type { FramesClient } from '../../store/frames-client';
import { useTools } from '../../store/film-context';
import type { BenchWork } from './use-bench-work';

/** How long a join has to stay as it is before its frames are made ready. */
const SETTLED_MS = 500;
/** Share of the memory for frames that those of one join may take. */
const SHARE = 0.8;
/** How often the page looks which frames are ready while it plays, ms. */
const LOOK_MS = 500;

const NONE: ReadonlySet<number> = new Set();

/**
 * Makes the frames of a join ready, those next to the playhead first, while nothing plays; what is around it is played too and comes
 * last.
 * @returns those that are ready
 */
export function useReadyFrames({ shownPlaced, drawingAt, size, frame, playback }: BenchWork): ReadonlySet<number> {
  const { frames } = useTools();
  const [ready, setReady] = useState<ReadonlySet<number>>(NONE);
  const changes = useSyncExternalStore(frames.subscribe, frames.matteChanges, () => 0);
  const { from, to } = shownPlaced;
  const { width, height } = size;
  const isPlaying = playback.playing;
  useEffect(() => {
    const isReady = (at: number): boolean => frames.cached(drawingAt(at), width, height) !== null;
    const tell = (): void => setReady(new Set(rangeOf(from, to).filter(isReady)));
    tell();
    if (isPlaying) {
      const looks = setInterval(tell, LOOK_MS);
      return () => clearInterval(looks);
    }
    let isGone = false;
    const most = Math.floor((SHARE * frames.memory.budget) / (4 * width * height));
    const make = (at: number): Promise<void> =>
      isMade(frames, drawingAt(at), width, height, at).then((made) => {
        if (made && !isGone) setReady((before) => new Set(before).add(at));
      });
    // what is still being dragged is not worth making ready
    const timer = setTimeout(() => {
      for (const at of nearestFirst(from, to, frame).slice(0, most)) if (!isReady(at)) void make(at);
    }, SETTLED_MS);
    return () => {
      isGone = true;
      clearTimeout(timer);
      frames.drop('ready');
    };
    // where one stands only says with which frame it begins
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [frames, changes, isPlaying, drawingAt, from, to, width, height]);
  return ready;
}

async function isMade(frames: FramesClient, drawing: Drawing, width: number, height: number, at: number): Promise<boolean> {
  try {
    return (await frames.draw(drawing, width, height, 'ready', at)) !== null;
  } catch {
    return false; // the stage says why it cannot be drawn
  }
}

const rangeOf = (from: number, to: number): number[] => Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);

const nearestFirst = (from: number, to: number, frame: number): number[] =>
  rangeOf(from, to).sort((a, b) => Math.abs(a - frame) - Math.abs(b - frame) || a - b);
