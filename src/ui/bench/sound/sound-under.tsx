'use client';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { ShotSide } from '../../../core/film/composition';
import type { FilmMark } from '../../../core/film/edits/marks';
import { setSoundChange } from '../../../core/film/edits/sound';
import type { Film } from '../../../core/film/film';
import { nearestTarget } from '../../../core/film/snap';
import { SOUND_RATE, PLAIN_CHANGE } from '../../../core/film/sound';
import { mediumFramesPerFilmFrame, mediumPlaceAt, startsAround, type PlacedJoin } from '../../../core/film/timing';
import type { Sounds } from '../../../core/film/media-facts';
import { toNumber } from '../../../core/geometry/rational';
import { changeOf, gainsOf, planSound, type Voice } from '../../../core/sound/plan-sound';
import { frameOfSample, sampleOfFrame } from '../../../core/sound/samples';
import type { SecondsSpan } from '../../../core/sound/words';
import { useFilm, useTools } from '../../store/film-context';
import { Wave } from '../../sound/wave';
import type { PreviewChange } from '../../store/preview';
import { selectSpan, useWord } from './word-choice';

export const SOUND_ROW = 26;

/** The rows of sound of a join, from the top: those of shots that have any, and what is heard. */
export const soundRowsOf = (sounds: Sounds, placed: PlacedJoin): readonly (ShotSide | 'heard')[] =>
  (['leaving', 'heard', 'entering'] as const).filter((row) => row === 'heard' || sounds.has(placed[row].mediumId));

interface SoundUnderProps {
  readonly film: Film;
  readonly placed: PlacedJoin;
  readonly x: (frame: number) => number;
  /** First film frame in sight, and the one past the last. */
  readonly from: number;
  readonly to: number;
  /** What the place where sound goes over is drawn to. */
  readonly marks: readonly FilmMark[];
  readonly onPreview: (change: PreviewChange) => void;
  readonly onFrame: (frame: number) => void;
}

/** Film frames within which an edge is drawn to. */
const REACH = 0.35;
/** Seconds within which a selection is drawn to the edge of a silence. */
const EDGE_SECONDS = 0.04;

/** The sound of both shots and of the result, on the cells of the weave, and the handle where it goes over. */
export function SoundUnder({ film, placed, x, from, to, marks, onPreview, onFrame }: SoundUnderProps) {
  const { media, sounds } = useFilm('media', 'sounds');
  const plan = useMemo(() => planSound(film, media, sounds), [film, media, sounds]);
  const perFrame = x(1) - x(0);
  const [left, width] = [x(from), x(to) - x(from)];
  const frameAt = (px: number): number => from + px / perFrame;
  const rows = soundRowsOf(sounds, placed);
  const seen = plan.voices.filter((v) => v.from < sampleOfFrame(film.rate, to) && v.to > sampleOfFrame(film.rate, from));
  return (
    <div role="group" aria-label="Sound of the join" className="relative border-t border-rule" style={{ height: rows.length * SOUND_ROW }}>
      {(['leaving', 'entering'] as const).map((side) => (
        <ShotRow
          key={side}
          side={side}
          top={rows.indexOf(side) * SOUND_ROW}
          film={film}
          placed={placed}
          left={left}
          width={width}
          perFrame={perFrame}
          from={from}
          to={to}
        />
      ))}
      <div
        className="absolute inset-x-0 bg-seam/10"
        style={{ top: rows.indexOf('heard') * SOUND_ROW, height: SOUND_ROW }}
        onClick={(e) => onFrame(Math.floor(frameAt(e.clientX - e.currentTarget.getBoundingClientRect().left - left)))}
      >
        {seen.map((voice) => (
          <VoiceWave key={voice.id} voice={voice} film={film} placed={placed} left={left} width={width} frameAt={frameAt} />
        ))}
      </div>
      <ChangeHandle film={film} placed={placed} x={x} perFrame={perFrame} marks={marks.map((m) => m.frame)} onPreview={onPreview} />
    </div>
  );
}

function VoiceWave({
  voice,
  film,
  placed,
  left,
  width,
  frameAt,
}: {
  readonly voice: Voice;
  readonly film: Film;
  readonly placed: PlacedJoin;
  readonly left: number;
  readonly width: number;
  readonly frameAt: (px: number) => number;
}) {
  const { sounds } = useFilm('sounds');
  const sound = sounds.get(voice.mediumId);
  if (sound === undefined) return null;
  const gain = new Float32Array(1);
  const sampleAt = (px: number): number => sampleOfFrame(film.rate, frameAt(px));
  const colour = voice.id === placed.leaving.id ? 'text-leaving' : voice.id === placed.entering.id ? 'text-entering' : 'text-soft';
  return (
    <Wave
      sound={sound}
      left={left}
      width={width}
      height={SOUND_ROW}
      sampleAt={(px) => voice.placeAt(sampleAt(px))}
      gainAt={(px) => {
        const at = sampleAt(px);
        if (at < voice.from || at >= voice.to) return 0;
        gainsOf(voice, film.rate, at, 1, gain);
        return gain[0]!;
      }}
      fills
      version={`${left} ${voice.from} ${voice.to} ${voice.placeAt(voice.from)} ${JSON.stringify([voice.level, voice.ramps])}`}
      colour={colour}
    />
  );
}

