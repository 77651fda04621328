import type { Film, Media } from '../../core/film/film';
import { placedJoins, startOfShot } from '../../core/film/timing';
import type { FramePlan } from '../../core/plan/frame-plan';
import { planFrame } from '../../core/plan/plan-film';
import { reachOf } from '../../core/plan/plan-join';
import { needsOf } from '../../core/plan/plan-needs';

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Film frames that are drawn alike: of one shot alone, or of joins that run into each other. */
interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** The stretches of a film, in order, without gaps. */
export function stretchesOf(film: Film): readonly Stretch[] {
  const joined: { from: number; to: number }[] = [];
  for (const placed of placedJoins(film)) {
    const { from, to } = reachOf(placed);
    if (to <= from) continue;
    const last = joined.at(-1);
    if (last !== undefined && from < last.to) last.to = Math.max(last.to, to);
    else joined.push({ from, to });
  }
  const cuts = new Set<number>();
  let end = 0;
  for (const shot of film.shots) cuts.add((end += shot.length));
  const borders = [...new Set([0, ...cuts, ...joined.flatMap((j) => [j.from, j.to])])]
    .filter((f) => f >= 0 && f <= end && !joined.some((j) => f > j.from && f < j.to))
    .sort((a, b) => a - b);
  return borders.slice(1).map((to, i) => ({ from: borders[i]!, to }));
}

/** The size each medium is decoded at for some plans: as large as any of them shows it, at most its own. */
export function decodeSizes(plans: Iterable<FramePlan>): ReadonlyMap<string, Size> {
  const sizes = new Map<string, { scale: number; width: number; height: number }>();
  for (const plan of plans)
    for (const { ref, scale } of needsOf(plan).pictures.values()) {
      const known = sizes.get(ref.mediumId)?.scale ?? 0;
      sizes.set(ref.mediumId, { scale: Math.min(1, Math.max(known, scale)), width: ref.width, height: ref.height });
    }
  return new Map(
    [...sizes].map(([id, { scale, width, height }]) => [
      id,
      { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) },
    ]),
  );
}

/**
 * The sizes media are decoded at, stretch by stretch: they follow from the whole of a stretch, so that a frame is the same whatever part of
 * the film is sent out.
 */
export class StretchSizes {
  private readonly film: Film;
  private readonly media: Media;
  private readonly stretches: readonly Stretch[];
  private known: { readonly stretch: Stretch; readonly sizes: ReadonlyMap<string, Size> } | null = null;

  constructor(film: Film, media: Media) {
    this.film = film;
    this.media = media;
    this.stretches = stretchesOf(film);
  }

  /** By medium, for a film frame. @throws RangeError when the film has no such frame */
  at(frame: number): ReadonlyMap<string, Size> {
    if (this.known !== null && frame >= this.known.stretch.from && frame < this.known.stretch.to) return this.known.sizes;
    const stretch = this.stretches.find((s) => frame >= s.from && frame < s.to);
    if (stretch === undefined) throw new RangeError(`StretchSizes: the film has no frame ${frame}`);
    this.known = { stretch, sizes: decodeSizes(this.plansOf(stretch)) };
    return this.known.sizes;
  }

  private *plansOf({ from, to }: Stretch): Iterable<FramePlan> {
    const shot = this.film.shots.findLast((s) => startOfShot(this.film, s.id) <= from)!;
    const isStill = shot.move === undefined && shot.steadying === undefined;
    const isAlone = placedJoins(this.film).every((p) => reachOf(p).from >= to || reachOf(p).to <= from);
    // a shot alone that does not move shows alike on all its frames; of blended ones the next shows how
    const most = isAlone && isStill ? 2 : Infinity;
    for (let frame = from, looked = 0; frame < to && looked < most; frame++) {
      const plan = planFrame(this.film, this.media, frame);
      // one that begins before its medium does shows nothing at first
      if (needsOf(plan).pictures.size > 0) looked++;
      yield plan;
    }
  }
}
