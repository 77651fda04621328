import { nextTurn, type Stroke, type Strokes } from './strokes';

/** What the brush does: paint that the cut goes by, a rough start, paint on the matte itself, or taking paint away. */
export type BrushMode = 'keep' | 'drop' | 'box' | 'loop' | 'hair' | 'paint in' | 'paint out' | 'erase';

/** A box or loop keeps what lies within itself made this much smaller, about its middle. */
const WELL_INSIDE = 0.35;
/** Least radius of the line around it, which drops. */
const LEAST_LINE = 2;

/** The strokes after one more move of the brush. */
export function brushed(strokes: Strokes, mode: BrushMode, stroke: Stroke): Strokes {
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
