'use client';
import { useEffect, useRef, useState } from 'react';
import type { Film } from '../../core/film/film';
import { formatTimecode, parseTimecode } from '../../core/film/timing';
import { hint } from '../commands/commands';
import { useCommands } from '../commands/use-commands';
import { NumberField } from '../parts/number-field';
import { ChevronFirst, ChevronLast, Pause, Play, StepBack, StepForward } from 'lucide-react';
import { IconButton } from '../parts/button';
import { useOneStop } from '../parts/one-stop';
import { SoundMeter } from '../sound/sound-meter';
import type { Playback } from './playback';

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
  useCommands({
    typeFrame: () => place.current?.querySelector<HTMLInputElement>('input[aria-label="Frame"]')?.focus(),
  });
  const shown = playback.shownPerSecond;
  const wanted = Math.abs(playback.speed) * framesPerSecond;
  const late = shown !== null && shown < Math.floor(Math.min(wanted, 60)) - 1;
  return (
    <div className="grid h-[34px] grid-cols-[minmax(max-content,1fr)_auto_minmax(0,1fr)] items-center gap-3 border-x border-rule bg-sheet px-3">
      <div ref={place} className="flex items-center gap-2">
        <TimecodeField film={film} frame={frame} onGoTo={onGoTo} />
        <NumberField label="Frame" value={frame} min={0} max={Math.max(0, length - 1)} onCommit={onGoTo} />
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
  );
}

/** hh:mm:ss:ff, or the last parts of it. What cannot be read is not taken. */
function TimecodeField({ film, frame, onGoTo }: { readonly film: Film; readonly frame: number; readonly onGoTo: (frame: number) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const now = formatTimecode(film, frame);
  useEffect(() => setDraft(null), [now]);
  const typed = draft === null ? null : parseTimecode(film, draft);
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
