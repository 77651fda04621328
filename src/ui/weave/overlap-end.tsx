import type { FilmMark } from '../../core/film/edits/marks';
import { useWeaveGrip } from './weave-grip';
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
  const { row, rows } = useSizes();
  const grip = useWeaveGrip(label, `${label}: drag`, at, marks, (frames, final, from) => onMove(end, from + frames, final));
  return (
    <div
      {...grip}
      className="absolute z-20 w-[11px] -translate-x-[6px] cursor-ew-resize touch-none"
      style={{ left: x, top: RULER - 4, height: rows * row + 6 }}
    >
      <div className="absolute inset-y-0 left-[5px] border-l-2 border-dashed border-seam" />
      <div className={`absolute top-0 h-3 w-[7px] bg-seam ${end === 'from' ? 'left-[5px] rounded-r' : 'right-[4px] rounded-l'}`} />
    </div>
  );
}
