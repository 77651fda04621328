'use client';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Film } from '../../../core/film/film';
import type { SoundFacts } from '../../../core/film/media-facts';
import { setClipSound } from '../../../core/film/edits/sound';
import { SOUND_RATE, SILENCE_DB, type SoundClip } from '../../../core/film/sound';
import { toNumber } from '../../../core/geometry/rational';
import { channelAt, type Channel } from '../../../core/motion/curve';
import { withKeyAt } from '../../../core/motion/key-edits';
import { gainOf } from '../../../core/sound/samples';
import { useTools } from '../../store/film-context';
import { Wave } from '../../sound/wave';
import { clipDragged, levelOfY, levelY, type Grip, type NamedChange } from './clip-drag';
import { LANE_ROW, SNAP_PX } from './sizes';

interface ClipBlockProps {
  readonly film: Film;
  readonly clip: SoundClip;
  readonly sound: SoundFacts | undefined;
  readonly isMuted: boolean;
  readonly selected: boolean;
  readonly perFrame: number;
  readonly left: number;
  readonly top: number;
  /** What of the reel is seen, CSS pixels of the same measure as `left`. */
  readonly view: { readonly from: number; readonly to: number };
  readonly targets: () => readonly number[];
  readonly onSelect: () => void;
  readonly onPreview: (change: NamedChange | null) => void;
  readonly onCommit: (change: NamedChange) => void;
  readonly onClick: (frame: number) => void;
}

const DRAG_PX = 3;

/** What the pointer does to a clip by each of its grips. */
function useClipGrips({ film, clip, sound, perFrame, targets, onSelect, onPreview, onCommit, onClick }: ClipBlockProps) {
  const held = useRef<{ grip: Grip; x: number; y: number; from: SoundClip; film: Film; targets: readonly number[] } | null>(null);
  const changeAt = (event: PointerEvent): NamedChange | null => {
    const grip = held.current;
    if (grip === null || sound === undefined) return null;
    const [dx, dy] = [event.clientX - grip.x, event.clientY - grip.y];
    if (Math.abs(dx) < DRAG_PX && Math.abs(dy) < DRAG_PX) return null;
    return clipDragged(
      { film: grip.film, clip: grip.from, sound, grip: grip.grip, targets: grip.targets, reach: SNAP_PX / perFrame },
      dx / perFrame,
      dy,
    );
  };
  return (grip: Grip) => ({
    onPointerDown: (event: PointerEvent) => {
      if (event.button !== 0) return;
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      onSelect();
      held.current = { grip, x: event.clientX, y: event.clientY, from: clip, film, targets: targets() };
    },
    onPointerMove: (event: PointerEvent) => {
      const change = changeAt(event);
      if (change !== null) onPreview(change);
    },
    onPointerUp: (event: PointerEvent) => {
      const change = changeAt(event);
      const wasMove = held.current?.grip === 'move';
      held.current = null;
      onPreview(null);
      if (change !== null) onCommit(change);
      else if (wasMove) onClick((event.clientX - event.currentTarget.getBoundingClientRect().left) / perFrame + clip.start);
    },
    onPointerCancel: () => {
      held.current = null;
      onPreview(null);
    },
  });
}

