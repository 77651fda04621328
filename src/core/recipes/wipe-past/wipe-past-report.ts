import { compose, scaling, translation } from '../../geometry/matrix';
import { sideOf, type MatteUse } from '../../film/composition';
import { byId, type Film, type Matte, type Media } from '../../film/film';
import { handlesOf, mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../../film/timing';
import { fillPolygon, HARD_EDGE, polygonArea } from '../../geometry/polygon-raster';
import { drawnPoints } from '../../film/mattes';
import { flattenOutline, transformPoint } from '../../matte/outline/outline';
import { shotFraming } from '../../plan/shot-framing';

const RASTER_HEIGHT = 180;
/** Shares of the frame below which a hole, a rest or a shrinkage is nothing but rounding. */
const NOTHING = 1e-6;
const SHRINK_SHARE = 0.0005;

/** What the outline of a wipe hides of the leaving shot over time. Frames are film frames. */
export interface WipeReport {
  /** First frame looked at; `hidden[i]` is the share of the frame, 0..1, hidden on frame `start + i`. */
  readonly start: number;
  readonly hidden: readonly number[];
  /** First frame with a hole; null when there never is one. */
  readonly firstHole: number | null;
  /** First frame from which on the whole frame stays hidden; null when something always shows. */
  readonly fullFrom: number | null;
  /** Frame on which most is hidden; null without a hole. */
  readonly widest: number | null;
  /** Frames that show again what the frame before had hidden. */
  readonly shrinks: readonly number[];
}

/** The matte that makes the hole of a wipe: the first the leaving layer uses on its outside. */
export function wipeMatte(film: Film, placed: PlacedJoin): { readonly matte: Matte; readonly use: MatteUse } | null {
  for (const layer of placed.join.layers) {
    if (sideOf(layer) !== 'leaving') continue;
    const use = layer.mattes.find((m) => m.side === 'outside');
    if (use !== undefined) return { matte: byId(film.mattes, use.matteId, 'matte'), use };
  }
  return null;
}

/** Follows the wipe's outline over every frame on which the leaving shot has a picture; null without a closed outline. */
export function reportWipe(film: Film, media: Media, placed: PlacedJoin): WipeReport | null {
  const found = wipeMatte(film, placed);
  const medium = mediumOf(media, placed.leaving);
  if (found === null || medium === null || !found.matte.outline.closed) return null;
  const starts = startsAround(placed);
  const width = Math.max(1, Math.round((RASTER_HEIGHT * film.width) / film.height));
  const fromFilm = compose(scaling(width / film.width, RASTER_HEIGHT / film.height), translation(width / 2, RASTER_HEIGHT / 2));
  const end = placed.cut + Math.min(handlesOf(film, placed.leaving, medium).after, placed.entering.length);
  const start = starts.leaving;
  const hidden: number[] = [];
  const shrinks: number[] = [];
  let previous = new Uint8Array(width * RASTER_HEIGHT);
  let current = new Uint8Array(width * RASTER_HEIGHT);
  for (let frame = start; frame < end; frame++) {
    const at = shotFrameAt(film, media, placed.leaving, start, frame);
    const points =
      at === null
        ? []
        : drawnPoints(film, found.matte, at).map((p) =>
            transformPoint(p, compose(shotFraming(film, medium, placed.leaving, at), fromFilm)),
          );
    const polygon = flattenOutline(points);
    fillPolygon(polygon, HARD_EDGE, width, RASTER_HEIGHT, current);
    hidden.push(Math.min(1, polygonArea(polygon, width, RASTER_HEIGHT) / (width * RASTER_HEIGHT)));
    let lost = 0;
    for (let i = 0; i < current.length; i++) lost += Math.max(0, previous[i]! - current[i]!);
    if (lost / 255 / current.length > SHRINK_SHARE) shrinks.push(frame);
    [previous, current] = [current, previous];
  }
  const first = hidden.findIndex((share) => share > NOTHING);
  const lastPartial = hidden.findLastIndex((share) => share < 1 - NOTHING);
  const most = hidden.reduce((best, share, i) => (share > hidden[best]! ? i : best), 0);
  return {
    start,
    hidden,
    firstHole: first < 0 ? null : start + first,
    fullFrom: lastPartial === hidden.length - 1 ? null : start + lastPartial + 1,
    widest: first < 0 ? null : start + most,
    shrinks,
  };
}
