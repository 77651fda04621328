'use client';
import { useMemo, useRef, useState, type PointerEvent } from 'react';
import { marksOfFilm, setMarker } from '../../../core/film/edits/marks';
import type { Film } from '../../../core/film/film';
import { nearestTarget, snapTargets } from '../../../core/film/snap';
import { useFilm, useTools } from '../../store/film-context';
import { useReelChoice } from '../../store/reel-choice';
import { SNAP_PX } from './sizes';

/** Beats are drawn where they stand at least so far apart, bars in any case. */
const LEAST_GAP_PX = 3.5;

/** Beats as lines through all that lies on the reel, and markers as flags on its ruler. */
export function ReelMarks({
  film,
  perFrame,
  pad,
  view,
}: {
  readonly film: Film;
  readonly perFrame: number;
  readonly pad: number;
  readonly view: { readonly from: number; readonly to: number };
}) {
  const { media } = useFilm('media');
  const all = useMemo(() => marksOfFilm(film, media), [film, media]);
  const seen = all.filter((m) => m.kind !== 'marker' && pad + m.frame * perFrame >= view.from && pad + m.frame * perFrame <= view.to);
  const beats = seen.filter((m) => m.kind === 'beat' || m.kind === 'downbeat');
  const crowded = beats.length > 1 && ((beats.at(-1)!.frame - beats[0]!.frame) / beats.length) * perFrame < LEAST_GAP_PX;
  return (
    <>
      {seen.map((m, i) =>
        crowded && m.kind === 'beat' ? null : (
          <span
            key={i}
            data-mark={m.kind}
            className={`pointer-events-none absolute bottom-0 w-px ${m.kind === 'downbeat' ? 'top-3 bg-ink/30' : m.kind === 'beat' ? 'top-[15px] bg-ink/13' : 'top-2 bg-heed'}`}
            style={{ left: pad + m.frame * perFrame }}
          />
        ),
      )}
      {(film.markers ?? []).map((marker) => (
        <MarkerFlag key={marker.id} id={marker.id} name={marker.name} frame={marker.frame} perFrame={perFrame} pad={pad} />
      ))}
    </>
  );
}

function MarkerFlag({
  id,
  name,
  frame,
  perFrame,
  pad,
}: {
  readonly id: string;
  readonly name: string;
  readonly frame: number;
  readonly perFrame: number;
  readonly pad: number;
}) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { snaps } = useReelChoice();
  const held = useRef<number | null>(null);
  const [by, setBy] = useState(0);
  const placeAt = (event: PointerEvent): number => {
    const to = Math.max(0, frame + (event.clientX - held.current!) / perFrame);
    const targets = snaps ? snapTargets({ ...film, markers: [] }, media) : [];
    return nearestTarget(to, targets, SNAP_PX / perFrame) ?? Math.round(to);
  };
  return (
    <span
      title={`${name}: drag to move`}
      data-marker={id}
      className="absolute top-0 bottom-0 z-20 w-[9px] -translate-x-1/2 cursor-ew-resize touch-none"
      style={{ left: pad + (frame + by) * perFrame, height: 20 }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = event.clientX;
      }}
      onPointerMove={(event) => held.current !== null && setBy(placeAt(event) - frame)}
      onPointerUp={(event) => {
        if (held.current === null) return;
        const to = placeAt(event);
        held.current = null;
        setBy(0);
        if (to !== frame) store.edit(`Moved ${name}`, (d) => setMarker(d, id, { frame: to }));
      }}
    >
      <span className="absolute top-0 left-[4px] h-5 w-px bg-heed" />
      <span className="absolute top-0 left-[4px] h-2.5 max-w-20 truncate bg-heed px-0.5 text-[9px] leading-[10px] whitespace-nowrap text-white">
        {name}
      </span>
    </span>
  );
}
