'use client';
import { useState, type PointerEvent } from 'react';
import { startsOfShots } from '../../core/film/clocks';
import type { Film } from '../../core/film/film';
import { chooseNoShots, chooseShots, leaveClip, useReelChoice } from '../store/reel-choice';
import { SHOT_HEIGHT, SHOT_TOP, type ReelScale } from './reel-scale';

/** A box that is drawn, CSS pixels of the reel. */
export interface Box {
  readonly x: readonly [number, number];
  readonly y: readonly [number, number];
}

const THRESHOLD_PX = 4;

/** The shots that a box touches, in their order. */
export function shotsInBox(film: Film, { x, y }: Box, scale: Pick<ReelScale, 'x'>): readonly string[] {
  if (y[1] < SHOT_TOP || y[0] > SHOT_TOP + SHOT_HEIGHT) return [];
  const starts = startsOfShots(film);
  return film.shots.filter((s) => scale.x(starts.get(s.id)!) < x[1] && scale.x(starts.get(s.id)! + s.length) > x[0]).map((s) => s.id);
}

/** Choosing shots by drawing a box around them, from an empty place of the reel. With Shift they are added to what is chosen. */
export function useBoxChoice(film: Film, track: React.RefObject<HTMLDivElement | null>, scale: ReelScale) {
  const [from, setFrom] = useState<{ readonly x: number; readonly y: number; readonly also: readonly string[] } | null>(null);
  const [box, setBox] = useState<Box | null>(null);
  const at = (event: PointerEvent): { readonly x: number; readonly y: number } => {
    const element = track.current!;
    const { left, top } = element.getBoundingClientRect();
    return { x: event.clientX - left + element.scrollLeft, y: event.clientY - top + element.scrollTop };
  };
  const end = (): void => {
    setFrom(null);
    setBox(null);
  };
  return {
    box,
    handlers: {
      onPointerDown(event: PointerEvent): void {
        if (event.button !== 0 || !(event.target as HTMLElement).hasAttribute('data-empty')) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const { shotId, alsoShots } = useReelChoice.getState();
        const also = event.shiftKey ? [...(shotId === null ? [] : [shotId]), ...alsoShots] : [];
        setFrom({ ...at(event), also });
        if (!event.shiftKey) {
          chooseNoShots();
          leaveClip();
        }
      },
      onPointerMove(event: PointerEvent): void {
        if (from === null) return;
        const to = at(event);
        const next: Box = {
          x: [Math.min(from.x, to.x), Math.max(from.x, to.x)],
          y: [Math.min(from.y, to.y), Math.max(from.y, to.y)],
        };
        if (box === null && next.x[1] - next.x[0] + next.y[1] - next.y[0] < THRESHOLD_PX) return;
        setBox(next);
        chooseShots([...new Set([...from.also, ...shotsInBox(film, next, scale)])]);
      },
      onPointerUp: end,
      onPointerCancel: end,
    },
  };
}
