'use client';
import { Grid3x3, Maximize, Sun, ZoomIn, ZoomOut } from 'lucide-react';
import { useCallback, useEffect, useLayoutEffect, useRef, useState, type PointerEvent, type ReactNode } from 'react';
import { scaling, translation, compose, type Matrix } from '../../core/geometry/matrix';
import type { Drawing } from '../../core/plan/plan-views';
import { hint } from '../commands/commands';
import { useCommands } from '../commands/use-commands';
import { useOneStop } from '../parts/one-stop';
import { useMatteChanges, useTools } from '../store/film-context';
import { usePreference } from '../store/preferences';

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
  /** Called with how long a new picture took from the change that asked for it. */
  readonly onDrawn?: (milliseconds: number) => void;
}

const PREVIEW_WIDTH = 960;
const MARGIN = 12;
const ZOOM_STEP = 1.25;
/** How many times as bright the picture can be shown, to see into the dark. */
const GAINS = [1, 2, 4, 8] as const;

export function previewSize(filmWidth: number, filmHeight: number): { width: number; height: number } {
  const width = Math.min(PREVIEW_WIDTH, filmWidth);
  return { width, height: Math.max(1, Math.round((width * filmHeight) / filmWidth)) };
}

/** Where the frame lies on the stage: stage pixels per film pixel, and the frame's centre from the stage's. */
interface Place {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

/** The picture in its dark well, with free zoom and pan, also beyond the frame's edge. */
export function Stage({ filmWidth, filmHeight, drawing, ground = null, caption, header, footer, overlay, onDrawn }: StageProps) {
  const { frames } = useTools();
  const matteChanges = useMatteChanges(drawing);
  const well = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 1, height: 1 });
  const [place, setPlace] = useState<Place | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [holdsZ, setHoldsZ] = useState(false);
  const [hasGuides, setGuides] = usePreference('guides', false);
  const tools = useOneStop<HTMLDivElement>();
  const [gain, setGain] = useState<(typeof GAINS)[number]>(1);
  const pan = useRef<{ x: number; y: number; place: Place } | null>(null);

  useLayoutEffect(() => {
    const element = well.current!;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const fit: Place = {
    scale: Math.max(0.02, Math.min((size.width - 2 * MARGIN) / filmWidth, (size.height - 2 * MARGIN) / filmHeight)),
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
  }, [zoomAt]);

  useCommands({
    zoomIn: () => zoomAt(ZOOM_STEP, 0, 0, now),
    zoomOut: () => zoomAt(1 / ZOOM_STEP, 0, 0, now),
    fitFrame: () => setPlace(null),
  });

  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key.toLowerCase() === 'z' && !event.ctrlKey && !event.metaKey && !(event.target instanceof HTMLInputElement))
        setHoldsZ(event.type === 'keydown');
    };
    window.addEventListener('keydown', onKey);
    window.addEventListener('keyup', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keyup', onKey);
    };
  }, []);

  useEffect(() => {
    const target = canvas.current!;
    if (drawing === null) {
      target.getContext('2d')!.clearRect(0, 0, target.width, target.height);
      target.dataset.drawn = '';
      return;
    }
    let wanted = true;
    const began = performance.now();
    const { width, height } = previewSize(filmWidth, filmHeight);
    const show = (bitmap: ImageBitmap): void => {
      if (target.width !== width || target.height !== height) Object.assign(target, { width, height });
      const context = target.getContext('2d')!;
      context.clearRect(0, 0, width, height);
      context.drawImage(bitmap, 0, 0);
      target.dataset.drawn = caption;
      setProblem(null);
      onDrawn?.(performance.now() - began);
    };
    const ready = frames.cached(drawing, width, height);
    if (ready !== null) show(ready);
    else
      frames.draw(drawing, width, height, 'now').then(
        (bitmap) => {
          if (wanted && bitmap !== null) show(bitmap);
        },
        (error: Error) => {
          if (wanted) setProblem(`This frame could not be drawn: ${error.message}.`);
        },
      );
    return () => {
      wanted = false;
    };
    // the caption changes with the drawing; onDrawn is a measuring aid
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [frames, matteChanges, JSON.stringify(drawing), caption, filmWidth, filmHeight]);

  const startPan = (event: PointerEvent): void => {
    if (!(event.button === 1 || (event.button === 0 && holdsZ))) return;
    event.preventDefault();
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    pan.current = { x: event.clientX, y: event.clientY, place: now };
  };
  const movePan = (event: PointerEvent): void => {
    if (pan.current !== null)
      setPlace({
        ...pan.current.place,
        x: pan.current.place.x + event.clientX - pan.current.x,
        y: pan.current.place.y + event.clientY - pan.current.y,
      });
  };
  const endPan = (): void => {
    pan.current = null;
  };

  const toStage = compose(scaling(now.scale), translation(size.width / 2 + now.x, size.height / 2 + now.y));
  const beyond = now.scale < 0.9 * fit.scale;
  return (
    <div className="flex h-full min-w-0 flex-col bg-well text-well-ink">
      {header}
      <div
        ref={well}
        className={`relative min-h-0 grow touch-none overflow-hidden ${holdsZ ? 'cursor-grab' : ''}`}
        onPointerDownCapture={startPan}
        onPointerMove={movePan}
        onPointerUp={endPan}
        onPointerCancel={endPan}
      >
        <div
          className={`absolute top-1/2 left-1/2 ${drawing?.kind !== 'cut-out' ? 'bg-black' : ground === null ? 'checker' : ''}`}
          style={{
            ...(drawing?.kind === 'cut-out' && ground !== null ? { background: ground } : {}),
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
          {hasGuides && <Guides />}
        </div>
        {overlay?.(toStage, size)}
        {problem !== null && <p className="absolute inset-x-6 bottom-4 rounded bg-black/70 px-3 py-2 text-[#ffb4a8]">{problem}</p>}
      </div>
      <div className="flex h-8 shrink-0 items-center gap-2 px-3 text-[11.5px] text-well-ink/85">
        <div {...tools} role="toolbar" aria-label="How the picture is looked at" className="flex shrink-0 items-center gap-2">
          <IconOnWell label={hint('zoomOut')} onClick={() => zoomAt(1 / ZOOM_STEP, 0, 0, now)}>
            <ZoomOut size={14} />
          </IconOnWell>
          <span data-zoom className="w-10 text-center font-mono">
            {Math.round(100 * now.scale)} %
          </span>
          <IconOnWell label={hint('zoomIn')} onClick={() => zoomAt(ZOOM_STEP, 0, 0, now)}>
            <ZoomIn size={14} />
          </IconOnWell>
          <IconOnWell label={hint('fitFrame')} onClick={() => setPlace(null)}>
            <Maximize size={13} />
          </IconOnWell>
          <IconOnWell label="Look beyond the frame" onClick={() => setPlace({ scale: fit.scale * 0.6, x: 0, y: 0 })}>
            <span className="relative block size-3.5 border border-dashed border-current">
              <span className="absolute inset-[3px] bg-current" />
            </span>
          </IconOnWell>
          <IconOnWell
            label="Show the picture brighter, on this stage only"
            onClick={() => setGain(GAINS[(GAINS.indexOf(gain) + 1) % GAINS.length]!)}
          >
            <Sun size={14} />
          </IconOnWell>
          <IconOnWell label={hasGuides ? 'Hide the guides' : 'Guides: thirds and the middle'} onClick={() => setGuides(!hasGuides)}>
            <Grid3x3 size={14} />
          </IconOnWell>
        </div>
        {gain > 1 && <span className="shrink-0 font-mono">{gain} × as bright</span>}
        <span className="min-w-0 grow truncate">{beyond ? 'showing beyond the frame edge' : 'wheel zooms · hold Z and drag to move'}</span>
        {footer}
      </div>
    </div>
  );
}

/** Lines over the frame at its thirds, dashed ones through its middle. */
function Guides() {
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" viewBox="0 0 600 600" preserveAspectRatio="none" data-guides>
      {[200, 300, 400].map((at) => (
        <g key={at} stroke="#fffaf0" strokeOpacity="0.55" {...(at === 300 ? { strokeDasharray: '3 6' } : {})}>
          <line x1={at} x2={at} y1="0" y2="600" vectorEffect="non-scaling-stroke" />
          <line y1={at} y2={at} x1="0" x2="600" vectorEffect="non-scaling-stroke" />
        </g>
      ))}
    </svg>
  );
}

function IconOnWell({ label, onClick, children }: { readonly label: string; readonly onClick: () => void; readonly children: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="inline-flex size-5 items-center justify-center rounded hover:bg-white/10"
    >
      {children}
    </button>
  );
}
