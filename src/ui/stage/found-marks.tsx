'use client';
import { apply, type Matrix, type Point } from '../../core/geometry/matrix';

/** Rings about the places where something was found, over the picture. */
export function FoundMarks({
  places,
  toStage,
  size,
}: {
  /** Film pixels from the centre. */
  readonly places: readonly Point[];
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
}) {
  return (
    <svg width={size.width} height={size.height} className="pointer-events-none absolute inset-0" data-found-marks={places.length}>
      {places.map((place) => {
        const at = apply(toStage, place);
        return (
          <g key={`${place.x} ${place.y}`} fill="none">
            <circle cx={at.x} cy={at.y} r="22" stroke="white" strokeWidth="5" opacity="0.55" />
            <circle cx={at.x} cy={at.y} r="22" stroke="var(--heed)" strokeWidth="2.5" strokeDasharray="7 4" />
          </g>
        );
      })}
    </svg>
  );
}
