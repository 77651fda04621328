import type { Channel, ValueKey } from '../motion/curve';
import { EASE_SHAPES } from '../motion/eases';
import { STILL } from '../motion/motion';
import type { Layer, ShotSide } from './composition';
import { SCHEMA_VERSION, type Film, type Join, type Matte } from './film';
import type { Edit } from './history';

/** Version 2, as far as it differs. */
type Ease2 = 'soft both' | 'straight' | 'hold';
interface Key2 {
  readonly frame: number;
  readonly value: number;
  readonly ease: Ease2;
}
type Channel2 = number | readonly Key2[];
interface Layer2 {
  readonly id: string;
  readonly name: string;
  readonly source: ShotSide;
  readonly visible: boolean;
  readonly mattes: Layer['mattes'];
  readonly opacity: Channel2;
  readonly x: Channel2;
  readonly y: Channel2;
  readonly scale: Channel2;
  readonly rotationDegrees: Channel2;
}
interface Join2 extends Omit<Join, 'layers' | 'carriers' | 'finish' | 'recipe'> {
  readonly kind: 'cut' | 'wipe past';
  readonly fitsHole: boolean;
  readonly layers: readonly Layer2[];
}
interface Key2Matte {
  readonly kind: string;
  readonly threshold?: Channel2;
}
interface Matte2 extends Omit<Matte, 'key'> {
  readonly key?: Key2Matte;
}
interface Film2 extends Omit<Film, 'schemaVersion' | 'joins' | 'mattes'> {
  readonly schemaVersion: number;
  readonly joins: readonly Join2[];
  readonly mattes: readonly Matte2[];
}

/** The version of a document; null when it is none. */
export function versionOf(document: unknown): number | null {
  const version = typeof document === 'object' && document !== null ? (document as { schemaVersion?: unknown }).schemaVersion : undefined;
  return typeof version === 'number' ? version : null;
}

/**
 * A film of any version as one of today's. What is no film at all is handed back as it is, for whoever checks it.
 * @throws RangeError for a film of a version that this program does not know
 */
export function migrateFilm(document: unknown): Film {
  const version = versionOf(document);
  if (version === null) return document as Film;
  if (version === SCHEMA_VERSION) return document as Film;
  // version 3 holds nothing that this one does not know
  if (version === 3) return { ...withOwners(document as Film), schemaVersion: SCHEMA_VERSION };
  if (version !== 2) throw new RangeError(`The film is of version ${version}; this program reads versions 2 to ${SCHEMA_VERSION}.`);
  const film = document as Film2;
  return { ...film, schemaVersion: SCHEMA_VERSION, joins: film.joins.map(newJoin), mattes: film.mattes.map(newMatte) };
}

/** A film of version 3 from before mattes said who made them: there a recipe's own is named after its join or shot. The same film when none is. */
function withOwners(film: Film): Film {
  // what is no film is found to be none by whoever checks it
  if (
    ![film.mattes, film.joins, film.shots].every(
      (list) => Array.isArray(list) && list.every((item) => typeof item === 'object' && item !== null),
    )
  )
    return film;
  const ids = [...film.joins, ...film.shots].map((owner) => owner.id);
  const roles = ['sweep', 'seam', 'tile', 'border-leaving', 'border-entering'];
  const owners = new Map(ids.flatMap((id) => roles.map((role): [string, string] => [`${id}-${role}`.slice(-64), id])));
  if (!film.mattes.some((m) => m.ownerId === undefined && owners.has(m.id))) return film;
  return {
    ...film,
    mattes: film.mattes.map((m) => (m.ownerId === undefined && owners.has(m.id) ? { ...m, ownerId: owners.get(m.id)! } : m)),
  };
}

const newJoin = ({ kind, fitsHole, layers, ...rest }: Join2): Join => ({
  ...rest,
  layers: layers.map(newLayer),
  carriers: [],
  finish: [],
  ...(kind === 'wipe past' ? { recipe: { kind, settings: { followsHole: fitsHole }, made: '' } } : {}),
});

