import { mkdir, readdir, rename, stat } from 'node:fs/promises';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { FoundPlace, FoundThing } from '../../core/film/media-facts';
import { asideFolder, exportsFolder, incomingFolder, mediaFolder, mediumFile } from '../base/data-folder';
import { AppError } from '../base/errors';
import { takeInFolder, takeInMedium, type MediumNote } from '../media/media';

// What lies in the data folder and is of no film: after a database was lost, or came from elsewhere. It is listed, and stays where it
// is until somebody says what becomes of it.

const PLACES = {
  media: mediaFolder,
  exports: exportsFolder,
  incoming: incomingFolder,
} as const satisfies Record<FoundPlace, () => string>;

/** Everything found, the newest first. */
export async function listFound(db: Knex): Promise<FoundThing[]> {
  const known: Record<FoundPlace, (entry: string) => boolean> = {
    media: hasId(await idsOf(db, 'media')),
    exports: hasId(await idsOf(db, 'exports')),
    incoming: hasId(await awaited(db)),
  };
  const found: FoundThing[] = [];
  for (const place of Object.keys(PLACES) as FoundPlace[])
    for (const entry of await readdir(PLACES[place]()))
      if (!entry.startsWith('.') && !known[place](entry)) found.push(await describe(place, entry));
  return found.sort((a, b) => b.changedAt - a.changedAt);
}

const idsOf = async (db: Knex, table: 'media' | 'exports'): Promise<ReadonlySet<string>> =>
  new Set((await db<{ id: string }>(table).select('id')).map((row) => row.id));

/** Received files that a job has been or will be about. */
async function awaited(db: Knex): Promise<ReadonlySet<string>> {
  const jobs = await db<{ kind: string; payload: string | null }>('jobs').where({ kind: 'bring in' }).select('payload');
  return new Set(jobs.flatMap((j) => (JSON.parse(j.payload ?? '{}') as { file?: string }).file ?? []));
}

/** An entry is called by an id, with an ending or without. */
const hasId =
  (ids: ReadonlySet<string>) =>
  (entry: string): boolean =>
    ids.has(entry.split('.')[0]!);

async function describe(place: FoundPlace, entry: string): Promise<FoundThing> {
  const path = join(PLACES[place](), entry);
  const here = await stat(path);
  const original = place === 'media' ? join(path, 'original') : path;
  const isUsable = existsSync(original) && (await stat(original)).isFile() && !entry.endsWith('.part');
  const size = isUsable ? (await stat(original)).size : here.size;
  const name = place === 'media' ? noteOf(path)?.name : undefined;
  return { place, entry, name: name ?? entry, bytes: size, changedAt: Math.round(here.mtimeMs), isUsable };
}

/** What was noted beside a medium when it came in. */
function noteOf(folder: string): MediumNote | null {
  const file = join(folder, 'about.json');
  // one that came in before that was noted has none, and one that was cut short says nothing
  if (!existsSync(file)) return null;
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as MediumNote;
  } catch (error) {
    if (error instanceof SyntaxError) return null;
    throw error;
  }
}

/** @throws AppError 'not-found' unless it is found there now: a name never becomes a path by itself */
async function foundThing(db: Knex, place: FoundPlace, entry: string): Promise<FoundThing> {
  const thing = (await listFound(db)).find((f) => f.place === place && f.entry === entry);
  if (thing === undefined) throw new AppError('not-found', 'This is no longer there, or a film uses it by now.');
  return thing;
}

/** Makes a found file a medium of a film; gives its id. The job that prepares it is added by the caller. */
export async function takeInFound(
  db: Knex,
  place: FoundPlace,
  entry: string,
  filmId: string,
): Promise<{ readonly id: string; readonly name: string; readonly bytes: number }> {
  const { isUsable, name, bytes } = await foundThing(db, place, entry);
  if (!isUsable) throw new AppError('unusable-file', `${entry} holds no file that can be imported. It can only be moved aside.`);
  // a medium keeps its id, by which films made elsewhere may know it
  if (place === 'media' && /^[\w-]{1,64}$/.test(entry)) {
    await takeInFolder(db, entry, filmId, name);
    return { id: entry, name, bytes };
  }
  const id = await takeInMedium(db, filmId, name, place === 'media' ? mediumFile(entry, 'original') : join(PLACES[place](), entry));
  return { id, name, bytes };
}

/** Moves something found out of the way, within the data folder; gives where to. */
export async function moveAside(db: Knex, place: FoundPlace, entry: string, now = new Date()): Promise<string> {
  await foundThing(db, place, entry);
  const folder = join(asideFolder(), now.toISOString().slice(0, 10), place);
  await mkdir(folder, { recursive: true });
  let target = join(folder, entry);
  for (let n = 2; existsSync(target); n++) target = join(folder, `${n}-${entry}`);
  await rename(join(PLACES[place](), entry), target);
  return target;
}
