import type { Draft } from 'immer';
import type { FilmDraft } from '../../film/drafts';
import { type Carrier, type Layer, type MatteUse } from '../../film/composition';
import { byId, type Film, type Join, type Media } from '../../film/film';
import type { ZoomSettings } from '../../film/recipe-settings';
import { handlesOf, mediumOf, overlapLimits, placedJoins, type PlacedJoin } from '../../film/timing';
import { lengthScale } from '../../geometry/matrix';
import { EASE_SHAPES, EASES_OF_MOVES, easedKeys } from '../../motion/eases';
import { fittedKeys } from '../../motion/fitted-keys';
import { STILL, type Timing } from '../../motion/motion';
import type { FramePlan } from '../../plan/frame-plan';
import { planMatteAlone } from '../../plan/stage-plans';
import { baseFraming } from '../../plan/shot-framing';
import { solveZoom, type SolverSettings, type Zoom, type ZoomSolution } from './cover-solver';
import type { AllMeasured, Field, KindOfJoin, Measured } from '../kind';
import type { HoleShape } from '../hole-shape';
import { idOf, layMade, madeLayer, madeUse } from '../made-layers';
import type { Note } from '../next-thing';
import { nextOfZoom } from './lacks';
import { zoomNotes } from './zoom-notes';

/** How soft the hole's edge is unless said, pixels of its medium. */
const USUAL_FEATHER = 2;
/** Frames a zoom takes unless said. */
const USUAL_LENGTH = 24;
/** A zoom is made at least so long, even where the entering shot has no pictures for it yet. */
const SHORTEST = 8;

const DEFAULTS: ZoomSettings = {
  matteId: null,
  piece: 'fades',
  slideDegrees: 270,
  slidePx: 600,
  slidesBefore: 0,
  entering: 'grows',
  room: 0.06,
  copies: 0,
  copyDelay: 2,
  startsAfter: 0,
  holdsEntering: false,
  ease: 'soft both',
  motionBlur: true,
  mirroredEdge: false,
  goesOn: false,
};

/** The settings as the panel shows them; the hole has a row of its own. */
const FIELDS: readonly Field<ZoomSettings>[] = [
  { name: 'matteId', label: 'The hole', kind: 'matte', side: 'leaving', orTrack: true },
  { name: 'piece', label: 'The piece', kind: 'choice', options: ['fades', 'slides', 'stays'] },
  { name: 'slideDegrees', label: 'Slides to', kind: 'number', unit: '°', min: -360, max: 360, step: 5, when: (s) => s.piece === 'slides' },
  { name: 'slidePx', label: 'Slides by', kind: 'number', unit: 'px', min: 0, max: 4000, step: 10, when: (s) => s.piece === 'slides' },
  {
    name: 'slidesBefore',
    label: 'Slides before the move',
    kind: 'number',
    unit: 'fr',
    min: 0,
    max: 500,
    step: 1,
    when: (s) => s.piece === 'slides',
  },
  { name: 'entering', label: 'Entering shot', kind: 'choice', options: ['grows', 'waits', 'pushes on'] },
  { name: 'room', label: 'Room left around', kind: 'number', unit: '%', min: 0, max: 100, step: 1, factor: 100 },
  { name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES },
  { name: 'startsAfter', label: 'Starts after', kind: 'number', unit: 'fr', min: 0, max: 1000, step: 1 },
  { name: 'holdsEntering', label: 'Hold the entering shot until then', kind: 'switch', when: (s) => startOf(s) > 0 },
  { name: 'copies', label: 'Late copies', kind: 'number', unit: '', min: 0, max: 12, step: 1 },
  { name: 'copyDelay', label: 'Frames between', kind: 'number', unit: 'fr', min: 1, max: 24, step: 1, when: (s) => s.copies > 0 },
  { name: 'motionBlur', label: 'Motion blur', kind: 'switch' },
  { name: 'mirroredEdge', label: 'Mirrored edge', kind: 'switch' },
  { name: 'goesOn', label: 'Continues from the previous zoom', kind: 'switch' },
];

interface Handed {
  readonly solution: ZoomSolution;
  readonly placed: PlacedJoin;
}

