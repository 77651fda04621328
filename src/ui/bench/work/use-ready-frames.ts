'use client';
import { useEffect, useState, useSyncExternalStore } from 'react';
import type { Join, Shot } from '../../../core/film/film';
import type { FramesClient } from '../../store/frames-client';
import { useTools } from '../../store/film-context';
import type { BenchWork } from './use-bench-work';

/** Frames of an overlap that are made ahead at most. */
const MOST = 120;
/** How long a join has to stay as it is before its frames are made ahead. */
const SETTLED_MS = 250;

/** Whether frames of a join take long: those that are made by motion. */
const isSlow = ({ layers }: Join, shots: readonly Shot[]): boolean =>
  layers.some((l) => l.visible && (l.source.kind === 'melt' || l.time?.between === 'flow')) ||
  shots.some((s) => s.time?.between === 'flow');

const NONE: ReadonlySet<number> = new Set();

/**
 * Makes the frames of a join that take long ahead, one after the other from where one stands, while nothing plays.
 * @returns those that are ready
 */
export function useReadyFrames({ shownPlaced, drawingAt, size, frame, playback }: BenchWork): ReadonlySet<number> {
  const { frames } = useTools();
  const [ready, setReady] = useState<ReadonlySet<number>>(NONE);
  const changes = useSyncExternalStore(frames.subscribe, frames.matteChanges, () => 0);
  const { join, leaving, entering, from, to } = shownPlaced;
  const wanted = !playback.playing && isSlow(join, [leaving, entering]);
  const { width, height } = size;
  useEffect(() => {
    if (!wanted) return;
    let isGone = false;
    const begin = (): void => {
      const order = nearestFirst(from, Math.min(to, from + MOST), frame);
      const known = new Set(order.filter((at) => frames.cached(drawingAt(at), width, height) !== null));
      setReady(new Set(known));
      const make = async (): Promise<void> => {
        for (const at of order) {
          if (known.has(at)) continue;
          if (!(await isMade(frames, () => drawingAt(at), width, height)) || isGone) return;
          known.add(at);
          setReady(new Set(known));
        }
      };
      void make();
    };
    // what is still being dragged is not worth making ahead
    const timer = setTimeout(begin, SETTLED_MS);
    return () => {
      isGone = true;
      clearTimeout(timer);
    };
    // where one stands only says with which frame it begins
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [frames, changes, wanted, drawingAt, from, to, width, height]);
  return wanted || playback.playing ? ready : NONE;
}

async function isMade(
  frames: FramesClient,
  drawing: () => ReturnType<BenchWork['drawingAt']>,
  width: number,
  height: number,
): Promise<boolean> {
  try {
    return (await frames.draw(drawing(), width, height, 'thumb')) !== null;
  } catch {
    return false; // the stage says why it cannot be drawn
  }
}

function nearestFirst(from: number, to: number, frame: number): number[] {
  const all = Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);
  return all.sort((a, b) => Math.abs(a - frame) - Math.abs(b - frame) || a - b);
}
