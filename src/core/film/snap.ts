import { marksOfFilm } from './edits/marks';
import type { Film, Media } from './film';
import { filmLength, startOfShot } from './timing';

/** Film frames that edges are drawn to: cuts, ends of sounds, markers and beats; rising. `without` are clips and shots that are being moved. */
export function snapTargets(film: Film, media: Media, without: readonly string[] = []): number[] {
  const clips = (film.soundLanes ?? []).flatMap((l) => l.clips).filter((c) => !without.includes(c.id));
  const cuts = film.shots.filter((s) => !without.includes(s.id)).map((s) => startOfShot(film, s.id));
  const all = [
    ...cuts,
    filmLength(film),
    ...clips.flatMap((c) => [c.start, c.start + c.length]),
    ...marksOfFilm(film, media).map((m) => m.frame),
  ];
  return [...new Set(all)].sort((a, b) => a - b);
}

/** The nearest target within `reach` frames; null where none is. */
export function nearestTarget(frame: number, targets: readonly number[], reach: number): number | null {
  let best: number | null = null;
  for (const target of targets) {
    const away = Math.abs(target - frame);
    if (away <= reach && (best === null || away < Math.abs(best - frame))) best = target;
  }
  return best;
}