const settingsOf = ({ join }: PlacedJoin): ZoomSettings | null => (join.recipe?.kind === 'zoom through' ? join.recipe.settings : null);

/** The zoom into the leaving shot of this one, when this one goes on from it. */
function before(film: Film, placed: PlacedJoin): PlacedJoin | null {
  if (settingsOf(placed)?.goesOn !== true) return null;
  const other = placedJoins(film).find((p) => p.entering.id === placed.leaving.id);
  return other !== undefined && settingsOf(other) !== null ? other : null;
}

/** Whether a zoom through its entering shot goes on from this one. */
function isGoneOnFrom(film: Film, placed: PlacedJoin): boolean {
  const next = placedJoins(film).find((p) => p.leaving.id === placed.entering.id);
  return next !== undefined && settingsOf(next)?.goesOn === true;
}

/** The joins that are solved together with this one, in order: what it goes on from and what goes on from it. */
function chainOf(film: Film, joinId: string): readonly PlacedJoin[] {
  const all = placedJoins(film);
  const at = all.findIndex((p) => p.join.id === joinId);
  if (at < 0) return [];
  let [first, last] = [at, at];
  while (first > 0 && before(film, all[first]!) !== null) first--;
  while (last + 1 < all.length && before(film, all[last + 1]!) !== null) last++;
  return all.slice(first, last + 1);
}

/** What shows the hole of a zoom on a frame, its edge drawn as it is cut out; null without a hole. */
function planHole(film: Film, media: Media, placed: PlacedJoin, frame: number): FramePlan | null {
  const matteId = settingsOf(placed)?.matteId ?? null;
  if (matteId === null || !film.mattes.some((m) => m.id === matteId)) return null;
  const use = placed.join.layers.flatMap((l) => l.mattes).find((m) => m.matteId === matteId && m.side === 'outside');
  // what is taken out grows where the rest shrinks
  const edge = use === undefined ? { growPx: 0, featherPx: USUAL_FEATHER } : use;
  return planMatteAlone(film, media, placed, 'leaving', matteId, frame, edge);
}

/** Frames from the overlap's first to where the move starts: a piece that slides off first has the time for it. */
const startOf = ({ piece, startsAfter, slidesBefore = 0 }: ZoomSettings): number =>
  piece === 'slides' ? Math.max(startsAfter, slidesBefore) : startsAfter;

/** Solves one zoom from its measured holes. */
function solve(film: Film, placed: PlacedJoin, holes: readonly (HoleShape | null)[], handed: Handed | null): ZoomSolution {
  const settings = settingsOf(placed)!;
  const startPivot = handed === null ? null : handed.solution.entering[handed.solution.arrives]!;
  const solver: SolverSettings = {
    room: settings.room,
    entering: settings.entering === 'grows' && isGoneOnFrom(film, placed) ? 'pushes on' : settings.entering,
    ease: EASE_SHAPES[settings.ease],
    start: handed === null ? startOf(settings) : 0,
    startRate: handed?.solution.arrivalRate ?? 0,
    startPivot,
    mirrored: settings.mirroredEdge,
    blurred: settings.motionBlur,
  };
  return solveZoom(film.width, film.height, holes, solver);
}

/**
 * Lays a join's zoom, and those it hangs together with, anew from measured holes. Joins of the chain whose holes are not known stay as they are.
 * A zoom that goes on from another begins on the frame on which that one's entering shot has its own framing.
 */
function layZooms(film: FilmDraft, joinId: string, holes: AllMeasured): void {
  let handed: Handed | null = null;
  for (const { join } of chainOf(film, joinId)) {
    const placed = placedJoins(film).find((p) => p.join.id === join.id)!;
    const own = holes.get(join.id);
    if (own === undefined || settingsOf(placed) === null) {
      handed = null;
      continue;
    }
    const goesOnFrom = before(film, placed) === null ? null : handed;
    const from = goesOnFrom === null ? placed.from : goesOnFrom.placed.from + goesOnFrom.solution.arrives;
    // measured from the overlap it had; what comes before its first frame is as that
    const shifted = Array.from({ length: Math.max(1, placed.to - from) }, (_, i) => own[Math.max(0, from + i - placed.from)] ?? null);
    const solution = solve(film, placed, shifted, goesOnFrom);
    const draft: Draft<Join> = byId(film.joins, join.id, 'join');
    draft.before = Math.max(0, placed.cut - from);
    lay(film, draft, solution, settingsOf(placed)!);
    handed = { solution, placed: placedJoins(film).find((p) => p.join.id === join.id)! };
  }
}

