import type { Carrier, Layer, MatteUse, ShotSide } from '../../film/composition';
import { type Film } from '../../film/film';
import type { BridgeSettings, Pin } from '../../film/recipe-settings';
import { mediumOf, placedJoins, type PlacedJoin } from '../../film/timing';
import { type Point } from '../../geometry/matrix';
import type { Channel, Into, Out } from '../../motion/curve';
import { EASE_SHAPES, EASES_OF_MOVES, easedKeys } from '../../motion/eases';
import { STILL, type Motion } from '../../motion/motion';
import { shotFraming } from '../../plan/shot-framing';
import type { KindOfJoin, Making } from '../kind';
import { withoutPin } from '../pin';
import { idOf, madeLayer, madeUse, ownOutline, standing } from '../made-layers';
import { fault, next, note, type Note } from '../next-thing';

/** Sizes nearer to each other than this are the same. */
const SAME_SIZE = 0.02;
/** The wider shot enlarged more than this shows its pixels. */
const MOST_ENLARGED = 12;
/** How much faster what passes near the camera grows than what is far, as a power of the zoom. */
const NEARNESS = 2.2;
/** Of the nearer picture: how far in from its border its soft edge lies, a share of its height, and how soft it is. */
const BORDER_IN = 0.1;
const BORDER_SOFT = 0.16;
/** Of a zoom that goes on: how the handle at the hand-over lies in time. */
const HANDED_SHARE = 1 / 3;

/** Where a map that enlarges, turns and moves leaves things where they are; null where it hardly enlarges or turns. */
export function stillPlace({ x, y, scale, turn }: Pin): Point | null {
  const [c, s] = [scale * Math.cos((turn * Math.PI) / 180), scale * Math.sin((turn * Math.PI) / 180)];
  // q = R q + p
  const [a, b] = [1 - c, s];
  const det = a * a + b * b;
  if (det < SAME_SIZE * SAME_SIZE) return null;
  return { x: (a * x - b * y) / det, y: (b * x + a * y) / det };
}

/** The bridge into the leaving shot of this one, when this one goes on from it. */
function before(film: Film, { join, leaving }: Pick<PlacedJoin, 'join' | 'leaving'>): PlacedJoin | null {
  if (join.recipe?.kind !== 'bridge' || !join.recipe.settings.goesOn) return null;
  const other = placedJoins(film).find((p) => p.entering.id === leaving.id);
  return other?.join.recipe?.kind === 'bridge' && other.join.recipe.settings.pin !== null ? other : null;
}

/** The bridge out of the entering shot that goes on from this one. */
function after(film: Film, { entering }: Pick<PlacedJoin, 'entering'>): PlacedJoin | null {
  const other = placedJoins(film).find((p) => p.leaving.id === entering.id);
  return other !== undefined && before(film, other) !== null ? other : null;
}

const pinOf = ({ join }: PlacedJoin): Pin | null => (join.recipe?.kind === 'bridge' ? join.recipe.settings.pin : null);

/** How fast the logarithm of a bridge's size grows over its overlap, if it did so evenly. */
function rateOf(placed: PlacedJoin): number {
  const pin = pinOf(placed);
  return pin === null ? 0 : -Math.log(pin.scale) / Math.max(1, placed.to - placed.from);
}

/** How the way of a bridge begins and ends: by its ease or, where it is handed over, at the speed both have in the middle. */
function shapeOf({ film, placed, settings }: Making<BridgeSettings>): { readonly out: Out; readonly into: Into } {
  const { out, into } = EASE_SHAPES[settings.ease];
  const own = rateOf(placed);
  const handed = (other: PlacedJoin | null): Into | null => {
    if (other === null || own === 0) return null;
    const shared = (own + rateOf(other)) / 2;
    return [HANDED_SHARE, Math.max(0, HANDED_SHARE * (shared / own))];
  };
  return { out: handed(before(film, placed)) ?? out, into: handed(after(film, placed)) ?? into };
}

/** One camera for both shots: at first the leaving one is as it is, at last the entering one. */
function cameraOf(making: Making<BridgeSettings>, pin: Pin, power = 1): Motion {
  const { join } = making;
  const [first, last] = [-join.before, join.after];
  const shape = shapeOf(making);
  const way = (from: number, to: number): Channel => (from === to ? from : easedKeys(shape, [first, from], [last, to]));
  const still = stillPlace(pin);
  if (still === null) return { ...STILL, x: way(0, -pin.x * power), y: way(0, -pin.y * power) };
  return { ...STILL, scale: way(1, pin.scale ** -power), turn: way(0, -pin.turn), pivotX: still.x, pivotY: still.y };
}

/** The entering shot pinned into the leaving one, about the place that stays. */
function pinned(pin: Pin): Motion {
  const still = stillPlace(pin);
  if (still === null) return { ...STILL, x: pin.x, y: pin.y };
  return { ...STILL, scale: pin.scale, turn: pin.turn, pivotX: still.x, pivotY: still.y };
}

