import { useEffect, useRef, useState, type PointerEvent } from 'react';
import type { BrushMode } from '../../core/matte/cut/brush';
import { apply, invert, lengthScale, type Matrix } from '../../core/geometry/matrix';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import type { Stroke, Strokes } from '../../core/matte/cut/strokes';

interface StrokePainterProps {
  readonly strokes: Strokes;
  readonly coverage: StoredCoverage | null;
  /** Share of the hatch's full strength, 0..1; nothing is hatched at 0. */
  readonly hatch: number;
  readonly mode: BrushMode;
  /** Radius in medium pixels. */
  readonly brush: number;
  readonly mediumWidth: number;
  readonly mediumHeight: number;
  /** Medium pixels from the centre to pixels of the stage. */
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
  readonly doubt: { readonly x: number; readonly y: number } | null;
  readonly onPaint: (stroke: Stroke, final: boolean) => void;
}

/** Least distance of two points of a stroke, in stage pixels. */
const SPACING_PX = 3;
/** How a stroke's line is broken. */
const DASHES = {
  keep: () => undefined,
  drop: (width: number) => `0.1 ${width * 1.5}`,
  hair: () => '7 4',
};
/** The veil over what a stroke covers. */
const REACH_OPACITY = 0.35;

/** A stroke while it is drawn, and where the pointer is. */
function useStroke({ mode, brush, toStage, onPaint }: StrokePainterProps) {
  const [stroke, setStroke] = useState<Stroke | null>(null);
  const [cursor, setCursor] = useState<{ x: number; y: number } | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const drawing = useRef<[number, number][] | null>(null);
  const scale = lengthScale(toStage);
  const fromStage = invert(toStage);

  const stagePoint = (event: PointerEvent): { x: number; y: number } => {
    const box = svg.current!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const made = (): Stroke => {
    const points = drawing.current!;
    const [x0, y0] = points[0]!;
    const [x1, y1] = points.at(-1)!;
    if (mode === 'box')
      return {
        radius: 6 / scale,
        points: [
          [x0, y0],
          [x1, y0],
          [x1, y1],
          [x0, y1],
        ],
      };
    return { radius: mode === 'loop' ? 6 / scale : brush, points: [...points] };
  };

  const onPointerDown = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const p = apply(fromStage, stagePoint(event));
    drawing.current = [[p.x, p.y]];
    setStroke(made());
  };
  const onPointerMove = (event: PointerEvent): void => {
    const at = stagePoint(event);
    setCursor(at);
    const points = drawing.current;
    if (points === null) return;
    const p = apply(fromStage, at);
    const last = points.at(-1)!;
    if (Math.hypot(p.x - last[0], p.y - last[1]) * scale < SPACING_PX) return;
    points.push([p.x, p.y]);
    setStroke(made());
    onPaint(made(), false);
  };
  const onPointerUp = (): void => {
    if (drawing.current === null) return;
    onPaint(made(), true);
    drawing.current = null;
    setStroke(null);
  };
  const onPointerCancel = (): void => {
    drawing.current = null;
    setStroke(null);
  };
  return {
    svg,
    stroke,
    cursor,
    handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel, onPointerLeave: () => setCursor(null) },
  };
}

/** Strokes over the picture with the matte they cut: what is dropped is hatched, the edge is a light line in a dark one. */
export function StrokePainter(props: StrokePainterProps) {
  const { strokes, coverage, hatch, mode, brush, mediumWidth, mediumHeight, toStage, size, doubt } = props;
  const { svg, stroke, cursor, handlers } = useStroke(props);
  const scale = lengthScale(toStage);
  const corner = apply(toStage, { x: -mediumWidth / 2, y: -mediumHeight / 2 });
  return (
    <>
      <MatteCanvas
        coverage={coverage}
        hatch={hatch}
        style={{
          left: 0,
          top: 0,
          width: mediumWidth,
          height: mediumHeight,
          transformOrigin: '0 0',
          transform: `matrix(${toStage[0]}, ${toStage[3]}, ${toStage[1]}, ${toStage[4]}, ${corner.x}, ${corner.y})`,
        }}
      />
      <svg
        ref={svg}
        role="application"
        aria-label="Paint strokes"
        data-painter
        width={size.width}
        height={size.height}
        className="absolute inset-0 cursor-none"
        {...handlers}
      >
        {strokes.keep.map((s, i) => (
          <StrokeLine key={`keep${i}`} stroke={s} kind="keep" toStage={toStage} scale={scale} />
        ))}
        {strokes.drop.map((s, i) => (
          <StrokeLine key={`drop${i}`} stroke={s} kind="drop" toStage={toStage} scale={scale} />
        ))}
        {(strokes.hair ?? []).map((s, i) => (
          <StrokeLine key={`hair${i}`} stroke={s} kind="hair" toStage={toStage} scale={scale} />
        ))}
        {(strokes.touches ?? []).map((s, i) => (
          <StrokeLine key={`touch${i}`} stroke={s} kind={s.covers ? 'keep' : 'drop'} thin toStage={toStage} scale={scale} />
        ))}
        {stroke !== null && (
          <StrokeLine
            stroke={stroke}
            kind={mode === 'hair' ? 'hair' : mode === 'keep' || mode === 'paint in' ? 'keep' : 'drop'}
            thin={mode.startsWith('paint')}
            toStage={toStage}
            scale={scale}
          />
        )}
        {doubt !== null && <DoubtMark at={apply(toStage, doubt)} />}
        {cursor !== null && (
          <g pointerEvents="none">
            <circle
              cx={cursor.x}
              cy={cursor.y}
              r={Math.max(2, brush * scale)}
              fill="none"
              stroke="#23211c"
              strokeWidth="2.5"
              opacity="0.7"
            />
            <circle cx={cursor.x} cy={cursor.y} r={Math.max(2, brush * scale)} fill="none" stroke="#fffaf0" strokeWidth="1.2" />
          </g>
        )}
      </svg>
    </>
  );
}