/** What a zoom comes to, in sentences; none while its holes are not known. */
function notesOf(film: Film, media: Media, placed: PlacedJoin, holes: Measured | undefined): readonly Note[] {
  if (holes === undefined || settingsOf(placed) === null) return [];
  const medium = mediumOf(media, placed.entering);
  const enlarged = medium === null ? 1 : lengthScale(baseFraming(film, medium));
  return zoomNotes(solve(film, placed, holes, null), (i) => placed.from + i, enlarged);
}

/** How far a fitted curve of the entering shot's size may fall short, as a share: a part of the room that is left around. */
const shortfall = (room: number): number => Math.min(0.004, room / 6);

function lay(film: FilmDraft, join: Draft<Join>, solution: ZoomSolution, settings: ZoomSettings): void {
  const { leaving, entering, end, endScale } = solution;
  const first = -join.before;
  const startIndex = Math.max(0, leaving.findIndex((z) => z.scale > 1 + 1e-9) - 1);
  const [start, last] = [first + startIndex, first + end];
  const zoomId = idOf(join, 'zoom');
  const zoom: Carrier = {
    id: zoomId,
    name: 'Zoom',
    motion: {
      ...STILL,
      scale:
        endScale <= 1 || last <= start
          ? endScale
          : [
              { frame: start, value: 1, into: 'straight', out: solution.out },
              { frame: last, value: endScale, into: EASE_SHAPES[settings.ease].into, out: 'straight' },
            ],
      pivotX: places(leaving.slice(0, end + 1), first, 'x'),
      pivotY: places(leaving.slice(0, end + 1), first, 'y'),
    },
  };
  const span = end < leaving.length - 1 ? { span: { first, last } } : {};
  const blur = settings.motionBlur;
  const matteUse = (role: string, side: MatteUse['side']): readonly MatteUse[] =>
    settings.matteId === null ? [] : [madeUse(join, role, { matteId: settings.matteId, side, growPx: 0, featherPx: USUAL_FEATHER })];
  const made = (role: string, name: string, kind: 'leaving' | 'entering'): Layer => ({ ...madeLayer(join, role, name, { kind }), blur });
  const piece: Layer = {
    ...made('piece', 'Piece', 'leaving'),
    ...span,
    mattes: matteUse('piece', 'inside'),
    ridesOn: zoomId,
    ...pieceWay(settings, start, last),
  };
  const around: Layer = {
    ...made('around', 'Around the hole', 'leaving'),
    ...span,
    mattes: matteUse('around', 'outside'),
    ridesOn: zoomId,
    edges: settings.mirroredEdge ? 'mirrored' : 'none',
    ...(settings.copies > 0 ? { copies: { count: settings.copies, delay: settings.copyDelay, fall: 0.35 } } : {}),
  };
  const into: Layer = {
    ...made('into', 'Into', 'entering'),
    edges: settings.mirroredEdge ? 'mirrored' : 'none',
    motion: grown(entering, first, settings),
    ...(settings.holdsEntering && startOf(settings) > 0 ? { time: heldUntil(start) } : {}),
  };
  layMade(film, join, { layers: [...(settings.matteId === null ? [] : [piece]), around, into], carriers: [zoom] });
}

const places = (zooms: readonly Zoom[], first: number, axis: 'x' | 'y'): ReturnType<typeof fittedKeys> =>
  fittedKeys(
    zooms.map((z) => z[axis]),
    first,
    { below: 0.05, above: 0.05 },
  );

function grown(entering: readonly Zoom[], first: number, { room, mirroredEdge, matteId }: ZoomSettings): Layer['motion'] {
  const pivot = entering[0] ?? { x: 0, y: 0 };
  if (matteId === null) return STILL;
  const tolerance = { below: mirroredEdge ? 0.004 : shortfall(room), above: 0.006 };
  const scale = fittedKeys(
    entering.map((z) => Math.log(z.scale)),
    first,
    tolerance,
    Math.exp,
  );
  return { ...STILL, scale, pivotX: pivot.x, pivotY: pivot.y };
}

