'use client';
import { useMemo, useRef, useState, type PointerEvent } from 'react';
import { marksOfFilm, removeMarker, setMarker } from '../../../core/film/edits/marks';
import type { Film } from '../../../core/film/film';
import type { Marker } from '../../../core/film/sound';
import { TINTS } from '../../../core/film/tint';
import { nearestTarget, snapTargets } from '../../../core/film/snap';
import { ContextMenu, type MenuActions } from '../../commands/context-menu';
import { TINT_COLOUR } from '../../parts/tints';
import { useFilm, useTools } from '../../store/film-context';
import { askForFrame, askForMarker, useReelChoice } from '../../store/reel-choice';
import { DRAG_THRESHOLD_PX } from '../shot-drag';
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
        <MarkerFlag key={marker.id} marker={marker} perFrame={perFrame} pad={pad} />
      ))}
    </>
  );
}

interface MarkerFlagProps {
  readonly marker: Marker;
  readonly perFrame: number;
  readonly pad: number;
}

/** A marker on the ruler: dragged it moves, a click goes to it, a right click has what else can be done. */
function MarkerFlag({ marker, perFrame, pad }: MarkerFlagProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { snaps } = useReelChoice();
  const held = useRef<number | null>(null);
  const [by, setBy] = useState(0);
  const { id, name, frame, tint, note } = marker;
  const placeAt = (event: PointerEvent): number => {
    const to = Math.max(0, frame + (event.clientX - held.current!) / perFrame);
    const targets = snaps ? snapTargets({ ...film, markers: [] }, media) : [];
    return nearestTarget(to, targets, SNAP_PX / perFrame) ?? Math.round(to);
  };
  const colour = tint === undefined ? 'var(--color-heed)' : TINT_COLOUR[tint];
  const actions = (): MenuActions => [
    [
      { label: 'Go to it', onSelect: () => askForFrame(Math.floor(frame)) },
      { label: 'Name, colour and note…', onSelect: () => askForMarker(id) },
      { label: 'Delete', onSelect: () => store.edit(`Deleted ${name}`, (d) => removeMarker(d, id)) },
    ],
    TINTS.map((t) => ({
      label: t === tint ? `Without colour ${t}` : `Colour ${t}`,
      onSelect: () => store.edit(`Colour of ${name}`, (d) => setMarker(d, id, { tint: t === tint ? null : t })),
    })),
  ];
  return (
    <ContextMenu label={`Marker ${name}`} actions={actions}>
      <span
        title={`${name}${note === undefined ? '' : `: ${note}`} · drag to move`}
        data-marker={id}
        className="absolute top-0 bottom-0 z-20 w-[9px] -translate-x-1/2 cursor-ew-resize touch-none"
        style={{ left: pad + (frame + by) * perFrame, height: 20 }}
        onPointerDown={(event) => {
          event.stopPropagation();
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = event.clientX;
        }}
        onPointerMove={(event) => held.current !== null && setBy(placeAt(event) - frame)}
        onPointerUp={(event) => {
          if (held.current === null) return;
          const isClick = Math.abs(event.clientX - held.current) < DRAG_THRESHOLD_PX;
          const to = placeAt(event);
          held.current = null;
          setBy(0);
          if (isClick) askForFrame(Math.floor(frame));
          else if (to !== frame) store.edit(`Moved ${name}`, (d) => setMarker(d, id, { frame: to }));
        }}
      >
        <span className="absolute top-0 left-[4px] h-5 w-px" style={{ background: colour }} />
        <span
          className="absolute top-0 left-[4px] h-2.5 max-w-20 truncate px-0.5 text-[9px] leading-[10px] whitespace-nowrap text-white"
          style={{ background: colour }}
        >
          {name}
        </span>
      </span>
    </ContextMenu>
  );
}
