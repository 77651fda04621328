import { readFile } from 'node:fs/promises';
import { extname } from 'node:path';
import { parseArgs } from 'node:util';
import type { Knex } from 'knex';
import type { SendFormat } from '../core/film/job';
import { filmLength, placedJoins } from '../core/film/timing';
import { openDataDb } from '../server/database/db';
import { orderedFrames, sendOrdered, sourcesOf } from '../server/exports/exports';
import { findFilm, type StoredFilm } from '../server/films/films';
import { parseFilm } from '../server/schema/film-schema';
import { takes } from './help';
import { fromCaller, outputFile } from './output';
import { UsageError, wholeNumber } from './usage';

/** A film in the data folder by id or name, or a film file whose media are in the data folder. */
async function findOrRead(db: Knex, idOrFile: string): Promise<StoredFilm> {
  if (extname(idOrFile) !== '.json') return findFilm(db, idOrFile);
  const film = parseFilm(JSON.parse(await readFile(fromCaller(idOrFile), 'utf8')));
  return { ...(await findFilm(db, film.name)), film };
}

/** `--join N` counts the reel's joins from 1; `--from` and `--to` are film frames, the last one included. */
export async function renderCommand(args: readonly string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args: [...args],
    allowPositionals: true,
    options: { join: { type: 'string' }, handles: { type: 'string', default: '0' }, from: { type: 'string' }, to: { type: 'string' } },
  });
  const [name, out] = positionals;
  if (name === undefined || out === undefined || positionals.length > 2) throw new UsageError(takes('render'));
  const format = extname(out).slice(1) as SendFormat;
  if (!['webm', 'mp4', 'wav'].includes(format)) throw new UsageError(`${out}: the name must end in .webm, .mp4 or .wav`);
  const output = outputFile(out);
  const db = await openDataDb();
  const { id, film } = await findOrRead(db, name);
  let range = { from: 0, to: filmLength(film) };
  if (values.join !== undefined) {
    const placed = placedJoins(film)[wholeNumber(values.join, '--join', 1) - 1];
    if (placed === undefined) throw new UsageError(`--join ${values.join}: the reel has ${placedJoins(film).length} joins`);
    range = orderedFrames(film, { format, joinId: placed.join.id, handles: wholeNumber(values.handles, '--handles', 0) });
  }
  if (values.from !== undefined) range.from = wholeNumber(values.from, '--from', 0);
  if (values.to !== undefined) range.to = wholeNumber(values.to, '--to', range.from) + 1;
  if (range.to > filmLength(film)) throw new UsageError(`--to ${range.to - 1}: the last frame of the film is ${filmLength(film) - 1}`);
  const abort = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
    process.once(signal, () => abort.abort(new Error('stopped; nothing was written')));
  let shown = -1;
  const { frames, framesWithHoles } = await sendOrdered(
    { format },
    {
      film,
      ...(await sourcesOf(db, id, film, range)),
      ...range,
      output,
      signal: abort.signal,
      onProgress(fraction) {
        const percent = Math.floor(100 * fraction);
        if (percent !== shown) process.stderr.write(`\r${percent} %`);
        shown = percent;
      },
    },
  );
  process.stderr.write(`\r${frames} frames written to ${out}\n`);
  if (framesWithHoles.length > 0)
    process.stderr.write(`${framesWithHoles.length} frames have empty pixels, the first is ${framesWithHoles[0]}\n`);
}