/** One shot's own sound, as far as its medium has any; a word is selected by dragging over it. */
function ShotRow({
  side,
  top,
  film,
  placed,
  left,
  width,
  perFrame,
  from,
  to,
}: {
  readonly side: ShotSide;
  readonly top: number;
  readonly film: Film;
  readonly placed: PlacedJoin;
  readonly left: number;
  readonly width: number;
  readonly perFrame: number;
  readonly from: number;
  readonly to: number;
}) {
  const { media, sounds } = useFilm('media', 'sounds');
  const word = useWord();
  const drag = useRef<number | null>(null);
  const shot = placed[side];
  const medium = media.get(shot.mediumId);
  const sound = sounds.get(shot.mediumId);
  const silences = useSilences(film, placed, side);
  if (medium === undefined || sound === undefined) return null;
  const start = startsAround(placed)[side];
  const rate = toNumber(medium.rate);
  const secondAt = (frame: number): number => mediumPlaceAt(film, shot, medium, frame - start) / rate;
  // words are said at their own speed: a place is found back by the shot's plain rate
  const frameOf = (second: number): number =>
    shot.time === undefined
      ? start + (second * rate - shot.inFrame) / mediumFramesPerFilmFrame(film, medium)
      : nearestFrame(second, secondAt, from, to);
  const pxOf = (second: number): number => left + (frameOf(second) - from) * perFrame;
  const edges = silences.flatMap((s) => [s.start, s.end]);
  const secondUnder = (event: PointerEvent): number => {
    const at = secondAt(from + (event.clientX - event.currentTarget.getBoundingClientRect().left - left) / perFrame);
    return nearestTarget(at, edges, EDGE_SECONDS) ?? Math.max(0, at);
  };
  const isOwn = word.joinId === placed.join.id;
  const selected = isOwn && word.side === side ? word.span : null;
  const found = isOwn && word.found !== null ? (word.side === side ? word.found.a : word.found.b) : null;
  return (
    <div
      data-sound-row={side}
      title="Drag to select a word"
      className="absolute inset-x-0 cursor-text touch-none overflow-hidden"
      style={{ top, height: SOUND_ROW }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = secondUnder(event);
      }}
      onPointerMove={(event) => {
        if (drag.current === null) return;
        const at = secondUnder(event);
        if (Math.abs(at - drag.current) > 0.02)
          selectSpan(placed.join.id, side, { start: Math.min(at, drag.current), end: Math.max(at, drag.current) });
      }}
      onPointerUp={(event) => {
        if (drag.current !== null && Math.abs(secondUnder(event) - drag.current) <= 0.02) selectSpan(placed.join.id, side, null);
        drag.current = null;
      }}
    >
      <Wave
        sound={sound}
        left={left}
        width={width}
        height={SOUND_ROW}
        sampleAt={(px) => secondAt(from + px / perFrame) * SOUND_RATE}
        fills
        version={`${left} ${shot.inFrame} ${start} ${JSON.stringify(shot.time ?? null)}`}
        colour={side === 'leaving' ? 'text-leaving' : 'text-entering'}
      />
      {silences.map((s) => (
        <span
          key={s.start}
          data-silence
          className="pointer-events-none absolute bottom-0 h-[3px] border-x border-ink/60 bg-ink/15"
          style={{ left: pxOf(s.start), width: Math.max(1, pxOf(s.end) - pxOf(s.start)) }}
        />
      ))}
      {[selected, found].map((span, i) =>
        span === null ? null : (
          <span
            key={i}
            data-word={i === 0 ? 'selected' : 'found'}
            className={`pointer-events-none absolute inset-y-0 border-x ${i === 0 ? 'border-ink bg-ink/15' : 'border-seam bg-seam/25'}`}
            style={{ left: pxOf(span.start), width: Math.max(1, pxOf(span.end) - pxOf(span.start)) }}
          />
        ),
      )}
    </div>
  );
}

function nearestFrame(second: number, secondAt: (frame: number) => number, from: number, to: number): number {
  let best = from;
  for (let f = from; f < to; f += 0.25) if (Math.abs(secondAt(f) - second) < Math.abs(secondAt(best) - second)) best = f;
  return best;
}

/** Seconds around the cut in which silences are looked for. */
const AROUND = 30;

