import { useRef } from 'react';
import type { FilmMark } from '../../core/film/edits/marks';
import { useHorizontalDrag } from './horizontal-drag';
import { frameBy } from './weave-marks';
import { RULER, useSizes } from './weave-sizes';

interface OverlapEndProps {
  readonly end: 'from' | 'to';
  readonly label: string;
  readonly x: number;
  readonly at: number;
  /** What it is drawn to. */
  readonly marks: readonly FilmMark[];
  readonly onMove: (end: 'from' | 'to', frame: number, final: boolean) => void;
}

/** A dashed line with a grip; arrows move it too. */
export function OverlapEnd({ end, label, x, at, marks, onMove }: OverlapEndProps) {
  const { row, cell } = useSizes();
  const start = useRef(at);
  const drag = useHorizontalDrag(
    (cells, final) => onMove(end, start.current + cells, final),
    (cells) => frameBy(start.current + cells, marks, cell) - start.current,
    'grip',
  );
  const { justDragged: _, onPointerDown, ...rest } = drag;
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={at}
      title={`${label}: drag, or use the arrows`}
      className="absolute z-20 w-[11px] -translate-x-[6px] cursor-ew-resize touch-none"
      style={{ left: x, top: RULER - 4, height: 3 * row + 6 }}
      onPointerDown={(event) => {
        start.current = at;
        onPointerDown(event);
      }}
      {...rest}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
        event.preventDefault();
        event.stopPropagation();
        onMove(end, at + (event.key === 'ArrowLeft' ? -1 : 1), true);
      }}
    >
      <div className="absolute inset-y-0 left-[5px] border-l-2 border-dashed border-seam" />
      <div className={`absolute top-0 h-3 w-[7px] bg-seam ${end === 'from' ? 'left-[5px] rounded-r' : 'right-[4px] rounded-l'}`} />
    </div>
  );
}
