import type { ShotSide } from '../film/composition';
import type { Film, Media } from '../film/film';
import type { FramePlan } from './frame-plan';
import { joinPlan, reachOf } from './plan-join';
import { plainPlan, plannedEffects, planShot } from './plan-shot';
import { FULL_QUALITY, placesIn, type Planner, type PlanQuality } from './planner';

/**
 * Says what makes film frame `frame`: inside an overlap the join's layers, elsewhere the shot alone; over all of it the film's finish.
 * @throws RangeError when the film has no such frame.
 */
export function planFrame(film: Film, media: Media, frame: number, quality: PlanQuality = FULL_QUALITY): FramePlan {
  const plan = unfinished(film, media, frame, quality);
  const finish = plannedEffects(film.finish ?? [], frame);
  return finish.length === 0 ? plan : { ...plan, finish: [...plan.finish, ...finish] };
}

function unfinished(film: Film, media: Media, frame: number, quality: PlanQuality): FramePlan {
  const running = placesIn(film).filter((p) => {
    const { from, to } = reachOf(p);
    return frame >= from && frame < to;
  });
  if (running.length > 0) {
    // of two joins that run at once the later works within the entering shot of the earlier
    const inner = running
      .slice(1)
      .reduceRight<FramePlan | null>((plan, p) => joinPlan({ film, media, quality, placed: p }, frame, plan), null);
    const planner: Planner = { film, media, quality, placed: running[0]! };
    return withRest(planner, joinPlan(planner, frame, inner), frame);
  }
  let start = 0;
  for (const shot of film.shots) {
    if (frame >= start && frame < start + shot.length) return plainPlan(film, media, shot, start, frame, quality);
    start += shot.length;
  }
  throw new RangeError(`planFrame: the film has no frame ${frame}`);
}

/** Outside the overlap itself, where only a layer with a span of its own shows, the shot lies under it. */
function withRest(planner: Planner, plan: FramePlan, frame: number): FramePlan {
  const { film, media, placed, quality } = planner;
  if (frame >= placed.from && frame < placed.to) return plan;
  const side: ShotSide = frame < placed.cut ? 'leaving' : 'entering';
  const spanned = new Set(placed.join.layers.filter((l) => l.span !== undefined).map((l) => l.id));
  const only = { ...placed, join: { ...placed.join, layers: placed.join.layers.filter((l) => spanned.has(l.id)) } };
  const over = joinPlan({ ...planner, placed: only }, frame, null);
  const under = planShot(film, media, placed, side, frame, quality);
  // out here only effects of the join that have a span of their own go on
  const finish = plannedEffects(
    placed.join.finish.filter((e) => e.span !== undefined),
    frame - placed.cut,
  );
  return { ...under, layers: [...over.layers, ...under.layers], finish, missing: [...over.missing, ...under.missing] };
}
