import { nextTurn, type Stroke, type Strokes } from './strokes';

/** What the brush does: paint that the cut goes by, a rough start, paint on the matte itself, or taking paint away. */
export type BrushMode = 'keep' | 'drop' | 'box' | 'loop' | 'hair' | 'paint in' | 'paint out' | 'erase';

/** A box or loop keeps what lies within itself made this much smaller, about its middle. */
const WELL_INSIDE = 0.35;
/** Least radius of the line around it, which drops. */
const LEAST_LINE = 2;

/** How far, in pixels, a stroke may lie from the way the brush went. */
const LOOSENESS = 0.25;
const TENTHS = 10;

/**
 * The line with as few points as show it: none of those left out lies further from it than `LOOSENESS` (Douglas and Peucker 1973). A
 * hand that goes slowly over a picture gives hundreds. Places are rounded to a tenth of a pixel.
 */
export function sparse(points: Stroke['points']): Stroke['points'] {
  const kept = new Set([0, points.length - 1]);
  const spans: [number, number][] = [[0, points.length - 1]];
  for (let span = spans.pop(); span !== undefined; span = spans.pop()) {
    const [from, to] = span;
    let [furthest, most] = [-1, LOOSENESS];
    for (let i = from + 1; i < to; i++) {
      const away = distanceToSide(points[i]!, points[from]!, points[to]!);
      if (away > most) [furthest, most] = [i, away];
    }
    if (furthest < 0) continue;
    kept.add(furthest);
    spans.push([from, furthest], [furthest, to]);
  }
  return points.filter((_, i) => kept.has(i)).map(([x, y]) => [Math.round(x * TENTHS) / TENTHS, Math.round(y * TENTHS) / TENTHS]);
}

type Place = Stroke['points'][number];

function distanceToSide([x, y]: Place, [ax, ay]: Place, [bx, by]: Place): number {
  const [dx, dy] = [bx - ax, by - ay];
  const length = dx * dx + dy * dy;
  const along = length === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / length));
  return Math.sqrt((x - ax - along * dx) ** 2 + (y - ay - along * dy) ** 2);
}

/** The strokes after one more move of the brush. */
export function brushed(strokes: Strokes, mode: BrushMode, painted: Stroke): Strokes {
  const stroke = { ...painted, points: sparse(painted.points) };
  const turn = nextTurn(strokes);
  switch (mode) {
    case 'keep':
    case 'drop':
      return { ...strokes, [mode]: [...strokes[mode], { ...stroke, turn }] };
    case 'hair':
      return { ...strokes, hair: [...(strokes.hair ?? []), stroke] };
    case 'paint in':
    case 'paint out':
      return { ...strokes, touches: [...(strokes.touches ?? []), { ...stroke, covers: mode === 'paint in' }] };
    case 'erase':
      return erased(strokes, stroke);
    case 'box':
    case 'loop': {
      const { radius, points } = stroke;
      const cx = points.reduce((sum, p) => sum + p[0], 0) / points.length;
      const cy = points.reduce((sum, p) => sum + p[1], 0) / points.length;
      const inner = points.map(([x, y]): [number, number] => [cx + WELL_INSIDE * (x - cx), cy + WELL_INSIDE * (y - cy)]);
      return {
        ...strokes,
        keep: [...strokes.keep, { radius, points: [...inner, inner[0]!], turn }],
        drop: [...strokes.drop, { radius: Math.max(LEAST_LINE, radius / 2), points: [...points, points[0]!], turn }],
      };
    }
  }
}

/** The strokes that `eraser` does not touch. */
function erased({ keep, drop, hair = [], touches = [] }: Strokes, eraser: Stroke): Strokes {
  const touched = (stroke: Stroke): boolean =>
    stroke.points.some(([x, y]) => eraser.points.some(([px, py]) => (x - px) ** 2 + (y - py) ** 2 < (eraser.radius + stroke.radius) ** 2));
  const left = <S extends Stroke>(list: readonly S[]): S[] => list.filter((s) => !touched(s));
  return { keep: left(keep), drop: left(drop), hair: left(hair), touches: left(touches) };
}
