'use client';
import { useRef, useState, type ReactNode } from 'react';
import type { Matrix } from '../../core/geometry/matrix';
import type { Drawing } from '../../core/plan/plan-views';
import { useCommands } from '../commands/use-commands';
import { useTools } from '../store/film-context';
import { useGuides } from '../store/guide-choice';
import { Guides } from './guides';
import { StageTools } from './stage-tools';
import { useDrawn } from './use-drawn';
import { useFullScreen } from './use-full-screen';
import { useStagePlace } from './use-stage-place';

interface StageProps {
  readonly filmWidth: number;
  readonly filmHeight: number;
  /** What to show; null shows the empty well. */
  readonly drawing: Drawing | null;
  /** CSS colour under a cut-out; a checker without one. */
  readonly ground?: string | null;
  /** Names the drawing for tests and screen readers, such as 'result, frame 12'. */
  readonly caption: string;
  readonly header?: ReactNode;
  readonly footer?: ReactNode;
  /** Drawn over the picture; film pixels from the centre go through the matrix to pixels of the stage. */
  readonly overlay?: (toStage: Matrix, size: { readonly width: number; readonly height: number }) => ReactNode;
}

/** How many times as bright the picture can be shown, to see into the dark. */
const GAINS = [1, 2, 4, 8] as const;

/** The picture in its dark well, with free zoom and pan, also beyond the frame's edge. */
export function Stage({ filmWidth, filmHeight, drawing, ground = null, caption, header, footer, overlay }: StageProps) {
  const { store } = useTools();
  const well = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { isFull, toggleFull } = useFullScreen(well);
  const place = useStagePlace(well, filmWidth, filmHeight, isFull ? 0 : undefined);
  const problem = useDrawn(canvas, drawing, caption, filmWidth, filmHeight);
  const [guides] = useGuides();
  const [gain, setGain] = useState<(typeof GAINS)[number]>(1);
  const openWindow = (): void => {
    if (window.open('/stage', `irimi-stage-${store.filmId}`, 'popup,width=960,height=540') === null)
      store.notify('The browser did not open a second window. Allow windows for this page, then try again.');
  };
  useCommands({ fullScreen: toggleFull, secondWindow: openWindow });

  const { now, fit, size } = place;
  const beyond = now.scale < 0.9 * fit.scale;
  const isCutOut = drawing?.kind === 'cut-out';
  return (
    <div className="flex h-full min-w-0 flex-col bg-well text-well-ink">
      {header}
      <div
        ref={well}
        className={`relative min-h-0 grow touch-none overflow-hidden bg-well ${place.isHeld ? 'cursor-grab' : ''}`}
        {...place.panning}
      >
        <div
          className={`absolute top-1/2 left-1/2 ${!isCutOut ? 'bg-black' : ground === null ? 'checker' : ''}`}
          style={{
            ...(isCutOut && ground !== null ? { background: ground } : {}),
            width: filmWidth * now.scale,
            height: filmHeight * now.scale,
            transform: `translate(-50%, -50%) translate(${now.x}px, ${now.y}px)`,
            outline: '1px solid rgb(255 255 255 / 0.14)',
          }}
        >
          <canvas
            ref={canvas}
            role="img"
            aria-label={caption}
            className="size-full"
            style={gain === 1 ? {} : { filter: `brightness(${gain})` }}
            data-stage
          />
          <Guides choice={guides} width={filmWidth} height={filmHeight} />
        </div>
        {overlay?.(place.toStage, size)}
        {problem !== null && <p className="absolute inset-x-6 bottom-4 rounded bg-black/70 px-3 py-2 text-[#ffb4a8]">{problem}</p>}
      </div>
      <div className="flex h-8 shrink-0 items-center gap-2 px-3 text-[11.5px] text-well-ink/85">
        <StageTools
          place={place}
          gain={gain}
          onGain={() => setGain(GAINS[(GAINS.indexOf(gain) + 1) % GAINS.length]!)}
          onFullScreen={toggleFull}
          onSecondWindow={openWindow}
        />
        <span className="min-w-0 grow truncate">{beyond ? 'showing beyond the frame edge' : 'wheel zooms · hold Z and drag to move'}</span>
        {footer}
      </div>
    </div>
  );
}