function DoubtMark({ at }: { readonly at: { readonly x: number; readonly y: number } }) {
  return (
    <g pointerEvents="none" transform={`translate(${at.x} ${at.y})`}>
      <rect x="-8" y="-8" width="16" height="16" transform="rotate(45)" fill="none" stroke="#23211c" strokeWidth="4" />
      <rect x="-8" y="-8" width="16" height="16" transform="rotate(45)" fill="none" stroke="#f0b040" strokeWidth="2" />
    </g>
  );
}

interface StrokeLineProps {
  readonly stroke: Stroke;
  readonly kind: 'keep' | 'drop' | 'hair';
  /** Paint on the matte itself is told by a thin line: the matte under it shows what it does. */
  readonly thin?: boolean;
  readonly toStage: Matrix;
  readonly scale: number;
}

/**
 * Keep is a cream line with a dark rim, drop a dark dashed line with a cream rim, hair a thin dashed line alone: shape tells them
 * apart, not hue. What the stroke covers lies under its line as a veil.
 */
function StrokeLine({ stroke, kind, thin = false, toStage, scale }: StrokeLineProps) {
  const points = stroke.points.map(([x, y]) => apply(toStage, { x, y }));
  const d =
    points.map((p, i) => `${i === 0 ? 'M' : 'L'}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('') + (points.length === 1 ? 'h0.01' : '');
  const width = thin || kind === 'hair' ? 1.5 : Math.max(3, Math.min(6, stroke.radius * scale * 0.7));
  const [inner, rim] = kind !== 'drop' ? ['#fffaf0', '#23211c'] : ['#23211c', '#fffaf0'];
  return (
    <g pointerEvents="none" fill="none" strokeLinecap="round" strokeLinejoin="round" data-stroke={kind}>
      {!thin && <path d={d} stroke="#fffaf0" strokeWidth={2 * stroke.radius * scale} opacity={REACH_OPACITY} />}
      {kind !== 'hair' && <path d={d} stroke={rim} strokeWidth={width + 3} />}
      <path d={d} stroke={inner} strokeWidth={width} strokeDasharray={DASHES[kind](width)} />
    </g>
  );
}

function MatteCanvas({ coverage, hatch, style }: { coverage: StoredCoverage | null; hatch: number; style: React.CSSProperties }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const target = canvas.current!;
    if (coverage === null) {
      target.width = target.height = 1;
      target.dataset.cover = '';
      return;
    }
    const { width, height, data } = coverage;
    Object.assign(target, { width, height });
    const picture = new ImageData(width, height);
    let covered = 0;
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        const v = data[i]!;
        const inside = v >= 128;
        if (inside) covered++;
        const turns =
          (x + 1 < width && data[i + 1]! >= 128 !== inside) ||
          (y + 1 < height && data[i + width]! >= 128 !== inside) ||
          (x > 0 && data[i - 1]! >= 128 !== inside) ||
          (y > 0 && data[i - width]! >= 128 !== inside);
        const o = 4 * i;
        if (turns) {
          // the light line lies on the inside, the dark one around it
          picture.data.fill(inside ? 250 : 30, o, o + 3);
          picture.data[o + 3] = 255;
        } else if (!inside && hatch > 0) {
          const line = (x + y) % 9 < 2;
          picture.data.fill(line ? 235 : 20, o, o + 3);
          picture.data[o + 3] = (line ? 95 : 105) * hatch;
        }
      }
    }
    target.getContext('2d')!.putImageData(picture, 0, 0);
    target.dataset.cover = (covered / (width * height)).toFixed(4);
  }, [coverage, hatch]);
  return <canvas ref={canvas} aria-hidden data-matte className="pointer-events-none absolute" style={style} />;
}
