import type { Layer } from '../../film/composition';
import { CUT_OUT_WAYS, TIMED_ON, type CutOutSettings } from '../../film/recipe-settings';
import { filmFrameOf, mediumFrameAt, mediumOf, startsAround, type PlacedJoin } from '../../film/timing';
import type { Film, Media } from '../../film/film';
import type { EdgeStyle } from '../../geometry/polygon-raster';
import { type Channel } from '../../motion/curve';
import { EASES_OF_MOVES, easedKeys } from '../../motion/eases';
import { STILL, type Motion } from '../../motion/motion';
import { planMatteAlone } from '../../plan/stage-plans';
import { earliestOf, momentsBefore } from '../beats';
import { FEATHER_PX, held, otherOf, trimmings, type Parts } from './cut-out-parts';
import { MOST_ENLARGED, pullingBack, zoomAt } from './cut-out-pull';
import type { KindOfJoin, Made, Measured } from '../kind';
import { lackingMatte } from '../lacking-matte';
import { madeLayer } from '../made-layers';
import { fault, note, type Note } from '../next-thing';

/** Frames in which a cut-out that came down is at rest again, at most. */
const PUNCH_FRAMES = 6;

/** Film frame whose picture is frozen: the one that was chosen or, without a choice, the first of the entering shot; of the leaving one its last, or the one on which the hole begins to open. */
function frozenAt(film: Film, media: Media, placed: PlacedJoin, { side, way, moment }: CutOutSettings): number {
  const { cut, from } = placed;
  const medium = mediumOf(media, placed[side]);
  if (moment != null && medium !== null) return Math.round(filmFrameOf(film, placed, side, medium, moment));
  return side === 'entering' ? cut : way === 'lands' ? cut - 1 : from;
}

/** The frozen picture: its medium's frame. */
function heldFrame(film: Film, media: Media, placed: PlacedJoin, settings: CutOutSettings): number {
  const { side } = settings;
  const medium = mediumOf(media, placed[side]);
  if (medium === null) return 0;
  const atCut = mediumFrameAt(film, placed[side], medium, frozenAt(film, media, placed, settings) - startsAround(placed)[side]);
  const frame = settings.moment ?? atCut;
  return Math.max(0, Math.min(medium.frames - 1, frame));
}

/** How the edge of the hole is drawn: by the layers that have it, as a hand has left them. */
const edgeOf = ({ join }: PlacedJoin, matteId: string): EdgeStyle =>
  join.layers.flatMap((l) => l.mattes).find((m) => m.matteId === matteId && m.side === 'outside') ?? { growPx: 0, featherPx: FEATHER_PX };

/** A part of the frozen picture comes down over the leaving shot, ahead of the cut. */
function landing(parts: Parts): Made {
  const { film, media, join, placed, settings } = parts.making;
  const leaving = madeLayer(join, 'moving', placed.leaving.name, { kind: 'leaving' });
  if (settings.matteId === null) return { layers: [leaving] };
  const first = -join.before;
  const moments = momentsOf(film, media, placed, settings).map((f) => f - placed.cut);
  const motion: Motion = { ...STILL, scale: punches(moments, settings.punch), pivotX: parts.shape?.x ?? 0, pivotY: parts.shape?.y ?? 0 };
  const cutOut: Layer = {
    ...held(parts, 'cut-out', 'Cut-out', 'inside'),
    span: { first: moments[0] ?? first, last: -1 },
    motion,
    effects: trimmings(parts),
  };
  const at = moments[0] ?? first;
  const flash: Layer = {
    ...held(parts, 'flash', 'Flash', 'inside'),
    span: { first: at, last: Math.min(-1, at + settings.flash - 1) },
    motion,
    blend: 'add',
    opacity: easedKeys('soft stop', [at, 1], [at + settings.flash, 0]),
  };
  return { layers: [...(settings.flash > 0 ? [flash] : []), cutOut, leaving] };
}

/** The film frames on which a cut-out comes down, rising; none before the leaving shot. */
export function momentsOf(film: Film, media: Media, placed: PlacedJoin, { punches: count, on, every }: CutOutSettings): readonly number[] {
  const earliest = earliestOf(placed);
  const moments = momentsBefore(film, media, placed.cut, Math.max(1, count), on, every);
  return [...new Set(moments.map((f) => Math.max(earliest, f)))];
}

/** Larger on each of these frames, and at rest again before the next. */
function punches(moments: readonly number[], punch: number): Channel {
  if (punch <= 0 || moments.length === 0) return 1;
  return moments.flatMap((at, i) => {
    const room = Math.min(PUNCH_FRAMES, (moments[i + 1] ?? 0) - at - 1);
    // where there is no room to come to rest it stays as it is
    if (room < 1) return i === 0 ? [{ frame: at, value: 1, into: 'straight' as const, out: 'hold' as const }] : [];
    const [down, rest] = easedKeys('soft stop', [at, 1 + punch], [at + room, 1]);
    return [down!, { ...rest!, out: 'hold' as const }];
  });
}

