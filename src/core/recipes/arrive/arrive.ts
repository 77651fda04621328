import type { Draft } from 'immer';
import type { Layer, MatteUse } from '../../film/composition';
import { addMatte } from '../../film/edits/mattes';
import type { FilmDraft } from '../../film/drafts';
import { byId, type Join, type Matte, type Media } from '../../film/film';
import { ARRIVES_FROM, GROUND_COMES, type ArriveSettings } from '../../film/recipe-settings';
import { mediumFrameAt, mediumOf, placeJoin } from '../../film/timing';
import { STILL, type Motion } from '../../motion/motion';
import { EASES_OF_MOVES, easedKeys } from '../../motion/eases';
import type { KindOfJoin } from '../kind';
import { lackingMatte } from '../lacking-matte';
import { idOf, madeLayer, madeUse } from '../made-layers';
import { note } from '../next-thing';

/** Brightness from which on a sweep has begun with nothing, and to which it ends with all, its soft ramp included. */
const SWEEP_SOFTNESS = 0.25;

/** The movement that brings a thing to its place: along one axis, from outside. */
function arrival(settings: ArriveSettings, first: number): Motion {
  const { from, distancePx, arrivesIn, ease } = settings;
  const away = from === 'left' || from === 'above' ? -distancePx : distancePx;
  const way = easedKeys(ease, [first, away], [first + arrivesIn, 0]);
  return from === 'left' || from === 'right' ? { ...STILL, x: way, apart: true } : { ...STILL, y: way, apart: true };
}

/** The subject of the entering shot comes in ahead of what is around it. */
export const arrive: KindOfJoin<ArriveSettings> = {
  name: 'Arrive',
  made: 'an arrival',
  does: 'the subject of the next shot arrives before its background',
  need: { what: 'subject', text: 'a subject' },
  defaults: {
    matteId: null,
    from: 'left',
    distancePx: 900,
    arrivesIn: 10,
    ease: 'soft stop',
    ground: 'fades',
    groundOver: 8,
    motionBlur: true,
  },
  fields: [
    { name: 'matteId', label: 'What arrives', kind: 'matte', side: 'entering' },
    { name: 'from', label: 'Comes from', kind: 'choice', options: ARRIVES_FROM },
    { name: 'distancePx', label: 'Starts at distance', kind: 'number', unit: 'px', min: 0, max: 8000, step: 10 },
    { name: 'arrivesIn', label: 'Arrives in', kind: 'number', unit: 'fr', min: 1, max: 500, step: 1 },
    { name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES },
    { name: 'ground', label: 'Ground', kind: 'choice', options: GROUND_COMES },
    {
      name: 'groundOver',
      label: 'During the last',
      kind: 'number',
      unit: 'fr',
      min: 1,
      max: 500,
      step: 1,
      when: ({ ground }) => ground !== 'cuts',
    },
    { name: 'motionBlur', label: 'Motion blur', kind: 'switch' },
  ],
  shortest: 2,
  longest: 500,
  usual: 16,
  begin(_film, _media, { join }) {
    const length = join.before + join.after;
    return { arrivesIn: Math.max(1, Math.min(10, length - 1)), groundOver: Math.max(1, Math.min(8, length)) };
  },
  make({ film, media, join, placed, settings }) {
    const [first, last] = [-join.before, join.after];
    const leaving = madeLayer(join, 'leaving', placed.leaving.name, { kind: 'leaving' });
    const ground = groundLayer(film, media, join, settings, placed.entering.name, last);
    const subject = (matteId: string): Layer => ({
      ...madeLayer(join, 'subject', 'Arrives', { kind: 'entering' }),
      motion: arrival(settings, first),
      blur: settings.motionBlur,
      mattes: [madeUse(join, 'subject', { matteId, side: 'inside', growPx: 0, featherPx: 1 })],
    });
    return {
      layers: [...(settings.matteId === null ? [] : [subject(settings.matteId)]), ...(ground === null ? [] : [ground]), leaving],
    };
  },
  lacks: (film, placed, { matteId }) => lackingMatte(film, placed, 'entering', matteId, 'arrives'),
  notes: (_film, _media, { from, to, cut, entering }, { arrivesIn, ground }) => [
    note(
      `It is in place from frame ${from + arrivesIn}; the rest of ${entering.name} is there ${
        ground === 'cuts' ? `from ${cut} on` : `by ${Math.max(from, to - 1)}`
      }.`,
    ),
  ],
};

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
  matte.ownerId = join.id;
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
