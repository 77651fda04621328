import { useRef, type PointerEvent } from 'react';
import { useSizes } from './weave-sizes';

const DRAG_THRESHOLD_PX = 4;

export interface DragHandlers {
  readonly onPointerDown: (event: PointerEvent) => void;
  readonly onPointerMove: (event: PointerEvent) => void;
  readonly onPointerUp: (event: PointerEvent) => void;
  readonly onPointerCancel: () => void;
  /** True right after a drag, so that the click that ends it can be told from a real one. */
  justDragged(): boolean;
}

/**
 * Counts a sideways drag in cells, made whole by `toWhole`; `onMove` hears of every whole cell and of the end. A `grip` holds the pointer
 * at once, however fast it leaves; what has things to click in it does so only when it is dragged.
 */
export function useHorizontalDrag(
  onMove: (cells: number, final: boolean) => void,
  toWhole: (cells: number) => number = Math.round,
  holds: 'grip' | 'things' = 'things',
): DragHandlers {
  const { cell } = useSizes();
  const drag = useRef<{ x: number; cells: number; moved: boolean } | null>(null);
  const dragged = useRef(false);
  return {
    onPointerDown(event) {
      if (event.button === 0) {
        drag.current = { x: event.clientX, cells: 0, moved: false };
        if (holds === 'grip') event.currentTarget.setPointerCapture(event.pointerId);
      }
      dragged.current = false;
    },
    onPointerMove(event) {
      const current = drag.current;
      if (current === null) return;
      const dx = event.clientX - current.x;
      if (!current.moved && Math.abs(dx) < DRAG_THRESHOLD_PX) return;
      if (!current.moved) event.currentTarget.setPointerCapture(event.pointerId);
      current.moved = true;
      const cells = toWhole(dx / cell);
      if (cells !== current.cells) onMove(cells, false);
      current.cells = cells;
    },
    onPointerUp() {
      const current = drag.current;
      drag.current = null;
      if (current?.moved !== true) return;
      dragged.current = true;
      onMove(current.cells, true);
    },
    onPointerCancel() {
      if (drag.current?.moved === true) onMove(0, true);
      drag.current = null;
    },
    justDragged: () => dragged.current,
  };
}