/** A part of a frozen frame lands over the leaving shot ahead of the cut, or one shot is seen through a hole in the frozen other. */
export const cutOut: KindOfJoin<CutOutSettings> = {
  name: 'Held cut-out',
  made: 'a held cut-out',
  does: 'a cut-out of a held frame lands, or opens like a window',
  need: { what: 'subject', text: 'a subject' },
  comesAtOnce: true,
  quick: { punches: 3, on: 'frames', every: 5 },
  defaults: {
    way: 'lands',
    moment: null,
    side: 'entering',
    matteId: null,
    punches: 3,
    punch: 0.18,
    on: 'beats',
    every: 8,
    roughPx: 6,
    driftEvery: 3,
    shadowPx: 14,
    outlinePx: 0,
    flash: 5,
    subjectId: null,
    closes: 6,
    room: 0.06,
    ease: 'soft stop',
    motionBlur: true,
  },
  fields: [
    { name: 'way', label: 'Style', kind: 'choice', options: CUT_OUT_WAYS },
    { name: 'side', label: 'Frozen', kind: 'choice', options: ['entering', 'leaving'] },
    { name: 'moment', label: 'Held frame', kind: 'moment', side: (s) => s.side },
    { name: 'matteId', label: 'Cut out', kind: 'matte', side: (s) => s.side },
    { name: 'punches', label: 'Hits', kind: 'number', unit: '', min: 1, max: 24, step: 1, when: (s) => s.way === 'lands' },
    {
      name: 'punch',
      label: 'Hit size',
      kind: 'number',
      unit: '%',
      min: 0,
      max: 200,
      step: 1,
      factor: 100,
      when: (s) => s.way === 'lands',
    },
    { name: 'on', label: 'Every', kind: 'choice', options: TIMED_ON, when: (s) => s.way === 'lands' },
    {
      name: 'every',
      label: 'Count',
      kind: 'number',
      unit: 'fr',
      min: 1,
      max: 120,
      step: 1,
      when: (s) => s.way === 'lands' && s.on === 'frames',
    },
    { name: 'roughPx', label: 'Torn edge', kind: 'number', unit: 'px', min: 0, max: 100, step: 1, when: (s) => s.way === 'lands' },
    {
      name: 'driftEvery',
      label: 'Drifts every',
      kind: 'number',
      unit: 'fr',
      min: 0,
      max: 48,
      step: 1,
      when: (s) => s.way === 'lands' && s.roughPx > 0,
    },
    { name: 'flash', label: 'Flash fades out over', kind: 'number', unit: 'fr', min: 0, max: 48, step: 1, when: (s) => s.way === 'lands' },
    {
      name: 'subjectId',
      label: 'Kept in the middle',
      kind: 'matte',
      side: (s) => otherOf(s.side),
      orNone: 'nothing',
      when: (s) => s.way === 'pulls back',
    },
    { name: 'closes', label: 'Hole closes in', kind: 'number', unit: 'fr', min: 1, max: 200, step: 1, when: (s) => s.way === 'pulls back' },
    {
      name: 'room',
      label: 'Room left around',
      kind: 'number',
      unit: '%',
      min: 0,
      max: 100,
      step: 1,
      factor: 100,
      when: (s) => s.way === 'pulls back',
    },
    { name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES, when: (s) => s.way === 'pulls back' },
    { name: 'shadowPx', label: 'Shadow', kind: 'number', unit: 'px', min: 0, max: 200, step: 1 },
    { name: 'outlinePx', label: 'Outline', kind: 'number', unit: 'px', min: 0, max: 60, step: 1 },
    { name: 'motionBlur', label: 'Motion blur', kind: 'switch' },
  ],
  shortest: 2,
  longest: 2000,
  usual: 24,
  endsWithCut: true,
  // one that lands needs no more of the overlap than it stands on
  overlap: (film, media, placed, settings) =>
    settings.way === 'lands' ? { before: placed.cut - momentsOf(film, media, placed, settings)[0]!, after: 0 } : null,
  // the hole is as wide as its soft edge reaches
  measures(film, media, placed, settings) {
    const { matteId, subjectId, side, way } = settings;
    const known = (id: string | null): id is string => id !== null && film.mattes.some((m) => m.id === id);
    const shape = known(matteId)
      ? planMatteAlone(film, media, placed, side, matteId, frozenAt(film, media, placed, settings), edgeOf(placed, matteId))
      : null;
    if (way === 'lands' || !known(subjectId)) return [shape];
    const frames = Array.from({ length: placed.to - placed.from }, (_, i) => placed.from + i);
    return [shape, ...frames.map((f) => planMatteAlone(film, media, placed, otherOf(side), subjectId, f))];
  },
  make(making) {
    const { film, media, placed, settings, measured } = making;
    const parts: Parts = { making, frame: heldFrame(film, media, placed, settings), shape: measured?.[0] ?? null };
    return settings.way === 'lands' ? landing(parts) : pullingBack(parts);
  },
  lacks: (film, placed, { matteId, side, way }) => lackingMatte(film, placed, side, matteId, way === 'lands' ? 'lands' : 'is the hole'),
  notes: notesOfCutOut,
};

function notesOfCutOut(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  settings: CutOutSettings,
  measured: Measured | undefined,
): readonly Note[] {
  const frozen = frozenAt(film, media, placed, settings);
  if (settings.way === 'lands') {
    const moments = momentsOf(film, media, placed, settings);
    return [
      note(`It lands on ${moments[0]!}, ${placed.cut - moments[0]!} frames ahead of the cut; frozen is frame ${frozen}.`, moments[0]),
    ];
  }
  const shape = measured?.[0];
  if (shape === undefined) return [];
  if (shape === null) return [fault(`The matte covers nothing on frame ${frozen}, which is frozen: carry it there, or paint it.`, frozen)];
  const { scale } = zoomAt(shape, 1, settings.room);
  const text = `The frozen frame ${frozen} is enlarged ${scale.toFixed(1)} × where the hole fills the frame, and stands in its place on ${
    settings.side === 'entering' ? placed.to : placed.from
  }.`;
  return [
    shape.inner.scale < 1 / MOST_ENLARGED ? fault(`The hole is too small to fill the frame at ${MOST_ENLARGED} ×.`, frozen) : note(text),
  ];
}