/** An outline a little within the border of the nearer picture, so that it comes with a soft edge. It belongs to the join. */
function borderMatte({ film, media, join, placed }: Making<BridgeSettings>, side: ShotSide): MatteUse | null {
  const medium = mediumOf(media, placed[side]);
  if (medium === null) return null;
  const matte = ownOutline(film, join, `border-${side}`, medium.id, `Border of ${placed[side].name}`);
  const framing = shotFraming(film, medium, placed[side], Math.round(placed[side].inFrame));
  const [w, h] = [film.width / 2 - BORDER_IN * film.height, (0.5 - BORDER_IN) * film.height];
  matte.outline = standing(
    [
      [-w, -h],
      [w, -h],
      [w, h],
      [-w, h],
    ],
    framing,
  );
  return { matteId: matte.id, side: 'inside', growPx: 0, featherPx: Math.round((BORDER_SOFT * film.height) / Math.abs(framing[0] || 1)) };
}

/** What passes near the camera: it grows faster than all else, and is gone before the move has ended. */
function occluders(making: Making<BridgeSettings>, pin: Pin, nearId: string): Layer[] {
  const { film, join, placed, settings } = making;
  const [first, last] = [-join.before, join.after];
  return settings.occluderIds.flatMap((matteId, i): Layer[] => {
    const matte = film.mattes.find((m) => m.id === matteId);
    if (matte === undefined) return [];
    const side = (['leaving', 'entering'] as const).find((s) => placed[s].mediumId === matte.mediumId);
    const role = `near-${i}`;
    const source = side === undefined ? ({ kind: 'medium', mediumId: matte.mediumId, frame: 0 } as const) : ({ kind: side } as const);
    // one of the leaving shot is there already; another comes in as it grows
    const comes = first + Math.round((last - first) / 4);
    const goes = first + Math.round((3 * (last - first)) / 4);
    const gone = easedKeys('soft both', [goes, 1], [last, 0]);
    return [
      {
        ...madeLayer(join, role, matte.name, source),
        ridesOn: nearId,
        blur: settings.motionBlur,
        ...(source.kind === 'entering' ? { motion: pinned(pin) } : {}),
        opacity: source.kind === 'leaving' ? gone : [...easedKeys('soft both', [first, 0], [comes, 1]), ...gone],
        mattes: [madeUse(join, role, { matteId, side: 'inside', growPx: 0, featherPx: 1 })],
      },
    ];
  });
}