const newLayer = ({ source, opacity, x, y, scale, rotationDegrees, ...rest }: Layer2): Layer => ({
  ...rest,
  source: { kind: source },
  motion: { ...STILL, x: newChannel(x), y: newChannel(y), scale: newChannel(scale), turn: newChannel(rotationDegrees) },
  edges: 'none',
  opacity: newChannel(opacity),
  blend: 'normal',
  blur: true,
  effects: [],
});

const newMatte = ({ key, ...rest }: Matte2): Matte => ({ ...rest, ...(key === undefined ? {} : { key: newMatteKey(key) }) }) as Matte;

const newMatteKey = (key: Key2Matte): Key2Matte =>
  key.threshold === undefined ? key : ({ ...key, threshold: newChannel(key.threshold) } as unknown as Key2Matte);

/** The old eases are cubic Bézier curves too, so that values stay what they were on every frame. */
function newChannel(channel: Channel2): Channel {
  if (typeof channel === 'number') return channel;
  return channel.map(({ frame, value, ease }, i): ValueKey => ({
    frame,
    value,
    out: EASE_SHAPES[ease].out,
    into: i === 0 ? 'straight' : EASE_SHAPES[channel[i - 1]!.ease].into,
  }));
}

type Patch = Edit['patches'][number];
type Path = readonly (string | number)[];

/**
 * An edit made on a film of an earlier version, as one for today's.
 * @returns null when it changes what is built differently now in a way that cannot be told from the edit alone
 */
export function migrateEdit(edit: Edit, version: number): Edit | null {
  // what was changed of a film of version 3 is built the same today
  if (version >= 3) return edit;
  const patches = edit.patches.map(newPatch);
  const inverse = edit.inverse.map(newPatch);
  return [...patches, ...inverse].includes(null) ? null : { ...edit, patches: patches as Patch[], inverse: inverse as Patch[] };
}

const MOVED: Readonly<Record<string, readonly string[]>> = {
  opacity: ['opacity'],
  x: ['motion', 'x'],
  y: ['motion', 'y'],
  scale: ['motion', 'scale'],
  rotationDegrees: ['motion', 'turn'],
};

function newPatch(patch: Patch): Patch | null {
  const path: Path = patch.path;
  if (path[0] === 'mattes') return newMattePatch(patch, path);
  if (path[0] !== 'joins') return patch;
  const has = 'value' in patch;
  if (path.length === 1) return has ? { ...patch, value: (patch.value as Join2[]).map(newJoin) } : patch;
  if (path.length === 2) return has ? { ...patch, value: newJoin(patch.value as Join2) } : patch;
  if (path[2] === 'fitsHole' || path[2] === 'kind') return null;
  if (path[2] !== 'layers') return patch;
  if (path.length === 3) return has ? { ...patch, value: (patch.value as Layer2[]).map(newLayer) } : patch;
  if (path.length === 4) return has ? { ...patch, value: newLayer(patch.value as Layer2) } : patch;
  if (path[4] === 'source') return null;
  const moved = MOVED[String(path[4])];
  if (moved === undefined) return patch;
  // a single key of a channel says nothing of the one before it, by which it is reached
  if (path.length > 5) return null;
  return { ...patch, path: [...path.slice(0, 4), ...moved], ...(has ? { value: newChannel(patch.value as Channel2) } : {}) };
}

function newMattePatch(patch: Patch, path: Path): Patch | null {
  const has = 'value' in patch;
  if (path.length === 1) return has ? { ...patch, value: (patch.value as Matte2[]).map(newMatte) } : patch;
  if (path.length === 2) return has ? { ...patch, value: newMatte(patch.value as Matte2) } : patch;
  if (path[2] !== 'key') return patch;
  if (path.length === 3) return has && patch.value !== undefined ? { ...patch, value: newMatteKey(patch.value as Key2Matte) } : patch;
  if (path[3] !== 'threshold') return patch;
  if (path.length > 4) return null;
  return has ? { ...patch, value: newChannel(patch.value as Channel2) } : patch;
}
