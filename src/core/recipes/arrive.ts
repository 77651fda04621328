import type { Draft } from 'immer';
import type { Layer, MatteUse } from '../film/composition';
import { spreadOverlap } from '../film/edits';
import { addMatte } from '../film/edits/mattes';
import type { FilmDraft } from '../film/drafts';
import { ARRIVES_FROM, GROUND_COMES, byId, type ArriveSettings, type Join, type Matte, type Media } from '../film/film';
import { mediumFrameAt, mediumOf, placeJoin } from '../film/timing';
import { STILL, type Motion } from '../motion/motion';
import { EASE_NAMES, easedKeys } from '../motion/eases';
import { idOf, layMade, madeLayer, madeUse } from './made-layers';
import type { Field } from './recipe';

export const SHORTEST_ARRIVAL = 2;
const USUAL_LENGTH = 16;

export const ARRIVE_DEFAULTS: ArriveSettings = {
  matteId: null,
  from: 'left',
  distancePx: 900,
  arrivesIn: 10,
  ease: 'soft stop',
  ground: 'fades',
  groundOver: 8,
  motionBlur: true,
};

/** The settings as the panel shows them; length and subject have rows of their own. */
export const ARRIVE_FIELDS: readonly Field<ArriveSettings>[] = [
  { name: 'from', label: 'Comes from', kind: 'choice', options: ARRIVES_FROM },
  { name: 'distancePx', label: 'From as far as', kind: 'number', unit: 'px', min: 0, max: 8000, step: 10 },
  { name: 'arrivesIn', label: 'Arrives in', kind: 'number', unit: 'fr', min: 1, max: 500, step: 1 },
  { name: 'ease', label: 'Ease', kind: 'choice', options: EASE_NAMES.filter((n) => n !== 'hold') },
  { name: 'ground', label: 'Ground', kind: 'choice', options: GROUND_COMES },
  {
    name: 'groundOver',
    label: 'Over its last',
    kind: 'number',
    unit: 'fr',
    min: 1,
    max: 500,
    step: 1,
    when: ({ ground }) => ground !== 'cuts',
  },
  { name: 'motionBlur', label: 'Motion blur', kind: 'switch' },
];

/** Brightness from which on a sweep has begun with nothing, and to which it ends with all, its soft ramp included. */
const SWEEP_SOFTNESS = 0.25;

/** The movement that brings a thing to its place: along one axis, from outside. */
function arrival(settings: ArriveSettings, first: number): Motion {
  const { from, distancePx, arrivesIn, ease } = settings;
  const away = from === 'left' || from === 'above' ? -distancePx : distancePx;
  const way = easedKeys(ease, [first, away], [first + arrivesIn, 0]);
  return from === 'left' || from === 'right' ? { ...STILL, x: way, apart: true } : { ...STILL, y: way, apart: true };
}

/** Lays a join's arrival anew over its overlap. */
export function layArrive(film: FilmDraft, media: Media, joinId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  if (join.recipe?.kind !== 'arrive') return;
  const settings = join.recipe.settings as ArriveSettings;
  const nameOf = (shotId: string): string => byId(film.shots, shotId, 'shot').name;
  const [first, last] = [-join.before, join.after];
  const leaving = madeLayer(join, 'leaving', nameOf(join.leavingShotId), { kind: 'leaving' });
  const ground = groundLayer(film, media, join, settings, nameOf(join.enteringShotId), last);
  const subject: Layer = {
    ...madeLayer(join, 'subject', 'Arrives', { kind: 'entering' }),
    motion: arrival(settings, first),
    blur: settings.motionBlur,
    mattes:
      settings.matteId === null ? [] : [madeUse(join, 'subject', { matteId: settings.matteId, side: 'inside', growPx: 0, featherPx: 1 })],
  };
  // without a subject nothing may cover the leaving shot yet
  layMade(join, [...(settings.matteId === null ? [] : [subject]), ...(ground === null ? [] : [ground]), leaving]);
}

/** What is around the subject, as it follows; null where that is only there once the overlap is over. */
function groundLayer(film: FilmDraft, media: Media, join: Draft<Join>, settings: ArriveSettings, name: string, last: number): Layer | null {
  const layer = madeLayer(join, 'ground', name, { kind: 'entering' });
  if (settings.ground === 'cuts') return join.after === 0 ? null : { ...layer, span: { first: 0, last: last - 1 } };
  const [begins, ends] = [Math.max(-join.before, last - settings.groundOver) - 1, Math.max(-join.before, last - 1) + 1];
  if (settings.ground === 'fades') return { ...layer, opacity: easedKeys('straight', [begins, 0], [ends, 1]) };
  const use = sweepUse(film, media, join, begins, ends);
  return use === null ? null : { ...layer, mattes: [madeUse(join, 'ground', use)] };
}

/** Lets a brightness key of the entering shot sweep from its brightest parts to all of it, and gives how it is used. */
function sweepUse(film: FilmDraft, media: Media, join: Draft<Join>, begins: number, ends: number): MatteUse | null {
  const placed = placeJoin(film, join.id);
  const medium = placed === null ? null : mediumOf(media, placed.entering);
  if (placed === null || medium === null) return null;
  const id = idOf(join, 'sweep');
  if (!film.mattes.some((m) => m.id === id)) addMatte(film, medium.id, 'brightness key', `Sweep of ${placed.entering.name}`, () => id);
  const matte: Draft<Matte> = byId(film.mattes, id, 'matte');
  const mediumFrame = (offset: number): number => mediumFrameAt(film, placed.entering, medium, offset);
  const [from, to] = [mediumFrame(begins), Math.max(mediumFrame(begins) + 1, mediumFrame(ends))];
  const threshold = easedKeys('straight', [from, 1 + SWEEP_SOFTNESS], [to, -SWEEP_SOFTNESS]);
  matte.key = {
    kind: 'brightness',
    threshold: threshold as Draft<typeof threshold>,
    softness: SWEEP_SOFTNESS,
    cleanBlack: 0,
    cleanWhite: 1,
  };
  return { matteId: id, side: 'inside', growPx: 0, featherPx: 0 };
}

/** Makes a join an arrival; `matteId` is that of what arrives, of the entering shot. */
export function makeArrive(film: FilmDraft, media: Media, joinId: string, matteId: string | null): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  if (join.before + join.after < SHORTEST_ARRIVAL) spreadOverlap(film, media, joinId, USUAL_LENGTH);
  const length = join.before + join.after;
  const arrivesIn = Math.max(1, Math.min(ARRIVE_DEFAULTS.arrivesIn, length - 1));
  const settings = { ...ARRIVE_DEFAULTS, matteId, arrivesIn, groundOver: Math.max(1, Math.min(ARRIVE_DEFAULTS.groundOver, length)) };
  join.recipe = { kind: 'arrive', settings, made: '' };
  layArrive(film, media, joinId);
}

export function setArriveSettings(film: FilmDraft, media: Media, joinId: string, change: Partial<ArriveSettings>): void {
  const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
  if (recipe?.kind !== 'arrive') return;
  Object.assign(recipe.settings, change);
  layArrive(film, media, joinId);
}
