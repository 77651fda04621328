import { compose, scaling, translation } from '../geometry/matrix';
import type { ShotSide } from '../film/composition';
import type { Film, Media } from '../film/film';
import { shotFrameAt, startsAround, type PlacedJoin } from '../film/timing';
import { corner } from '../matte/outline/outline';
import { pictureOf, type FramePlan, type PlannedLayer } from './frame-plan';
import { FULL_QUALITY, type PlanQuality } from './planner';
import { planFrame } from './plan-film';
import { planMatteAlone } from './stage-plans';
import { planShot } from './plan-shot';

/** Ways to look at a join on the stage. */
export const STAGE_VIEWS = [
  'result',
  'leaving',
  'entering',
  'matte',
  'cut-out',
  'edge',
  'overlay',
  'difference',
  'side by side',
  'split',
] as const;
export type StageView = (typeof STAGE_VIEWS)[number];

/** What to draw: a plan as a picture, its mattes in black and white, one with see-through rest, only where a matte is soft, or how two plans differ. */
export type Drawing =
  | { readonly kind: 'picture' | 'matte' | 'cut-out' | 'edge'; readonly plan: FramePlan }
  | { readonly kind: 'difference'; readonly plan: FramePlan; readonly other: FramePlan };

/** The plans that a drawing is made of. */
export const plansOf = (drawing: Drawing): readonly FramePlan[] =>
  drawing.kind === 'difference' ? [drawing.plan, drawing.other] : [drawing.plan];

/** What lies under a cut-out. */
export const GROUNDS = ['checker', 'colour', 'other shot'] as const;
export type Ground = (typeof GROUNDS)[number];

const withLayers = (plan: FramePlan, layers: readonly PlannedLayer[]): FramePlan => ({ ...plan, layers });

/** The masked layers of one shot, also outside the overlap. */
function masked(film: Film, media: Media, placed: PlacedJoin, side: ShotSide, frame: number): FramePlan {
  const at = shotFrameAt(film, media, placed[side], startsAround(placed)[side], frame);
  const inside = frame >= placed.from && frame < placed.to;
  // outside the overlap the film shows no mattes; the view still does, as if the overlap reached there
  const reaching = inside ? film : widened(film, placed, frame);
  const plan = planFrame(reaching, media, frame, { samples: 1 });
  return withLayers(
    plan,
    plan.layers.filter((l) => {
      const picture = pictureOf(l);
      return picture?.mediumId === placed[side].mediumId && picture.frame === at && l.mattes.length > 0;
    }),
  );
}

function widened(film: Film, placed: PlacedJoin, frame: number): Film {
  const before = Math.max(placed.join.before, placed.cut - frame);
  const after = Math.max(placed.join.after, frame + 1 - placed.cut);
  return {
    ...film,
    joins: [
      ...film.joins
        .filter((j) => j.enteringShotId === placed.entering.id && j.leavingShotId === placed.leaving.id)
        .map((j) => ({ ...j, before, after })),
    ],
  };
}

/**
 * What the stage draws in `view` at a film frame. `mix` in 0..1 is the overlay's share of the entering shot or the place
 * of the split line; `side` is the shot whose mattes are looked at, `matteId` the one to show while no layer uses any.
 * `ground` lies under a cut-out: the other shot is drawn with it, the others are for whoever shows it.
 */
export function drawingOf(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  view: StageView,
  frame: number,
  mix: number,
  side: ShotSide = 'leaving',
  matteId: string | null = null,
  ground: Ground = 'checker',
  quality: PlanQuality = FULL_QUALITY,
): Drawing {
  const looked = (): FramePlan => {
    const used = masked(film, media, placed, side, frame);
    return used.layers.length > 0 || matteId === null ? used : planMatteAlone(film, media, placed, side, matteId, frame);
  };
  const leaving = (): FramePlan => planShot(film, media, placed, 'leaving', frame);
  const entering = (): FramePlan => planShot(film, media, placed, 'entering', frame);
  switch (view) {
    case 'result':
      return { kind: 'picture', plan: planFrame(film, media, frame, quality) };
    case 'leaving':
      return { kind: 'picture', plan: leaving() };
    case 'entering':
      return { kind: 'picture', plan: entering() };
    case 'matte':
      return { kind: 'matte', plan: looked() };
    case 'cut-out': {
      const plan = looked();
      const under = ground === 'other shot' ? nearestPicture(film, media, placed, side === 'leaving' ? 'entering' : 'leaving', frame) : [];
      return { kind: 'cut-out', plan: withLayers(plan, [...plan.layers, ...under]) };
    }
    case 'edge':
      return { kind: 'edge', plan: looked() };
    case 'overlay': {
      const [a, b] = [leaving(), entering()];
      return { kind: 'picture', plan: withLayers(a, [...b.layers.map((l) => ({ ...l, opacity: mix })), ...a.layers]) };
    }
    case 'difference':
      return { kind: 'difference', plan: leaving(), other: entering() };
    case 'side by side': {
      const [a, b] = [leaving(), entering()];
      const half = (plan: FramePlan, x: number): PlannedLayer[] =>
        plan.layers.map((l) => ({
          ...l,
          matrix: compose(l.matrix, compose(scaling(0.495), translation(x, 0))),
          mattes: [frameMatte(plan, x)],
        }));
      return { kind: 'picture', plan: withLayers(a, [...half(a, -0.2525 * a.width), ...half(b, 0.2525 * a.width)]) };
    }
    case 'split': {
      const [a, b] = [leaving(), entering()];
      return {
        kind: 'picture',
        plan: withLayers(a, [...b.layers.map((l) => ({ ...l, mattes: [rightOf((mix - 0.5) * a.width, a)] })), ...a.layers]),
      };
    }
  }
}

/** A shot as it is on `frame` or, where its medium ends before, on the next frame towards the cut that it has. */
function nearestPicture(film: Film, media: Media, placed: PlacedJoin, side: ShotSide, frame: number): readonly PlannedLayer[] {
  const goal = side === 'entering' ? placed.cut : placed.cut - 1;
  for (let at = frame; ; at += Math.sign(goal - at)) {
    const { layers } = planShot(film, media, placed, side, at);
    if (layers.length > 0 || at === goal) return layers;
  }
}

const NO_EDGE = {
  kind: 'outline',
  side: 'inside',
  combine: 'intersect',
  growPx: 0,
  featherPx: 0,
  matrix: scaling(1),
  rides: false,
} as const;

const rectangle = (left: number, top: number, right: number, bottom: number): PlannedLayer['mattes'][number] => ({
  ...NO_EDGE,
  points: [corner(left, top), corner(right, top), corner(right, bottom), corner(left, bottom)],
});

const rightOf = (x: number, { width, height }: FramePlan): PlannedLayer['mattes'][number] => rectangle(x, -height, 2 * width, height);

/** Crops a shot that fills the frame, halved in size around `x`, to its half. */
const frameMatte = ({ width, height }: FramePlan, x: number): PlannedLayer['mattes'][number] =>
  rectangle(x - 0.2475 * width, -0.2475 * height, x + 0.2475 * width, 0.2475 * height);
