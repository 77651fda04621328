import type { LinePair, MeltSource, ShotSide } from '../film/composition';
import { byId, type Film } from '../film/film';
import { drawnPoints } from '../film/mattes';
import { mediumOf, mediumPlaceAt, startsAround } from '../film/timing';
import { IDENTITY } from '../geometry/matrix';
import { transformPoint } from '../matte/outline/outline';
import { matchedPlaces, type DrawnLine, type MatchedPlaces } from '../morph/curve-pairs';
import { anchorsOf } from '../morph/melt-frames';
import { channelAt } from '../motion/curve';
import type { Content, MeltStep, PlannedLayer } from './frame-plan';
import { planMattes } from './plan-mattes';
import { contentAt, plannedShot } from './plan-shot';
import type { Planner } from './planner';

/** Both shots, melted; null where one of them is not ready. */
export function meltContent(planner: Planner, source: MeltSource, frame: number): Content | null {
  const { placed } = planner;
  const step = meltStep(planner, source, frame);
  if (step === null) return null;
  const anchors = anchorsOf(frame - placed.from, placed.to - placed.from).flatMap((a) => {
    const anchor = meltStep(planner, source, placed.from + a);
    return anchor === null ? [] : [anchor];
  });
  return { kind: 'melt', ...step, mixed: shareAt(source.mix, frame - placed.cut), quality: source.quality, anchors };
}

const shareAt = (channel: MeltSource['warp'], time: number): number => Math.max(0, Math.min(1, channelAt(channel, time)));

/** The two pictures that are melted on a frame; null while one of the shots is not ready. */
function meltStep(planner: Planner, source: MeltSource, frame: number): MeltStep | null {
  const { film, placed } = planner;
  const time = frame - placed.cut;
  const [from, to] = (['leaving', 'entering'] as const).map((side) => heldShot(planner, side, frame)) as [LayersOrNone, LayersOrNone];
  if (from === null || to === null) return null;
  const lines = source.lines === undefined ? null : matchedLines(film, source.lines.pairs, from, to);
  return {
    from: subjectOf(planner, source, 'leaving', from, time),
    to: subjectOf(planner, source, 'entering', to, time),
    warped: shareAt(source.warp, time),
    lines: lines === null ? null : { places: lines, borders: source.lines!.borders },
  };
}

type LayersOrNone = readonly PlannedLayer[] | null;

/** A shot's picture with only its subject left, where the subjects alone are melted. */
function subjectOf(
  planner: Planner,
  { subjects }: MeltSource,
  side: ShotSide,
  layers: readonly PlannedLayer[],
  time: number,
): readonly PlannedLayer[] {
  if (subjects === undefined) return layers;
  const { media, placed } = planner;
  const use = { matteId: subjects[side], side: 'inside', growPx: 0, featherPx: 0 } as const;
  return layers.map((l) => {
    const frame = l.content.kind === 'picture' ? l.content.picture.frame : 0;
    const own = { medium: mediumOf(media, placed[side]), frame, framing: l.matrix, map: IDENTITY };
    return { ...l, mattes: planMattes(planner, { source: { kind: side }, mattes: [use] }, own, time) };
  });
}

/** A line of one shot as it lies in the film's frame on the picture that is shown of it. */
function lineInFilm(film: Film, matteId: string, [layer]: readonly PlannedLayer[]): DrawnLine {
  const matte = byId(film.mattes, matteId, 'matte');
  const frame = layer?.content.kind === 'picture' ? layer.content.picture.frame : 0;
  const points = drawnPoints(film, matte, frame).map((p) => transformPoint(p, layer?.matrix ?? IDENTITY));
  return { points, closed: matte.outline.closed };
}

/** Places along each pair of lines that is drawn, film pixels from the centre; null where none is. */
function matchedLines(
  film: Film,
  pairs: readonly LinePair[],
  from: readonly PlannedLayer[],
  to: readonly PlannedLayer[],
): readonly MatchedPlaces[] | null {
  const found = pairs.flatMap(({ leaving, entering }) => {
    const places = matchedPlaces(lineInFilm(film, leaving, from), lineInFilm(film, entering, to));
    return places === null ? [] : [places];
  });
  return found.length === 0 ? null : found;
}

/** A shot as it stands on a frame, held on its medium's first or last picture beyond them; null while that is not ready. */
function heldShot({ film, media, placed }: Planner, side: ShotSide, frame: number): LayersOrNone {
  const shot = placed[side];
  const medium = mediumOf(media, shot);
  if (medium === null) return null;
  const offset = frame - startsAround(placed)[side];
  const place = mediumPlaceAt(film, shot, medium, offset);
  const content = contentAt(medium, Math.max(0, Math.min(medium.frames - 1, place)), shot.time?.between);
  if (content?.kind !== 'picture') return null;
  return [plannedShot(film, medium, shot, content, offset, { samples: 1 })];
}
