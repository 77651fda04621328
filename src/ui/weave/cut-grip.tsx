import { useRef } from 'react';
import type { FilmMark } from '../../core/film/edits/marks';
import { useHorizontalDrag } from './horizontal-drag';
import { frameBy } from './weave-marks';
import { RULER, useSizes } from './weave-sizes';

interface CutGripProps {
  readonly x: number;
  readonly at: number;
  /** What it is drawn to. */
  readonly marks: readonly FilmMark[];
  /** Rolls the cut by film frames; a preview while dragging. */
  readonly onRoll: (frames: number, final: boolean) => void;
}

/** The cut itself, on the ruler: dragging rolls it, and so do the arrows. */
export function CutGrip({ x, at, marks, onRoll }: CutGripProps) {
  const { cell } = useSizes();
  const start = useRef(at);
  const drag = useHorizontalDrag(onRoll, (cells) => frameBy(start.current + cells, marks, cell) - start.current, 'grip');
  const { justDragged: _, onPointerDown, ...rest } = drag;
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Cut"
      aria-valuenow={at}
      title="The cut: drag to roll it, or use the arrows"
      className="absolute top-0 z-30 flex w-[15px] -translate-x-[8px] cursor-col-resize touch-none items-center justify-center"
      style={{ left: x, height: RULER - 4 }}
      onPointerDown={(event) => {
        start.current = at;
        onPointerDown(event);
      }}
      {...rest}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
        event.preventDefault();
        event.stopPropagation();
        onRoll(event.key === 'ArrowLeft' ? -1 : 1, true);
      }}
    >
      <span className="size-[9px] rotate-45 border border-sheet bg-ink" />
    </div>
  );
}
