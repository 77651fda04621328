'use client';
import { useCallback, useMemo, useState } from 'react';
import { shotOf } from '../../core/film/edits/reel';
import { faultOfLay, laySpan, type LayHow, type MediumSpan } from '../../core/film/edits/spans';
import { createFilm, type Film } from '../../core/film/film';
import type { MediumFacts } from '../../core/film/media-facts';
import { toNumber } from '../../core/geometry/rational';
import { planFrame } from '../../core/plan/plan-film';
import { usePlayback } from '../stage/playback';
import { previewSize } from '../stage/preview-size';
import { useFilm, useTools } from '../store/film-context';
import { chooseShots, lookAt, markSpan, useReelChoice } from '../store/reel-choice';
import { newId } from '../store/new-id';
import { remembered } from '../store/remembered';

/** A film of nothing but one medium, at its own size and rate; an empty one without. */
function filmOf(medium: MediumFacts | null): Film {
  if (medium === null) return createFilm('', 16, 16, { numerator: 24, denominator: 1 });
  const film = createFilm(medium.name, medium.width, medium.height, medium.rate);
  const shot = shotOf(film, medium, 'source');
  return { ...film, shots: [{ ...shot, length: medium.frames }] };
}

/** A medium that is looked at before it is laid on the reel: its playhead, what is marked of it, and where that goes. Null without one. */
export function useSource(medium: MediumFacts | null, filmFrame: number) {
  const { store, sound } = useTools();
  const { media, sounds } = useFilm('media', 'sounds');
  const film = useMemo(() => filmOf(medium), [medium]);
  const frames = medium?.frames ?? 1;
  const [wanted, setWanted] = useState(0);
  const frame = Math.min(wanted, frames - 1);
  const setFrame = useCallback((at: number) => setWanted(Math.max(0, Math.min(frames - 1, at))), [frames]);
  const drawingAt = useMemo(() => remembered((at) => ({ kind: 'picture', plan: planFrame(film, media, at) })), [film, media]);
  const id = medium?.id ?? '';
  const isHeard = sounds.has(id);
  const silent = useCallback(
    (_: number, count: number) => Promise.resolve({ left: new Float32Array(count), right: new Float32Array(count) }),
    [],
  );
  const playback = usePlayback({
    film,
    from: 0,
    to: frames,
    frame,
    setFrame,
    drawingAt,
    soundAt: isHeard ? (from, count) => sound.medium(id, from, count) : silent,
    ...previewSize(film.width, film.height),
  });
  const whole: MediumSpan = { first: 0, last: frames - 1 };
  const span = useReelChoice((s) => s.marked.get(id)) ?? whole;
  if (medium === null) return null;
  const lay = (how: LayHow): void => {
    const now = store.snapshot().film!;
    const fault = faultOfLay(now, filmFrame, how);
    if (fault !== null) return store.notify(fault);
    let made = '';
    const where = how === 'insert' ? 'Inserted' : how === 'over' ? 'Laid over' : 'Added';
    store.edit(`${where} ${medium.name}`, (d) => void (made = laySpan(d, media, medium, span, filmFrame, how, newId)));
    chooseShots([made]);
  };
  return {
    medium,
    film,
    frame,
    setFrame,
    framesPerSecond: toNumber(medium.rate),
    drawingAt,
    playback,
    span,
    step: (by: number): void => setFrame(playback.stop() + by),
    goTo: (at: number): void => {
      playback.setSpeed(0);
      setFrame(at);
    },
    markIn: (): void => markSpan(medium.id, { first: frame, last: Math.max(frame, span.last) }),
    markOut: (): void => markSpan(medium.id, { first: Math.min(frame, span.first), last: frame }),
    /** Where it goes: the playhead of the film. */
    filmFrame,
    lay,
    close: (): void => {
      stop();
      lookAt(null);
    },
  };
}

export type SourceWork = NonNullable<ReturnType<typeof useSource>>;
