'use client';
import { useCallback, useEffect, useLayoutEffect, useRef, useState, type PointerEvent } from 'react';
import { compose, scaling, translation, type Matrix } from '../../core/geometry/matrix';
import { useCommands } from '../commands/use-commands';

const MARGIN = 12;
export const ZOOM_STEP = 1.25;

/** Where the frame lies on the stage: stage pixels per film pixel, and the frame's centre from the stage's. */
export interface Place {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

export interface StagePlace {
  readonly size: Size;
  readonly now: Place;
  /** Where the whole frame shows. */
  readonly fit: Place;
  /** Film pixels from the frame's centre to pixels of the stage. */
  readonly toStage: Matrix;
  readonly isHeld: boolean;
  zoom(factor: number): void;
  /** Shows the whole frame, or with `beyond` what lies around it too. */
  fitFrame(beyond?: boolean): void;
  readonly panning: {
    readonly onPointerDownCapture: (event: PointerEvent) => void;
    readonly onPointerMove: (event: PointerEvent) => void;
    readonly onPointerUp: () => void;
    readonly onPointerCancel: () => void;
  };
}

/** True while Z is held, which lets the pointer move the picture. */
function useHeldZ(): boolean {
  const [isHeld, setHeld] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key.toLowerCase() === 'z' && !event.ctrlKey && !event.metaKey && !(event.target instanceof HTMLInputElement))
        setHeld(event.type === 'keydown');
    };
    window.addEventListener('keydown', onKey);
    window.addEventListener('keyup', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keyup', onKey);
    };
  }, []);
  return isHeld;
}

/** Free zoom and pan of a frame in its well, by wheel, keys and pointer; also beyond the frame's edge. */
export function useStagePlace(
  well: React.RefObject<HTMLDivElement | null>,
  filmWidth: number,
  filmHeight: number,
  margin = MARGIN,
): StagePlace {
  const [size, setSize] = useState<Size>({ width: 1, height: 1 });
  const [place, setPlace] = useState<Place | null>(null);
  const isHeld = useHeldZ();
  const pan = useRef<{ x: number; y: number; place: Place } | null>(null);
  useLayoutEffect(() => {
    const element = well.current!;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, [well]);

  const fit: Place = {
    scale: Math.max(0.02, Math.min((size.width - 2 * margin) / filmWidth, (size.height - 2 * margin) / filmHeight)),
    x: 0,
    y: 0,
  };
  const now = place ?? fit;
  const zoomAt = useCallback((factor: number, atX: number, atY: number, from: Place) => {
    const scale = Math.max(0.05, Math.min(24, from.scale * factor));
    const ratio = scale / from.scale;
    setPlace({ scale, x: atX - (atX - from.x) * ratio, y: atY - (atY - from.y) * ratio });
  }, []);

  // React's wheel listener is passive; zooming has to stop the page from scrolling
  const latest = useRef(now);
  latest.current = now;
  useEffect(() => {
    const element = well.current!;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const from = latest.current;
      if (event.shiftKey) setPlace({ ...from, x: from.x - event.deltaX - event.deltaY });
      else
        zoomAt(Math.exp(-event.deltaY * 0.0016), event.clientX - box.left - box.width / 2, event.clientY - box.top - box.height / 2, from);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [well, zoomAt]);

  const zoom = (factor: number): void => zoomAt(factor, 0, 0, now);
  useCommands({ zoomIn: () => zoom(ZOOM_STEP), zoomOut: () => zoom(1 / ZOOM_STEP), fitFrame: () => setPlace(null) });

  const endPan = (): void => {
    pan.current = null;
  };
  return {
    size,
    now,
    fit,
    toStage: compose(scaling(now.scale), translation(size.width / 2 + now.x, size.height / 2 + now.y)),
    isHeld,
    zoom,
    fitFrame: (beyond = false) => setPlace(beyond ? { scale: fit.scale * 0.6, x: 0, y: 0 } : null),
    panning: {
      onPointerDownCapture(event) {
        if (!(event.button === 1 || (event.button === 0 && isHeld))) return;
        event.preventDefault();
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        pan.current = { x: event.clientX, y: event.clientY, place: now };
      },
      onPointerMove(event) {
        const from = pan.current;
        if (from !== null) setPlace({ ...from.place, x: from.place.x + event.clientX - from.x, y: from.place.y + event.clientY - from.y });
      },
      onPointerUp: endPan,
      onPointerCancel: endPan,
    },
  };
}
