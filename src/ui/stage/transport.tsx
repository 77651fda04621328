'use client';
import { ChevronFirst, ChevronLast, Pause, Play, StepBack, StepForward } from 'lucide-react';
import { IconButton } from '../parts/button';
import type { Playback } from './playback';

interface TransportProps {
  readonly timecode: string;
  readonly note: string;
  readonly playback: Playback;
  readonly framesPerSecond: number;
  readonly onStep: (frames: number) => void;
  readonly onFirst: () => void;
  readonly onLast: () => void;
}

export function Transport({ timecode, note, playback, framesPerSecond, onStep, onFirst, onLast }: TransportProps) {
  const shown = playback.shownPerSecond;
  const wanted = Math.abs(playback.speed) * framesPerSecond;
  const late = shown !== null && shown < Math.floor(Math.min(wanted, 60)) - 1;
  return (
    <div className="flex h-[34px] items-center border-x border-rule bg-sheet px-3">
      <div className="flex w-1/3 min-w-0 items-baseline gap-3">
        <span className="font-mono text-[13px]" data-testid="timecode">
          {timecode}
        </span>
        <span className="truncate text-soft">{note}</span>
      </div>
      <div className="flex w-1/3 items-center justify-center gap-1.5">
        <IconButton label="First frame (Home)" onClick={onFirst}>
          <ChevronFirst size={16} />
        </IconButton>
        <IconButton label="One frame back (←)" onClick={() => onStep(-1)}>
          <StepBack size={15} />
        </IconButton>
        <button
          type="button"
          aria-label={playback.playing ? 'Pause (Space)' : 'Play (Space)'}
          onClick={playback.toggle}
          className="inline-flex h-6 w-8 items-center justify-center rounded-[5px] bg-ink text-sheet"
        >
          {playback.playing ? <Pause size={13} /> : <Play size={13} />}
        </button>
        <IconButton label="One frame on (→)" onClick={() => onStep(1)}>
          <StepForward size={15} />
        </IconButton>
        <IconButton label="Last frame (End)" onClick={onLast}>
          <ChevronLast size={16} />
        </IconButton>
      </div>
      <div className="w-1/3 text-right text-soft" role="status">
        {late ? (
          <span className="text-heed">
            showing {shown} of {Math.round(wanted)} frames a second
          </span>
        ) : (
          `${Number(framesPerSecond.toFixed(3))} frames a second`
        )}
      </div>
    </div>
  );
}
