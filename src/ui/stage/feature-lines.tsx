import type { Film, Media } from '../../core/film/film';
import { kindOf } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import { apply, compose, scaling, translation, type Matrix, type Point } from '../../core/geometry/matrix';
import type { MatchedPlaces } from '../../core/morph/curve-pairs';
import { planFrame } from '../../core/plan/plan-film';
import type { StageView } from '../../core/plan/plan-views';

/** Lines that go over into each other on one frame, and how far they have gone, 0..1. */
export interface ShownLines {
  readonly places: readonly MatchedPlaces[];
  readonly share: number;
  readonly filmWidth: number;
}

/** The lines of a feature morph on a frame of its overlap; null where there are none. */
export function linesAt(film: Film, media: Media, placed: PlacedJoin, frame: number): ShownLines | null {
  if (kindOf(placed.join) !== 'feature morph' || frame < placed.from || frame >= placed.to) return null;
  const contents = planFrame(film, media, frame, { samples: 1 }).layers.map((l) => l.content);
  const melt = contents.find((c) => c.kind === 'melt');
  return melt?.lines == null ? null : { places: melt.lines.places, share: melt.warped, filmWidth: film.width };
}

/** Places of a pair between which a thread is drawn side by side. */
const THREADS = 8;

interface FeatureLinesProps {
  readonly lines: ShownLines;
  readonly view: StageView;
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
}

/** Lines of a feature morph over the picture: those of a shot alone, of both with what belongs together, or as they are warped in the result. */
export function FeatureLines({ lines: { places, share, filmWidth }, view, toStage, size }: FeatureLinesProps) {
  // where the view of both puts each shot
  const half = (side: number): Matrix => compose(compose(scaling(0.495), translation(side * 0.2525 * filmWidth, 0)), toStage);
  const [left, right] = view === 'side by side' ? [half(-1), half(1)] : [toStage, toStage];
  const on = (points: readonly Point[], map: Matrix): Point[] => points.map((p) => apply(map, p));
  return (
    <svg width={size.width} height={size.height} className="pointer-events-none absolute inset-0" data-feature-lines={view}>
      {places.map(({ from, to, closed }, i) => {
        const [a, b] = [on(from, left), on(to, right)];
        const middle = on(
          from.map((p, k) => ({ x: p.x + share * (to[k]!.x - p.x), y: p.y + share * (to[k]!.y - p.y) })),
          toStage,
        );
        const shown =
          view === 'result'
            ? [{ points: middle, ink: 'var(--seam)' }]
            : [
                ...(view === 'entering' ? [] : [{ points: a, ink: 'var(--leaving)' }]),
                ...(view === 'leaving' ? [] : [{ points: b, ink: 'var(--entering)' }]),
              ];
        const every = Math.max(1, Math.round(from.length / THREADS));
        return (
          <g key={i} fill="none" strokeLinejoin="round">
            {view === 'side by side' &&
              a.map((p, k) =>
                k % every === 0 ? (
                  <line key={k} x1={p.x} y1={p.y} x2={b[k]!.x} y2={b[k]!.y} stroke="#fffaf0" strokeWidth="1" opacity="0.55" data-thread />
                ) : null,
              )}
            {shown.map(({ points, ink }) => (
              <g key={ink}>
                <path d={pathOf(points, closed)} stroke="#fffaf0" strokeWidth="4" />
                <path d={pathOf(points, closed)} stroke={ink} strokeWidth="2" />
                <circle cx={points[0]!.x} cy={points[0]!.y} r="4" fill="#fffaf0" stroke={ink} strokeWidth="2" />
              </g>
            ))}
          </g>
        );
      })}
    </svg>
  );
}

const pathOf = (points: readonly Point[], closed: boolean): string =>
  `M${points.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}${closed ? 'Z' : ''}`;