/** A sound in a lane: its wave, fades, level and ends, all to be dragged. */
export function ClipBlock(props: ClipBlockProps) {
  const { film, clip, sound, isMuted, selected, perFrame, left, top, view, onSelect } = props;
  const { store } = useTools();
  const width = Math.max(3, clip.length * perFrame);
  const perSample = toNumber(film.rate) / SOUND_RATE;
  const grips = useClipGrips(props);
  const addKey = (x: number, y: number): void =>
    store.edit(`Keyframe of the level of ${clip.name}`, (d) =>
      setClipSound(d, clip.id, { level: withKeyAt(clip.level, Math.round(x / perFrame), levelOfY(y)) }),
    );
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === 'Enter' || event.key === ' ') event.stopPropagation();
  };
  const shownFrom = Math.max(0, view.from - left);
  const shownTo = Math.min(width, view.to - left);
  return (
    <div
      role="button"
      tabIndex={0}
      aria-pressed={selected}
      aria-label={`Sound ${clip.name}, from frame ${Math.round(clip.start)}, ${Math.round(clip.length)} frames`}
      data-clip={clip.id}
      className={`absolute cursor-grab touch-none overflow-hidden rounded-[3px] border bg-entering/12 ${selected ? 'border-ink outline-1 outline-ink outline-solid' : 'border-entering/50'} ${clip.muted || isMuted ? 'opacity-45' : ''}`}
      style={{ left, top, width, height: LANE_ROW }}
      onFocus={onSelect}
      onKeyDown={onKeyDown}
      onDoubleClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        addKey(event.clientX - box.left, event.clientY - box.top);
      }}
      {...grips('move')}
    >
      {sound !== undefined && shownTo > shownFrom && (
        <Wave
          sound={sound}
          left={shownFrom}
          width={shownTo - shownFrom}
          height={LANE_ROW - 2}
          sampleAt={(x) => clip.from * SOUND_RATE + (x + shownFrom) / perFrame / perSample}
          gainAt={(x) => loudness(clip, (x + shownFrom) / perFrame)}
          version={`${clip.from} ${shownFrom} ${perFrame} ${JSON.stringify(clip.level)} ${clip.fadeIn} ${clip.fadeOut} ${clip.length}`}
          colour="text-entering"
        />
      )}
      <span className="pointer-events-none absolute top-0 max-w-full truncate text-[10.5px]" style={{ left: shownFrom + 14 }}>
        {clip.name}
        {clip.muted ? ' · muted' : ''}
      </span>
      <svg className="absolute inset-0 size-full" aria-hidden>
        <polyline
          points={levelPoints(clip, perFrame, width)}
          className="cursor-ns-resize fill-none stroke-seam"
          strokeWidth="1.3"
          pointerEvents="none"
        />
        <polyline
          points={levelPoints(clip, perFrame, width)}
          className="cursor-ns-resize fill-none stroke-transparent"
          strokeWidth="9"
          pointerEvents="stroke"
          data-level
          {...grips('level')}
        >
          <title>Level: drag; double-click adds a keyframe</title>
        </polyline>
        {typeof clip.level !== 'number' &&
          clip.level.map((key, i) => (
            <circle
              key={key.frame}
              cx={key.frame * perFrame}
              cy={levelY(key.value)}
              r="3.6"
              className="cursor-move fill-sheet stroke-seam"
              strokeWidth="1.3"
              pointerEvents="all"
              data-level-key={key.frame}
              {...grips({ key: i })}
            />
          ))}
      </svg>
      {(['start', 'end'] as const).map((end) => (
        <span
          key={end}
          role="presentation"
          data-clip-end={end}
          title={`Trim the ${end}`}
          className={`absolute inset-y-0 w-[6px] cursor-ew-resize hover:bg-ink/20 ${end === 'start' ? 'left-0' : 'right-0'}`}
          {...grips(end)}
        />
      ))}
      <Corner title="Fade in" x={Math.max(0, clip.fadeIn * perFrame - 4)} line={[0, clip.fadeIn * perFrame]} grips={grips('fade in')} />
      <Corner
        title="Fade out"
        x={width - Math.max(8, clip.fadeOut * perFrame + 4)}
        line={[width, width - clip.fadeOut * perFrame]}
        grips={grips('fade out')}
      />
    </div>
  );
}

/** The corner by which a fade is drawn out, and the fade as a slope. */
function Corner({
  title,
  x,
  line,
  grips,
}: {
  readonly title: string;
  readonly x: number;
  readonly line: readonly [number, number];
  readonly grips: object;
}) {
  return (
    <>
      {line[0] !== line[1] && (
        <svg className="pointer-events-none absolute inset-0 size-full" aria-hidden>
          <path d={`M${line[0]} ${LANE_ROW}L${line[1]} 0`} className="stroke-ink/60" strokeWidth="1" />
        </svg>
      )}
      <span
        role="presentation"
        title={title}
        data-fade={title}
        className="absolute top-0 size-2 cursor-ew-resize border border-ink/60 bg-sheet"
        style={{ left: x }}
        {...grips}
      />
    </>
  );
}

/** What is heard of a clip at a frame of its own, 0..1 and above. */
function loudness(clip: SoundClip, frame: number): number {
  const rise = clip.fadeIn > 0 ? Math.min(1, frame / clip.fadeIn) : 1;
  const fall = clip.fadeOut > 0 ? Math.min(1, (clip.length - frame) / clip.fadeOut) : 1;
  const ramp = (share: number): number => Math.sin((Math.PI / 2) * Math.max(0, share));
  return gainOf(channelAt(clip.level, frame), SILENCE_DB) * ramp(rise) * ramp(fall);
}

function levelPoints({ level }: { readonly level: Channel }, perFrame: number, width: number): string {
  if (typeof level === 'number') return `0,${levelY(level)} ${width},${levelY(level)}`;
  const points = level.map((k) => `${k.frame * perFrame},${levelY(k.value)}`);
  return [`0,${levelY(channelAt(level, 0))}`, ...points, `${width},${levelY(level.at(-1)!.value)}`].join(' ');
}