/** The silences of a shot's medium around the cut. */
function useSilences(film: Film, placed: PlacedJoin, side: ShotSide): readonly SecondsSpan[] {
  const { sound: client } = useTools();
  const { media, sounds } = useFilm('media', 'sounds');
  const [spans, setSpans] = useState<readonly SecondsSpan[]>([]);
  const within = soundAround(
    film,
    placed,
    side,
    media.get(placed[side].mediumId)?.rate,
    sounds.get(placed[side].mediumId)?.samples,
    AROUND,
  );
  const { mediumId } = placed[side];
  const key = within === null ? '' : `${mediumId} ${Math.floor(within.start / 10)} ${Math.ceil(within.end / 10)}`;
  const wanted = useRef(within);
  wanted.current = within;
  useEffect(() => {
    let isGone = false;
    setSpans([]);
    if (wanted.current !== null)
      client.silences(mediumId, wanted.current).then(
        (found) => !isGone && setSpans(found),
        () => undefined, // the row shows no silences then; the wave says that the sound is missing
      );
    return () => void (isGone = true);
  }, [client, mediumId, key]);
  return spans;
}

/** The seconds of a shot's medium around the cut, within its sound. */
export function soundAround(
  film: Film,
  placed: PlacedJoin,
  side: ShotSide,
  rate: Film['rate'] | undefined,
  samples: number | undefined,
  reach: number,
): SecondsSpan | null {
  if (rate === undefined || samples === undefined) return null;
  const shot = placed[side];
  const offset = side === 'leaving' ? shot.length : 0;
  const cut = (shot.inFrame + (offset * toNumber(rate)) / toNumber(film.rate)) / toNumber(rate);
  const span = { start: Math.max(0, cut - reach), end: Math.min(samples / SOUND_RATE, cut + reach) };
  return span.end > span.start ? span : null;
}

interface HandleProps {
  readonly film: Film;
  readonly placed: PlacedJoin;
  readonly x: (frame: number) => number;
  readonly perFrame: number;
  readonly marks: readonly number[];
  readonly onPreview: (change: PreviewChange) => void;
}

/** Sound change: dragged by itself, by hundredths of a frame, drawn to whole frames and beats. */
function ChangeHandle({ film, placed, x, perFrame, marks, onPreview }: HandleProps) {
  const { store } = useTools();
  const held = useRef<{ x: number; at: number } | null>(null);
  const { join, cut } = placed;
  const change = join.sound ?? PLAIN_CHANGE;
  const { enters, leaves } = changeOf(film, placed);
  const middle = frameOfSample(film.rate, (enters + leaves) / 2);
  const isFixed = change.kind === 'leaving only' || change.kind === 'entering only';
  const to = (event: PointerEvent): number => {
    const at = held.current!.at + (event.clientX - held.current!.x) / perFrame;
    const frame = nearestTarget(cut + at, [...marks, Math.round(cut + at)], REACH) ?? cut + at;
    return Math.round((frame - cut) * 100) / 100;
  };
  const moved =
    (at: number): PreviewChange =>
    (d) =>
      setSoundChange(d, join.id, { at });
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (by === undefined || isFixed) return;
    event.preventDefault();
    event.stopPropagation();
    store.edit('Moved the sound change', moved(Math.round((change.at + by * (event.shiftKey ? 0.1 : 1)) * 100) / 100));
  };
  return (
    <>
      {leaves > enters && (
        <span
          className="pointer-events-none absolute inset-y-0 bg-seam/25"
          style={{
            left: x(frameOfSample(film.rate, enters)),
            width: x(frameOfSample(film.rate, leaves)) - x(frameOfSample(film.rate, enters)),
          }}
        />
      )}
      <span
        role="slider"
        tabIndex={0}
        aria-label="Sound change"
        aria-valuenow={change.at}
        aria-valuetext={`${change.at} frames from the cut, ${change.kind}`}
        aria-disabled={isFixed}
        title={isFixed ? `Sound: ${change.kind}` : 'Sound change: drag; arrows move it by a frame, with Shift by a tenth'}
        className={`absolute inset-y-0 z-10 w-[11px] -translate-x-1/2 touch-none ${isFixed ? '' : 'cursor-ew-resize'}`}
        style={{ left: x(middle) }}
        onKeyDown={onKeyDown}
        onPointerDown={(event) => {
          event.stopPropagation();
          if (isFixed) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          held.current = { x: event.clientX, at: change.at };
        }}
        onPointerMove={(event) => held.current !== null && onPreview(moved(to(event)))}
        onPointerUp={(event) => {
          if (held.current === null) return;
          const at = to(event);
          held.current = null;
          if (at !== change.at) store.edit('Moved the sound change', moved(at));
        }}
      >
        <span className="absolute inset-y-0 left-[5px] w-px bg-seam" />
        <span className="absolute top-1/2 left-[1px] size-[9px] -translate-y-1/2 rotate-45 border border-seam bg-sheet" />
      </span>
    </>
  );
}
