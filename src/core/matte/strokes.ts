/** A line of paint, in pixels. */
export interface Stroke {
  readonly radius: number;
  readonly points: readonly (readonly [number, number])[];
}

/** Paint that says what belongs to the subject and what does not. */
export interface Strokes {
  readonly keep: readonly Stroke[];
  readonly drop: readonly Stroke[];
}

/** The strokes with every place and radius multiplied by `scale` and moved by (dx, dy) afterwards. */
export function placeStrokes({ keep, drop }: Strokes, scale: number, dx: number, dy: number): Strokes {
  const place = ({ radius, points }: Stroke): Stroke => ({
    radius: radius * scale,
    points: points.map(([x, y]) => [x * scale + dx, y * scale + dy]),
  });
  return { keep: keep.map(place), drop: drop.map(place) };
}

/** Tells strokes apart; equal strokes give equal text. */
export function markOf(strokes: Strokes): string {
  const text = JSON.stringify([strokes.keep, strokes.drop]);
  let hash = 2166136261;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 16777619);
  return `${text.length}-${(hash >>> 0).toString(16)}`;
}
