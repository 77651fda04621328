import type { FilmMark } from '../../core/film/edits/marks';
import { nearestTarget } from '../../core/film/snap';
import { RULER } from './weave-sizes';

/** Frames and CSS pixels from which what is dragged is drawn to the frame of a beat or a marker: the greater of the two. */
const REACH = 0.75;
const REACH_PX = 7;

/** The whole frame nearest to a place; beats and markers draw it to theirs from a little further. `perFrame`: CSS pixels. */
export const frameBy = (place: number, marks: readonly FilmMark[], perFrame: number): number =>
  nearestTarget(
    place,
    marks.map((m) => Math.floor(m.frame)),
    Math.max(REACH, REACH_PX / perFrame),
  ) ?? Math.round(place);

interface WeaveMarksProps {
  readonly marks: readonly FilmMark[];
  readonly x: (frame: number) => number;
  /** On the ruler they are ticks, under the rows lines through all that lies there. */
  readonly on: 'ruler' | 'rows below';
}

const INK = { beat: 'bg-ink/20', downbeat: 'bg-ink/40', marker: 'bg-heed', 'medium marker': 'bg-heed' } as const;

/** Beats and markers on the cells of the weave. */
export function WeaveMarks({ marks, x, on }: WeaveMarksProps) {
  return marks.map((m, i) => (
    <span
      key={i}
      data-mark={m.kind}
      title={m.name}
      className={`absolute ${INK[m.kind]} ${on === 'ruler' ? 'top-0 z-10 w-[2px]' : 'pointer-events-none inset-y-0 w-px'}`}
      style={{ left: x(m.frame), ...(on === 'ruler' ? { height: m.kind === 'beat' ? RULER / 3 : RULER } : {}) }}
    />
  ));
}
