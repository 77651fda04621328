/** A line of paint, in pixels. */
export interface Stroke {
  readonly radius: number;
  readonly points: readonly (readonly [number, number])[];
  /** When it was painted among those of its frame; it corrects what came of lower ones. Without one it is among the first. */
  readonly turn?: number;
}

/** Paint on the matte itself, where the picture cannot decide: it covers, or it does not. */
export interface Touch extends Stroke {
  readonly covers: boolean;
}

/** Paint that says what belongs to the subject and what does not. */
export interface Strokes {
  readonly keep: readonly Stroke[];
  readonly drop: readonly Stroke[];
  /** Over hair and the like, where coverage is told from colour pixel by pixel. */
  readonly hair?: readonly Stroke[];
  /** Left, top, width and height of a box that the whole subject lies in: nothing beyond it belongs to it. */
  readonly box?: readonly [number, number, number, number];
  /** Laid on what was cut, in this order. */
  readonly touches?: readonly Touch[];
}

export const hasPaint = ({ keep, drop, hair = [], touches = [] }: Strokes): boolean =>
  keep.length + drop.length + hair.length + touches.length > 0;

const turnOf = ({ turn = 0 }: Stroke): number => turn;

/** Keep and drop strokes parted by when they were painted, the first first; none without strokes. */
export function turnsOf({ keep, drop }: Strokes): Strokes[] {
  const turns = [...new Set([...keep, ...drop].map(turnOf))].sort((a, b) => a - b);
  const ofTurn = (list: readonly Stroke[], turn: number): Stroke[] => list.filter((s) => turnOf(s) === turn);
  return turns.map((turn) => ({ keep: ofTurn(keep, turn), drop: ofTurn(drop, turn) }));
}

/** The turn of the next keep or drop stroke. */
export const nextTurn = ({ keep, drop }: Strokes): number => [...keep, ...drop].reduce((most, s) => Math.max(most, turnOf(s)), 0) + 1;

/** The strokes with every place and radius multiplied by `scale` and moved by (dx, dy) afterwards. */
export function placeStrokes({ keep, drop, hair = [], touches = [], box }: Strokes, scale: number, dx: number, dy: number): Strokes {
  const place = <S extends Stroke>(stroke: S): S => ({
    ...stroke,
    radius: stroke.radius * scale,
    points: stroke.points.map(([x, y]) => [x * scale + dx, y * scale + dy]),
  });
  return {
    keep: keep.map(place),
    drop: drop.map(place),
    hair: hair.map(place),
    touches: touches.map(place),
    ...(box === undefined ? {} : { box: [box[0] * scale + dx, box[1] * scale + dy, box[2] * scale, box[3] * scale] as const }),
  };
}

/** Tells strokes apart; equal strokes give equal text. */
export function markOf(strokes: Strokes): string {
  const { keep, drop, hair = [], touches = [] } = strokes;
  const rest = hair.length > 0 ? [touches, hair] : touches.length > 0 ? [touches] : [];
  const text = JSON.stringify([keep, drop, ...rest]);
  let hash = 2166136261;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 16777619);
  return `${text.length}-${(hash >>> 0).toString(16)}`;
}