/** What becomes of the piece that was cut out: gone before it could hide what is behind it. */
function pieceWay({ piece, slideDegrees, slidePx, slidesBefore = 0 }: ZoomSettings, start: number, last: number): Partial<Layer> {
  const length = Math.max(2, last - start);
  if (piece === 'fades') return { opacity: easedKeys('soft both', [start, 1], [start + Math.max(1, Math.round(length / 3)), 0]) };
  if (piece === 'stays') return { opacity: easedKeys('soft both', [last - Math.max(1, Math.round(length / 4)), 1], [last, 0]) };
  const angle = (slideDegrees * Math.PI) / 180;
  if (slidesBefore > 0) {
    const off = (px: number): Layer['motion']['x'] => easedKeys('soft both', [start - slidesBefore, 0], [start, px]);
    return { motion: { ...STILL, x: off(slidePx * Math.cos(angle)), y: off(slidePx * Math.sin(angle)) } };
  }
  const way = [start + Math.round(length / 2), 1] as const;
  const moved = (px: number): Layer['motion']['x'] => easedKeys('soft start', [start, 0], [way[0], px]);
  return {
    motion: { ...STILL, x: moved(slidePx * Math.cos(angle)), y: moved(slidePx * Math.sin(angle)) },
    opacity: easedKeys('soft both', [start + Math.round(length / 3), 1], [way[0], 0]),
  };
}

/** Held on the picture of frame `start`, running from there on. */
const heldUntil = (start: number): Timing => ({
  speed: [
    { frame: start - 1, value: 0, into: 'straight', out: 'hold' },
    { frame: start, value: 1, into: 'straight', out: 'straight' },
  ],
  anchor: start,
  between: 'nearest',
});

const IDLE: SolverSettings = {
  room: 0,
  entering: 'waits',
  ease: EASE_SHAPES.straight,
  start: 0,
  startRate: 0,
  startPivot: null,
  mirrored: false,
  blurred: false,
};

/** Begins a zoom through: its settings are remembered, the overlap is made where there is none, and the hole is taken from what is there. */
function start(film: FilmDraft, media: Media, joinId: string, given: Partial<ZoomSettings>): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const limits = overlapLimits(film, joinId);
  if (join.before + join.after < 2) {
    const entering = byId(film.shots, join.enteringShotId, 'shot');
    const medium = media.get(entering.mediumId);
    const spare = medium === undefined ? USUAL_LENGTH : handlesOf(film, entering, medium).before;
    join.before = Math.max(1, Math.min(USUAL_LENGTH, limits.before, Math.max(spare, SHORTEST)));
    join.after = 0;
  }
  join.recipe = { kind: 'zoom through', settings: { ...DEFAULTS, ...given }, made: '' };
  lay(film, join, solveZoom(film.width, film.height, [null], IDLE), join.recipe.settings);
  // nothing is measured yet: it is laid as soon as it is
  join.recipe.made = '';
}

/** Into a hole of the leaving shot, in which the entering one waits; several go on from each other without a stop. */
export const zoomThrough: KindOfJoin<ZoomSettings> = {
  name: 'Zoom through',
  made: 'a zoom through',
  does: 'into a hole, out into the next shot',
  need: { what: 'hole', text: 'a hole' },
  defaults: DEFAULTS,
  fields: FIELDS,
  shortest: 2,
  longest: 1000,
  usual: USUAL_LENGTH,
  ownLength: true,
  beginsWhereLastEnds: true,
  start,
  lay: layZooms,
  measures: (film, media, placed) =>
    Array.from({ length: placed.to - placed.from }, (_, i) => planHole(film, media, placed, placed.from + i)),
  lacks: nextOfZoom,
  notes: (film, media, placed, _settings, measured) => notesOf(film, media, placed, measured),
  run: (film, joinId) => chainOf(film, joinId).map((p) => p.join.id),
  withoutRoom: ({ room }) => (room > 0 ? { room: 0 } : null),
};
