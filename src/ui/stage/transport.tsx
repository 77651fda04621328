'use client';
import { useEffect, useRef, useState } from 'react';
import type { Film } from '../../core/film/film';
import { clockText, parseClock, type Clock } from '../../core/format/clock';
import { hint } from '../commands/commands';
import { useCommands } from '../commands/use-commands';
import { NumberField } from '../parts/number-field';
import { ChevronFirst, ChevronLast, Pause, Play, StepBack, StepForward } from 'lucide-react';
import { IconButton } from '../parts/button';
import { useOneStop } from '../parts/one-stop';
import { SoundMeter } from '../sound/sound-meter';
import type { Playback } from './playback';
import { useClock } from '../store/clock';
import { LiveFrameContext, useLiveFrame } from '../store/live-frame';

interface TransportProps {
  readonly film: Film;
  readonly frame: number;
  /** Frames of the film. */
  readonly length: number;
  readonly playback: Playback;
  readonly framesPerSecond: number;
  readonly onGoTo: (frame: number) => void;
  readonly onStep: (frames: number) => void;
  readonly onFirst: () => void;
  readonly onLast: () => void;
}

/** The playhead in frames and timecode, both to be typed, and the buttons that move it. */
export function Transport({ film, frame, length, playback, framesPerSecond, onGoTo, onStep, onFirst, onLast }: TransportProps) {
  const place = useRef<HTMLDivElement>(null);
  const buttons = useOneStop<HTMLDivElement>();
  const [clock, switchClock] = useClock(film.rate);
  useCommands({
    switchClock,
    typeFrame: () => place.current?.querySelector<HTMLInputElement>('input[aria-label="Frame"]')?.focus(),
  });
  const shown = playback.shownPerSecond;
  const wanted = Math.abs(playback.speed) * framesPerSecond;
  const late = shown !== null && shown < Math.floor(Math.min(wanted, 60)) - 1;
  return (
    <LiveFrameContext value={playback.live}>
      <div className="grid h-[34px] grid-cols-[minmax(max-content,1fr)_auto_minmax(0,1fr)] items-center gap-3 border-x border-rule bg-sheet px-3">
        <div ref={place} className="flex items-center gap-2">
          <TimecodeField film={film} frame={frame} clock={clock} onGoTo={onGoTo} />
          <button
            type="button"
            title={hint('switchClock', `Time as ${clock}`)}
            className="-ml-1 rounded px-1 text-[11px] text-soft hover:bg-pressed"
            onClick={switchClock}
          >
            {CLOCK_SIGN[clock]}
          </button>
          <FrameField frame={frame} length={length} onGoTo={onGoTo} />
          <span className="text-soft">of {length}</span>
        </div>
        <div {...buttons} role="toolbar" aria-label="Playing and stepping" className="flex items-center justify-center gap-1.5">
          <IconButton label={hint('first')} onClick={onFirst}>
            <ChevronFirst size={16} />
          </IconButton>
          <IconButton label={hint('stepBack')} onClick={() => onStep(-1)}>
            <StepBack size={15} />
          </IconButton>
          <button
            type="button"
            aria-label={hint('playOrStop', playback.playing ? 'Pause' : 'Play')}
            onClick={playback.toggle}
            className="inline-flex h-6 w-8 items-center justify-center rounded-[5px] bg-ink text-sheet"
          >
            {playback.playing ? <Pause size={13} /> : <Play size={13} />}
          </button>
          <IconButton label={hint('stepOn')} onClick={() => onStep(1)}>
            <StepForward size={15} />
          </IconButton>
          <IconButton label={hint('last')} onClick={onLast}>
            <ChevronLast size={16} />
          </IconButton>
        </div>
        <div className="flex min-w-0 items-center justify-end gap-2">
          <SoundMeter playing={playback.playing} />
          <div className="truncate text-right text-soft" role="status">
            {late ? (
              <span className="text-heed">
                showing {shown} of {Math.round(wanted)} frames a second
              </span>
            ) : (
              <span className="max-[1100px]:hidden">{Number(framesPerSecond.toFixed(3))} fps</span>
            )}
          </div>
        </div>
      </div>
    </LiveFrameContext>
  );
}

const CLOCK_SIGN: Readonly<Record<Clock, string>> = { timecode: 'tc', 'drop-frame': 'drop', frames: 'fr', seconds: 'sec' };

interface FrameFieldProps {
  readonly frame: number;
  readonly length: number;
  readonly onGoTo: (frame: number) => void;
}

function FrameField({ frame, length, onGoTo }: FrameFieldProps) {
  return <NumberField label="Frame" value={useLiveFrame(frame)} min={0} max={Math.max(0, length - 1)} onCommit={onGoTo} />;
}

/** The place of the playhead, to be typed over by the same clock, or the last parts of it. What cannot be read is not taken. */
function TimecodeField({
  film,
  frame,
  clock,
  onGoTo,
}: {
  readonly film: Film;
  readonly frame: number;
  readonly clock: Clock;
  readonly onGoTo: (frame: number) => void;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const now = clockText(film.rate, useLiveFrame(frame), clock);
  useEffect(() => setDraft(null), [now]);
  const typed = draft === null ? null : parseClock(film.rate, draft, clock);
  return (
    <input
      aria-label="Timecode"
      data-testid="timecode"
      className={`w-[104px] shrink-0 rounded-[4px] bg-transparent px-1 font-mono text-[13px] hover:bg-pressed ${draft !== null && typed === null ? 'text-fault' : ''}`}
      value={draft ?? now}
      onChange={(e) => setDraft(e.target.value)}
      onFocus={(e) => e.target.select()}
      onBlur={() => {
        if (typed !== null) onGoTo(typed);
        setDraft(null);
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') setDraft(null);
        if (e.key === 'Enter' || e.key === 'Escape') requestAnimationFrame(() => (e.target as HTMLInputElement).blur());
      }}
    />
  );
}
