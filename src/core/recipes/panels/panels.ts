import type { Effect, Layer } from '../../film/composition';
import type { Film, Media } from '../../film/film';
import { PANEL_LAYOUTS, PANEL_ORDERS, TIMED_ON, type PanelsSettings } from '../../film/recipe-settings';
import { mediumFrameAt, mediumOf, type PlacedJoin } from '../../film/timing';
import { easedKeys } from '../../motion/eases';
import { earliestOf, hasBeats, momentsBefore } from '../beats';
import type { KindOfJoin } from '../kind';
import { idOf, madeLayer } from '../made-layers';
import { fault, note } from '../next-thing';

/** How far a slice reaches under those that come after it, film pixels: their soft edge has something under it. */
const UNDER_PX = 2;

/** A slice of the frame as the effect "crop" takes it: shares taken from its sides, in per cent, along axes turned by `turn` degrees. */
export interface Slice {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
  readonly turn: number;
}

/** In which order `count` things come: the place in space of the first, the second … */
export function orderOf(count: number, order: PanelsSettings['order']): readonly number[] {
  const places = Array.from({ length: count }, (_, i) => i);
  if (order === 'forwards') return places;
  if (order === 'backwards') return places.reverse();
  if (order === 'from the middle') return places.sort((a, b) => Math.abs(a - (count - 1) / 2) - Math.abs(b - (count - 1) / 2) || a - b);
  // steps of a share of the whole that meet no place twice
  let step = Math.max(1, Math.round(count * 0.618));
  while (greatestDivisor(step, count) > 1) step++;
  return places.map((i) => (i * step + Math.floor(count / 2)) % count);
}

const greatestDivisor = (a: number, b: number): number => (b === 0 ? a : greatestDivisor(b, a % b));

/** Columns and rows of a layout: a grid is as near to square as its count allows, its last row filled by wider ones. */
function rowsOf(count: number, layout: PanelsSettings['layout']): readonly number[] {
  if (layout === 'level') return Array.from({ length: count }, () => 1);
  if (layout !== 'grid') return [count];
  const rows = Math.max(1, Math.round(Math.sqrt(count)));
  return Array.from({ length: rows }, (_, i) => Math.floor(((i + 1) * count) / rows) - Math.floor((i * count) / rows));
}

/**
 * The slices of a frame in the order they come. Together they fill it: each reaches a little under those that come after it and lie over it, so that
 * their edges show no gap.
 */
export function slicesOf(
  { count, layout, order, slant }: Pick<PanelsSettings, 'count' | 'layout' | 'order' | 'slant'>,
  width: number,
  height: number,
): readonly Slice[] {
  const turn = layout === 'slanted' ? slant : 0;
  const [c, s] = [Math.abs(Math.cos((turn * Math.PI) / 180)), Math.abs(Math.sin((turn * Math.PI) / 180))];
  const [across, down] = [(100 * UNDER_PX) / (width * c + height * s), (100 * UNDER_PX) / (width * s + height * c)];
  const rows = rowsOf(count, layout);
  const cells = rows.flatMap((columns, row) =>
    Array.from({ length: columns }, (_, column) => ({
      left: (100 * column) / columns,
      right: 100 - (100 * (column + 1)) / columns,
      top: (100 * row) / rows.length,
      bottom: 100 - (100 * (row + 1)) / rows.length,
    })),
  );
  const less = (share: number, by: number): number => (share <= 0 ? 0 : Math.max(0, share - by));
  const come = orderOf(cells.length, order).map((place) => cells[place]!);
  return come.map(({ left, right, top, bottom }, i) => {
    // the last one lies over all others
    const under = i === come.length - 1 ? 0 : 1;
    return {
      left: less(left, under * across),
      right: less(right, under * across),
      top: less(top, under * down),
      bottom: less(bottom, under * down),
      turn,
    };
  });
}

/** The film frames on which the slices land, in the order they come. */
export function landingsOf(film: Film, media: Media, placed: PlacedJoin, settings: PanelsSettings): readonly number[] {
  const { count, on, every, early, earlyBy } = settings;
  const moments = momentsBefore(film, media, placed.cut, count, on, every);
  const landings = moments.map((frame, i) => frame - (i >= count - early ? earlyBy : 0));
  // whatever comes early, none comes before the one before it, or before all of them may
  return landings.map((frame, i) => Math.max(earliestOf(placed), frame, ...landings.slice(0, i)));
}

const dying = (
  kind: Effect['kind'],
  id: string,
  amount: string,
  from: number,
  value: number,
  frames: number,
  rest: Effect['params'],
): Effect => ({
  id,
  kind,
  visible: true,
  span: { first: from, last: from + frames - 1 },
  params: { ...rest, [amount]: easedKeys('soft stop', [from, value], [from + frames, 0]) },
});

