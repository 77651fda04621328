import { LRUCache } from 'lru-cache';
import type { Drawing } from '../../core/plan/plan-views';

/** Drawings of a film that are kept by frame: more than are looked at in one go. */
const MOST = 400;

/** The same drawings, each planned once while it is asked for over and over. */
export function remembered(drawingAt: (frame: number) => Drawing): (frame: number) => Drawing {
  const known = new LRUCache<number, Drawing>({ max: MOST });
  return (frame) => {
    const drawing = known.get(frame) ?? drawingAt(frame);
    known.set(frame, drawing);
    return drawing;
  };
}
