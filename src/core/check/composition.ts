import type { Film, Media } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import { apply, cornersOf, depthAt, invert, isFlat, lengthScale, type Matrix } from '../geometry/matrix';
import { pictureOf, type FramePlan, type PlannedLayer } from '../plan/frame-plan';
import { planFrame } from '../plan/plan-film';
import { kindNamed, settingsOf } from '../recipes/kinds';
import type { Finding } from './finding';

/** A picture enlarged more than this is said to be. */
export const MOST_ENLARGED = 12;
/** How much of the frame's width the corners of a shot may gain or lose in speed from a frame to the next where a join is handed over. */
const JUMP_SHARE = 0.02;

/** A layer more transparent than this is hardly seen. */
const LEAST_SEEN = 0.1;

const UNBLURRED = { samples: 1 };

/** What only the composition of a join can get wrong: layers whose own medium runs out or shows too large, and a jump of speed at either end. */
export function checkComposition(film: Film, media: Media, placed: PlacedJoin): Finding[] {
  const plans = new Map<number, FramePlan>();
  const last = film.shots.reduce((sum, s) => sum + s.length, 0) - 1;
  const planOf = (frame: number): FramePlan | null => {
    if (frame < 0 || frame > last) return null;
    const known = plans.get(frame) ?? planFrame(film, media, frame, UNBLURRED);
    plans.set(frame, known);
    return known;
  };
  return [...ownMediaOut(media, placed), ...enlarged(film, media, placed, planOf), ...jumps(film, placed, planOf)];
}

/** Layers of media from the shelf that have no picture on frames on which they should be there. */
function ownMediaOut(media: Media, { join, cut, from, to }: PlacedJoin): Finding[] {
  return join.layers.flatMap((layer): Finding[] => {
    const { source } = layer;
    const medium = source.kind === 'medium' ? media.get(source.mediumId) : undefined;
    if (!layer.visible || source.kind !== 'medium' || medium === undefined || medium.kind === 'still' || layer.time !== undefined)
      return [];
    const first = Math.max(from, cut + (layer.span?.first ?? -Infinity));
    const end = Math.min(to - 1, cut + (layer.span?.last ?? Infinity));
    const has = (frame: number): boolean => {
      const at = source.frame + frame - cut;
      return at >= 0 && at < medium.frames;
    };
    const bare = Array.from({ length: Math.max(0, end - first + 1) }, (_, i) => first + i).filter((f) => !has(f));
    if (bare.length === 0) return [];
    return [
      {
        kind: 'no picture',
        from: bare[0]!,
        to: bare.at(-1)!,
        text: `${layer.name} has no picture on ${bare.length} frames of the overlap: its media has ${medium.frames}.`,
        advice: 'Choose another first picture for it, or shorten its span in Blend.',
        repair: null,
      },
    ];
  });
}

/** How much a layer is enlarged where it is nearest to the frame's middle; 0 where nothing of it is in sight. */
function scaleInSight({ matrix, width, height }: PlannedLayer, film: Film): number {
  if (isFlat(matrix)) return 0;
  const within = (v: number, size: number): number => Math.max(-size / 2, Math.min(size / 2, v));
  const middle = apply(invert(matrix), { x: 0, y: 0 });
  const nearest = { x: within(middle.x, width), y: within(middle.y, height) };
  // what lies behind the eye is seen nowhere
  if (depthAt(matrix, nearest) < 1e-2) return 0;
  const { x, y } = apply(matrix, nearest);
  return Math.abs(x) > film.width / 2 || Math.abs(y) > film.height / 2 ? 0 : lengthScale(matrix, nearest);
}

function enlarged(film: Film, media: Media, placed: PlacedJoin, planOf: (frame: number) => FramePlan | null): Finding[] {
  let most = { scale: 0, frame: placed.from, mediumId: '' };
  for (let frame = placed.from; frame < placed.to; frame++)
    for (const layer of planOf(frame)?.layers ?? []) {
      const picture = pictureOf(layer);
      const scale = picture === null || layer.opacity < LEAST_SEEN ? 0 : scaleInSight(layer, film);
      if (scale > most.scale) most = { scale, frame, mediumId: picture!.mediumId };
    }
  const { recipe } = placed.join;
  if (most.scale <= MOST_ENLARGED) return [];
  const name = media.get(most.mediumId)?.name ?? 'A layer';
  return [
    {
      kind: 'enlarged',
      from: most.frame,
      to: most.frame,
      text: `${name} is enlarged ${most.scale.toFixed(1)} × on frame ${most.frame}; above ${MOST_ENLARGED} × its pixels show.`,
      advice: 'Begin where the hole is larger, leave less room around, or let motion blur hide it.',
      repair: recipe !== undefined && kindNamed(recipe.kind).withoutRoom?.(settingsOf(recipe)) != null ? { kind: 'less room' } : null,
    },
  ];
}

/** Where the corners of what shows most of a medium are. */
function cornersIn(plan: FramePlan | null, mediumId: string): readonly { x: number; y: number }[] | null {
  const layer = plan?.layers.find((l) => pictureOf(l)?.mediumId === mediumId && l.mattes.length === 0 && l.opacity > 0.5) ?? null;
  const matrix: Matrix | undefined = layer?.matrix;
  return matrix === undefined ? null : cornersOf(layer!.width, layer!.height).map((p) => apply(matrix, p));
}

/** Frames at the ends of the overlap between which the shot that goes on gains or loses speed at once. */
function jumps(film: Film, placed: PlacedJoin, planOf: (frame: number) => FramePlan | null): Finding[] {
  if (placed.to - placed.from < 3) return [];
  const ends = [
    { shot: placed.entering, at: placed.to, where: 'ends' },
    { shot: placed.leaving, at: placed.from, where: 'begins' },
  ] as const;
  return ends.flatMap(({ shot, at, where }): Finding[] => {
    const rows = [at - 2, at - 1, at, at + 1].map((f) => cornersIn(planOf(f), shot.mediumId));
    if (rows.includes(null)) return [];
    const [p, q, r, s] = rows as NonNullable<(typeof rows)[number]>[];
    let most = 0;
    p!.forEach((_, i) => {
      const bend = (a: readonly { x: number; y: number }[], b: typeof a, c: typeof a): number =>
        Math.hypot(c[i]!.x - 2 * b[i]!.x + a[i]!.x, c[i]!.y - 2 * b[i]!.y + a[i]!.y);
      most = Math.max(most, bend(p!, q!, r!), bend(q!, r!, s!));
    });
    if (most < JUMP_SHARE * film.width) return [];
    return [
      {
        kind: 'speed jump',
        from: at - 1,
        to: at,
        text: `${shot.name} changes its speed by ${Math.round(most)} px a frame at once where the overlap ${where}.`,
        advice: 'Give the last way a soft stop, or let the move end before the overlap does.',
        repair: null,
      },
    ];
  });
}
