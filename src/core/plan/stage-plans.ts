import type { Layer, ShotSide } from '../film/composition';
import type { Film, Media } from '../film/film';
import { mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../film/timing';
import { IDENTITY, type Matrix } from '../geometry/matrix';
import type { EdgeStyle } from '../geometry/polygon-raster';
import type { FramePlan } from './frame-plan';
import { planLayer } from './plan-layer';
import { planMattes } from './plan-mattes';
import { emptyPlan, planShot } from './plan-shot';
import { shotFraming } from './shot-framing';

/** One layer of a join alone as it stands on a frame, whatever its mattes and opacity; what its small picture shows. */
export function planLayerAlone(film: Film, media: Media, placed: PlacedJoin, layer: Layer, frame: number): FramePlan {
  const made = planLayer({ film, media, placed, quality: { samples: 1 } }, { ...layer, mattes: [], opacity: 1, effects: [] }, frame);
  return { ...emptyPlan(film), layers: made.layers.slice(0, 1).map((l) => ({ ...l, blend: 'normal' })) };
}

/** One shot with a single matte on its inside, whether a layer uses that matte or not; its edge as it is, or drawn as it is used. */
export function planMatteAlone(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  side: ShotSide,
  matteId: string,
  frame: number,
  edge: EdgeStyle = { growPx: 0, featherPx: 0 },
): FramePlan {
  const plan = planShot(film, media, placed, side, frame);
  const medium = mediumOf(media, placed[side]);
  const use = { matteId, side: 'inside', growPx: edge.growPx, featherPx: edge.featherPx } as const;
  return {
    ...plan,
    layers: plan.layers.map((l) => {
      const mediumFrame = l.content.kind === 'picture' ? l.content.picture.frame : 0;
      const own = { medium, frame: mediumFrame, framing: l.matrix, map: IDENTITY };
      return {
        ...l,
        mattes: planMattes(
          { film, media, placed, quality: { samples: 1 } },
          { source: { kind: side }, mattes: [use] },
          own,
          frame - placed.cut,
        ),
      };
    }),
  };
}

/** The matrix and medium frame under which a matte of `side` is drawn over the stage at a film frame. */
export function matteSpace(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  side: ShotSide,
  frame: number,
): { readonly matrix: Matrix; readonly mediumFrame: number | null } {
  const shot = placed[side];
  const medium = mediumOf(media, shot);
  if (medium === null) return { matrix: IDENTITY, mediumFrame: null };
  const mediumFrame = shotFrameAt(film, media, shot, startsAround(placed)[side], frame);
  return { matrix: shotFraming(film, medium, shot, mediumFrame ?? 0, frame - startsAround(placed)[side]), mediumFrame };
}
