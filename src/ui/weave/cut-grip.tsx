import type { FilmMark } from '../../core/film/edits/marks';
import { useWeaveGrip } from './weave-grip';
import { RULER } from './weave-sizes';

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
  const grip = useWeaveGrip('Cut', 'The cut: drag to roll it', at, marks, onRoll);
  return (
    <div
      {...grip}
      className="absolute top-0 z-30 flex w-[15px] -translate-x-[8px] cursor-col-resize touch-none items-center justify-center"
      style={{ left: x, height: RULER - 4 }}
    >
      <span className="size-[9px] rotate-45 border border-sheet bg-ink" />
    </div>
  );
}