/** The first picture of the entering shot comes slice by slice, over the leaving shot; with the cut it runs. */
export const panels: KindOfJoin<PanelsSettings> = {
  name: 'Panels on the beat',
  made: 'panels on the beat',
  does: 'the next shot lands slice by slice',
  need: null,
  comesAtOnce: true,
  quick: { count: 4, on: 'frames', every: 4, diesIn: 3 },
  defaults: {
    count: 5,
    layout: 'upright',
    slant: 20,
    order: 'forwards',
    on: 'beats',
    every: 6,
    early: 0,
    earlyBy: 3,
    shakePx: 10,
    kickStops: 1.2,
    blurPx: 60,
    diesIn: 6,
  },
  fields: [
    { name: 'count', label: 'Panels', kind: 'number', unit: '', min: 2, max: 24, step: 1 },
    { name: 'layout', label: 'Layout', kind: 'choice', options: PANEL_LAYOUTS },
    { name: 'slant', label: 'Slant', kind: 'number', unit: '°', min: -80, max: 80, step: 1, when: (s) => s.layout === 'slanted' },
    { name: 'order', label: 'Order', kind: 'choice', options: PANEL_ORDERS },
    { name: 'on', label: 'Every', kind: 'choice', options: TIMED_ON },
    { name: 'every', label: 'Count', kind: 'number', unit: 'fr', min: 1, max: 120, step: 1, when: (s) => s.on === 'frames' },
    { name: 'early', label: 'Last panels early', kind: 'number', unit: '', min: 0, max: 24, step: 1 },
    { name: 'earlyBy', label: 'Early by', kind: 'number', unit: 'fr', min: 1, max: 48, step: 1, when: (s) => s.early > 0 },
    { name: 'shakePx', label: 'Shake', kind: 'number', unit: 'px', min: 0, max: 200, step: 1 },
    { name: 'kickStops', label: 'Light hit, stops', kind: 'number', unit: '', min: 0, max: 5, step: 0.1 },
    { name: 'blurPx', label: 'Blur', kind: 'number', unit: 'px', min: 0, max: 400, step: 1 },
    { name: 'diesIn', label: 'Fade out over', kind: 'number', unit: 'fr', min: 1, max: 48, step: 1 },
  ],
  shortest: 2,
  longest: 5000,
  usual: 24,
  endsWithCut: true,
  overlap: (film, media, placed, settings) => ({ before: placed.cut - landingsOf(film, media, placed, settings)[0]!, after: 0 }),
  make({ film, media, join, placed, settings }) {
    const { entering, leaving, cut } = placed;
    const medium = mediumOf(media, entering);
    const frame = medium === null ? 0 : Math.max(0, Math.min(medium.frames - 1, mediumFrameAt(film, entering, medium, 0)));
    const landings = landingsOf(film, media, placed, settings);
    const { shakePx, kickStops, blurPx, diesIn, layout, slant } = settings;
    const along = layout === 'level' ? 0 : layout === 'slanted' ? 90 + slant : 90;
    const layers = slicesOf(settings, film.width, film.height).map((slice, i): Layer => {
      const at = landings[i]! - cut;
      const id = (role: string): string => idOf(join, `${role}-${i}`);
      return {
        ...madeLayer(join, `panel-${i}`, `Panel ${i + 1}`, { kind: 'held', side: 'entering', frame }),
        span: { first: at, last: -1 },
        // the picture moves within its slice: no border of a slice ever gapes
        effects: [
          ...(shakePx > 0 ? [dying('shake', id('shake'), 'strengthPx', at, shakePx, diesIn, { everyFrames: 2, seed: i + 1 })] : []),
          ...(blurPx > 0 ? [dying('directional blur', id('blur'), 'lengthPx', at, blurPx, diesIn, { angle: along })] : []),
          ...(kickStops > 0 ? [dying('exposure', id('kick'), 'stops', at, kickStops, diesIn, {})] : []),
          { id: id('slice'), kind: 'crop', visible: true, params: { ...slice } },
        ],
      };
    });
    return { layers: [...layers.reverse(), madeLayer(join, 'leaving', leaving.name, { kind: 'leaving' })] };
  },
  notes(film, media, placed, settings) {
    const landings = landingsOf(film, media, placed, settings);
    const told = note(
      `The first lands on ${landings[0]!}, the last on ${landings.at(-1)!}; the shot runs from ${placed.cut} on.`,
      landings[0],
    );
    const lacking = settings.on === 'beats' && !hasBeats(film, media, placed.cut, settings.count);
    const first = placed.cut - placed.leaving.length;
    const early = momentsBefore(film, media, placed.cut, settings.count, settings.on, settings.every).filter((m) => m < first).length;
    return [
      told,
      ...(lacking
        ? [fault(`There are not ${settings.count} beats before the cut: one lands every ${settings.every} frames instead.`)]
        : []),
      ...(early > 0
        ? [fault(`${placed.leaving.name} is too short for all of them: the first ${early} come with its first frame.`, first)]
        : []),
    ];
  },
};
