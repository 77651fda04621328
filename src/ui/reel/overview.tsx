'use client';
import { useRef, type PointerEvent } from 'react';
import { startsOfShots } from '../../core/film/clocks';
import type { Film } from '../../core/film/film';
import { TINT_COLOUR } from '../parts/tints';
import { useReelChoice } from '../store/reel-choice';
import { useLiveFrame } from '../store/live-frame';
import { PAD } from './reel-scale';
import type { View } from './use-reel-scroll';

interface OverviewProps {
  readonly film: Film;
  /** Frames of the film, at least 1. */
  readonly length: number;
  readonly frame: number;
  readonly perFrame: number;
  readonly view: View;
  /** Brings a CSS pixel of the reel to the left edge. */
  readonly onScroll: (left: number) => void;
}

/** The whole film in one line, with what of it is in sight: dragged, that goes along. */
export function Overview({ film, length, frame, perFrame, view, onScroll }: OverviewProps) {
  const bar = useRef<HTMLDivElement>(null);
  const held = useRef<number | null>(null);
  const chosen = useReelChoice((s) => s.shotId);
  const also = useReelChoice((s) => s.alsoShots);
  const starts = startsOfShots(film);
  const percent = (at: number): string => `${(100 * at) / length}%`;
  const [from, to] = [view.from, view.to].map((x) => Math.max(0, Math.min(length, (x - PAD) / perFrame))) as [number, number];
  const placeAt = ({ clientX }: PointerEvent): number => {
    const box = bar.current!.getBoundingClientRect();
    return ((clientX - box.left) / box.width) * length;
  };
  const bring = (at: number): void => onScroll(PAD + at * perFrame);
  return (
    <div
      ref={bar}
      role="scrollbar"
      aria-label="The whole film"
      aria-controls="reel-track"
      aria-orientation="horizontal"
      aria-valuemin={0}
      aria-valuemax={length}
      aria-valuenow={Math.round(from)}
      data-overview
      className="relative mx-[18px] h-3 shrink-0 cursor-ew-resize touch-none bg-well"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        const at = placeAt(event);
        // what is in sight is taken hold of where it is; elsewhere it comes to the pointer first
        held.current = at >= from && at <= to ? at - from : (to - from) / 2;
        bring(at - held.current);
      }}
      onPointerMove={(event) => held.current !== null && bring(placeAt(event) - held.current)}
      onPointerUp={() => (held.current = null)}
      onPointerCancel={() => (held.current = null)}
    >
      {film.shots.map((shot) => (
        <span
          key={shot.id}
          className={`absolute inset-y-[3px] border-l border-well ${shot.id === chosen || also.has(shot.id) ? 'bg-entering' : 'bg-well-ink/40'}`}
          style={{
            left: percent(starts.get(shot.id)!),
            width: percent(shot.length),
            ...(shot.tint === undefined ? {} : { background: TINT_COLOUR[shot.tint] }),
          }}
        />
      ))}
      <span
        className="absolute inset-y-0 border border-sheet bg-white/15"
        style={{ left: percent(from), width: percent(Math.max(0, to - from)) }}
      />
      <Playhead left={(at) => percent(at + 0.5)} frame={frame} />
    </div>
  );
}

function Playhead({ left, frame }: { readonly left: (frame: number) => string; readonly frame: number }) {
  return <span className="absolute inset-y-0 w-px bg-sheet" style={{ left: left(useLiveFrame(frame)) }} />;
}