/** From afar to near by, or back: one shot is pinned into the other where both show the same, and one camera goes from the one to the other. */
export const bridge: KindOfJoin<BridgeSettings> = {
  name: 'Bridge',
  made: 'a bridge',
  does: 'from a wide view into the same thing close up',
  need: null,
  beginsWhereLastEnds: true,
  elsewhere: withoutPin,
  quick: { pin: { x: 0, y: 0, scale: 0.4, turn: 0 }, comesAfter: 3, comesOver: 8 },
  defaults: {
    pin: null,
    subjectId: null,
    comesAfter: 4,
    comesOver: 10,
    fadesId: null,
    behind: [20, 24, 36],
    occluderIds: [],
    ease: 'soft both',
    motionBlur: true,
    goesOn: false,
  },
  fields: [
    { name: 'pin', label: 'The same in both', kind: 'pin', within: true },
    { name: 'subjectId', label: 'Comes first', kind: 'matte', side: 'any', orNone: 'all of it, softly' },
    { name: 'comesAfter', label: 'Comes after', kind: 'number', unit: 'fr', min: 0, max: 500, step: 1 },
    { name: 'comesOver', label: 'Comes in', kind: 'number', unit: 'fr', min: 1, max: 500, step: 1 },
    { name: 'fadesId', label: 'Fades away', kind: 'matte', side: 'any', orNone: 'nothing' },
    { name: 'behind', label: 'Behind it', kind: 'colour', when: (s) => s.fadesId !== null },
    { name: 'occluderIds', label: 'Passes in front', kind: 'mattes', most: 6 },
    { name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES },
    { name: 'motionBlur', label: 'Motion blur', kind: 'switch' },
    { name: 'goesOn', label: 'Continues from the previous bridge', kind: 'switch' },
  ],
  shortest: 3,
  longest: 1000,
  usual: 32,
  overlap(film, _media, placed) {
    const other = before(film, placed);
    // it begins where the one before ends
    return other === null ? null : { before: Math.max(0, placed.cut - other.to), after: placed.join.after };
  },
  make(making) {
    const { join, placed, settings } = making;
    const name = (side: ShotSide): string => placed[side].name;
    if (settings.pin === null)
      return {
        layers: [
          madeLayer(join, 'leaving', name('leaving'), { kind: 'leaving' }),
          madeLayer(join, 'entering', name('entering'), { kind: 'entering' }),
        ],
      };
    const { pin, fadesId } = settings;
    const { motionBlur: blur } = settings;
    const cameraId = idOf(join, 'camera');
    const nearId = idOf(join, 'near');
    // the nearer shot lies in front: the wider one is all around it
    const [near, wide]: [ShotSide, ShotSide] = pin.scale <= 1 ? ['entering', 'leaving'] : ['leaving', 'entering'];
    const of = (role: string, title: string, side: ShotSide): Layer => ({
      ...madeLayer(join, role, title, { kind: side }),
      ridesOn: cameraId,
      blur,
      motion: side === 'entering' ? pinned(pin) : STILL,
    });
    const [first, last] = [-join.before, join.after];
    // the nearer one comes while the wide is left, and goes while it is reached
    const comes = Math.min(settings.comesOver, Math.max(1, last - first - 1));
    const begins = Math.max(0, Math.min(settings.comesAfter, last - first - comes - 1));
    const fade = (from: number, to: number): Channel =>
      near === 'entering'
        ? easedKeys('soft both', [first + from, 0], [first + to, 1])
        : easedKeys('soft both', [last - to, 1], [last - from, 0]);
    const border =
      settings.subjectId === null
        ? borderMatte(making, near)
        : { matteId: settings.subjectId, side: 'inside' as const, growPx: 0, featherPx: 2 };
    const whole = { ...of('whole', name(near), near), opacity: fade(Math.max(begins + comes, last - first - comes), last - first) };
    const ahead = {
      ...of('ahead', `${name(near)}, first`, near),
      opacity: fade(begins, begins + comes),
      mattes: border === null ? [] : [madeUse(join, 'ahead', border)],
    };
    // beyond its border, where the nearer one reaches over it, it goes on mirrored
    const around: Layer = { ...of('around', name(wide), wide), edges: 'mirrored' };
    const wider: Layer[] =
      fadesId === null
        ? [around]
        : [
            { ...around, mattes: [madeUse(join, 'around', { matteId: fadesId, side: 'outside', growPx: 0, featherPx: 2 })] },
            {
              ...of('fades', `${name(wide)}, what fades`, wide),
              edges: 'mirrored',
              opacity: fadesAway(near, first, last, begins, comes),
              mattes: [madeUse(join, 'fades', { matteId: fadesId, side: 'inside', growPx: 0, featherPx: 2 })],
            },
            madeLayer(join, 'behind', 'Behind', { kind: 'colour', colour: settings.behind }),
          ];
    const camera: Carrier = { id: cameraId, name: 'Camera', motion: cameraOf(making, pin) };
    const passing = occluders(making, pin, nearId);
    return {
      layers: [...passing, whole, ahead, ...wider],
      carriers: [camera, ...(passing.length > 0 ? [{ id: nearId, name: 'Near the camera', motion: cameraOf(making, pin, NEARNESS) }] : [])],
    };
  },
  lacks: (_film, placed, { pin }) =>
    pin === null
      ? next(
          'move',
          `Say where ${placed.entering.name} lies in ${placed.leaving.name}: by points in both, by their mattes, or from the pictures.`,
        )
      : null,
  notes(film, _media, placed, { pin, goesOn }) {
    if (pin === null) return [];
    const still = stillPlace(pin);
    const enlarged = Math.max(pin.scale, 1 / pin.scale);
    const notes: Note[] = [
      still === null
        ? note('Both shots show it alike in size: the camera goes across.')
        : note(
            `The wider shot is enlarged ${enlarged.toFixed(1)} ×; what lies at ${Math.round(still.x)}, ${Math.round(still.y)} px stays in its place.`,
          ),
    ];
    if (enlarged > MOST_ENLARGED) notes.push(fault(`Above ${MOST_ENLARGED} × its pixels show: put a shot between the two.`));
    const outside = still !== null && (Math.abs(still.x) > film.width / 2 || Math.abs(still.y) > film.height / 2);
    if (still === null || outside) notes.push(fault('The nearer shot reaches beyond the wider one, which is mirrored there.'));
    if (goesOn && before(film, placed) === null) notes.push(fault('There is no bridge into the leaving shot to continue from.'));
    return notes;
  },
  run(film, joinId) {
    const all = placedJoins(film);
    const at = all.findIndex((p) => p.join.id === joinId);
    let [begin, end] = [at, at];
    while (begin > 0 && before(film, all[begin]!) !== null) begin--;
    while (end + 1 < all.length && before(film, all[end + 1]!) !== null) end++;
    return at < 0 ? [joinId] : all.slice(begin, end + 1).map((p) => p.join.id);
  },
};

/** The opacity of what fades in the wider shot, which is whole where that shot is alone. */
function fadesAway(near: ShotSide, first: number, last: number, begins: number, comes: number): Channel {
  return near === 'entering'
    ? easedKeys('soft both', [first + begins, 1], [first + begins + comes, 0])
    : easedKeys('soft both', [last - begins - comes, 0], [last - begins, 1]);
}
