import type { Layer } from '../film/composition';
import type { Film } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import { compose, type Matrix } from '../geometry/matrix';
import type { FramePlan, MissingPicture, PlannedLayer } from './frame-plan';
import { layerDepth, planeMap, shutterSamples } from './layer-place';
import { planLayer, type LayerPlan } from './plan-layer';
import { emptyPlan, plannedEffects } from './plan-shot';
import type { Planner } from './planner';

/** The layers of a join in drawing order, front to back. */
function layersInOrder(film: Film, { join, cut }: PlacedJoin, frame: number): readonly Layer[] {
  const shown = join.layers.filter((l) => l.visible);
  if (join.byDepth !== true) return shown;
  const depths = new Map(shown.map((l) => [l.id, layerDepth(film, join, l, frame - cut)]));
  return [...shown].sort((a, b) => depths.get(a.id)! - depths.get(b.id)!);
}

/**
 * A join's picture. Where the next join already runs, the entering shot is what that one makes of it: `inner` plans it, and all that it
 * holds moves, fades and is cut out as the layer that shows the shot.
 */
export function joinPlan(planner: Planner, frame: number, inner: FramePlan | null): FramePlan {
  const { film, placed } = planner;
  const layers: PlannedLayer[] = [];
  const missing: MissingPicture[] = [...(inner?.missing ?? [])];
  for (const layer of layersInOrder(film, placed, frame)) {
    const made = planLayer(planner, layer, frame);
    if (made.missing !== null && !missing.some((m) => m.shotId === made.missing!.shotId)) missing.push(made.missing);
    if (inner !== null && layer.source.kind === 'entering') layers.push(...nested(planner, layer, frame, made, inner));
    else layers.push(...made.layers);
  }
  const finish = plannedEffects(placed.join.finish, frame - placed.cut);
  return { ...emptyPlan(film), layers, finish, missing };
}

/** What the next join makes of a shot, moved as the layer of this join that shows the shot; both moves are blurred by one open shutter. */
function nested(
  { film, placed, quality }: Planner,
  layer: Layer,
  frame: number,
  made: LayerPlan,
  inner: FramePlan,
): readonly PlannedLayer[] {
  const [outer] = made.layers;
  if (outer === undefined) return [];
  const time = frame - placed.cut;
  const mapAt = (at: number): Matrix => planeMap(film, placed.join, layer, at);
  const map = mapAt(time);
  const moments = layer.blur ? shutterSamples(mapAt, time, film.width, film.height, quality.samples, film.shutter) : [];
  const through = (l: PlannedLayer): readonly Matrix[] => {
    if (moments.length === 0) return l.samples.map((m) => compose(m, map));
    const count = Math.max(moments.length, l.samples.length);
    const at = <T>(list: readonly T[], i: number): T | undefined => list[Math.floor((i * list.length) / count)];
    return Array.from({ length: count }, (_, i) => compose(at(l.samples, i) ?? l.matrix, at(moments, i)!));
  };
  return inner.layers.map((l) => ({
    ...l,
    matrix: compose(l.matrix, map),
    samples: through(l),
    opacity: l.opacity * outer.opacity,
    mattes: [...l.mattes.map((m) => ({ ...m, matrix: compose(m.matrix, map) })), ...outer.mattes.map((m) => ({ ...m, rides: false }))],
  }));
}

/** First film frame on which something of a join shows, and the one past the last: its overlap, grown to hold every span. */
export function reachOf({ join, from, to, cut, leaving, entering }: PlacedJoin): { readonly from: number; readonly to: number } {
  const spans = [...join.layers, ...join.finish].flatMap(({ span, visible }) => (span === undefined || !visible ? [] : [span]));
  if (spans.length === 0) return { from, to };
  // it reaches through both its shots at most
  const [least, most] = [cut - leaving.length, cut + entering.length];
  return {
    from: Math.min(from, Math.max(least, Math.min(...spans.map((s) => cut + s.first)))),
    to: Math.max(to, Math.min(most, Math.max(...spans.map((s) => cut + s.last + 1)))),
  };
}
