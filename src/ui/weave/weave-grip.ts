import { useRef, type HTMLAttributes } from 'react';
import type { FilmMark } from '../../core/film/edits/marks';
import { useHorizontalDrag } from './horizontal-drag';
import { frameBy } from './weave-marks';
import { useSizes } from './weave-sizes';

/**
 * What a grip on the weave that stands on frame `at` takes: a drag, drawn to `marks`, and the arrows. `onMove` hears by how many frames it
 * goes from where it stood; a preview while dragging.
 */
export function useWeaveGrip(
  label: string,
  title: string,
  at: number,
  marks: readonly FilmMark[],
  onMove: (frames: number, final: boolean, from: number) => void,
): HTMLAttributes<HTMLDivElement> {
  const { cell } = useSizes();
  const start = useRef(at);
  const {
    justDragged: _,
    onPointerDown,
    ...rest
  } = useHorizontalDrag(
    (cells, final) => onMove(cells, final, start.current),
    (cells) => frameBy(start.current + cells, marks, cell) - start.current,
    'grip',
  );
  return {
    role: 'slider',
    tabIndex: 0,
    'aria-label': label,
    'aria-valuenow': at,
    title: `${title}, or use the arrows`,
    onPointerDown: (event) => {
      start.current = at;
      onPointerDown(event);
    },
    ...rest,
    onKeyDown: (event) => {
      if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
      event.preventDefault();
      event.stopPropagation();
      onMove(event.key === 'ArrowLeft' ? -1 : 1, true, at);
    },
  };
}
