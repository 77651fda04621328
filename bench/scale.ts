import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { applyPatches, enablePatches } from 'immer';
import { renameJoin } from '../src/core/film/edits/joins';
import { addShot } from '../src/core/film/edits/reel';
import { trimEnd } from '../src/core/film/edits/trims';
import { addLayer } from '../src/core/film/edits/layers';
import { addTrack } from '../src/core/film/edits/mattes';
import { createFilm, type Film, type Medium } from '../src/core/film/film';
import { applyEdit, changedFilm, makeEdit } from '../src/core/film/history';
import { countingIds } from '../src/core/film/sample-film';
import { filmLength } from '../src/core/film/timing';
import { rational } from '../src/core/geometry/rational';
import { planFrame } from '../src/core/plan/plan-film';
import { openDb } from '../src/server/database/db';
import { openFilm, storeEdit } from '../src/server/films/film-edits';
import { addFilm, loadFilm } from '../src/server/films/films';
import type { Line } from './line';

enablePatches();

const MEDIUM: Medium = { id: 'x', kind: 'video', name: 'x', width: 1920, height: 1080, rate: rational(24, 1), frames: 200 };
const MEDIA = new Map([['x', MEDIUM]]);

/** A film of so many shots, with five or six layers in each join. */
function filmOf(shots: number): Film {
  const newId = countingIds('n');
  return changedFilm(createFilm('Long', 1920, 1080, rational(24, 1)), (d) => {
    for (let i = 0; i < shots; i++) addShot(d, MEDIUM, i, newId);
    for (const [i, j] of d.joins.entries()) {
      Object.assign(j, { before: 6, after: 6 });
      for (let n = 0; n < 4 + (i % 2); n++) addLayer(d, j.id, `Layer ${n}`, { kind: 'entering' }, newId);
    }
  });
}

/** Processor time of work, ms: the least of a few runs. */
async function cpu(work: () => unknown, runs = 5): Promise<number> {
  let least = Infinity;
  for (let i = 0; i < runs; i++) {
    const began = process.cpuUsage();
    await work();
    const { user, system } = process.cpuUsage(began);
    least = Math.min(least, (user + system) / 1000);
  }
  return least;
}

const ms = (value: number): string => `${value < 1 ? value.toFixed(3) : value < 10 ? value.toFixed(1) : value.toFixed(0)} ms`;

/** How work grows with the film, as processor time. */
export async function benchScale(): Promise<Line[]> {
  return [...(await editsOfTracks()), ...(await filmsOfShots())];
}

async function editsOfTracks(): Promise<Line[]> {
  const base = changedFilm(createFilm('T', 1920, 1080, rational(24, 1)), (d) => {
    addTrack(d, 'x', 'Sign', 'affine', 2000, [[0, 0], [9, 0], [9, 9]], () => 't'); // prettier-ignore
  });
  const back = (count: number) => {
    const frames = Array.from({ length: count }, (_, i) => ({ frame: 2000 - count + i, corners: [[i, 0], [9, 0], [9, 9]], confidence: 1 })); // prettier-ignore
    return makeEdit(base, 'Followed', (d) => void (d.tracks![0]!.frames = frames as never))!.edit;
  };
  const edit = back(2000);
  const known = await cpu(() => edit.patches.slice(0, 500).reduce((film, p) => applyPatches(film, [p]), base), 2);
  const ours = await cpu(() => applyEdit(base, edit));
  return [
    {
      what: 'an edit of 2,000 frames followed backwards: laid on the film',
      value: ms(ours),
      against: `immer, patch by patch, the first 500 of them alone ${ms(known)}`,
    },
    {
      what: 'the same: told apart from the film before',
      value: ms(await cpu(() => back(2000))),
      against: `1,000 frames ${ms(await cpu(() => back(1000)))}`,
    },
  ];
}

async function filmsOfShots(): Promise<Line[]> {
  const folder = mkdtempSync(join(tmpdir(), 'irimi-scale-'));
  process.env.IRIMI_DATA = folder;
  const db = await openDb(join(folder, 'irimi.sqlite'));
  const found = new Map<number, Record<string, number>>();
  try {
    for (const shots of [30, 100, 300]) {
      const film = filmOf(shots);
      const id = await addFilm(db, film);
      const row = { id: `x-${shots}`, film_id: id, name: 'x', status: 'ready', bytes: 1, added_at: 1 };
      await db('media').insert({ ...row, facts: JSON.stringify({ ...MEDIUM, id: row.id }) });
      let n = 0;
      const rename = async (): Promise<void> => {
        const { film: now, revision } = await loadFilm(db, id);
        const { edit } = makeEdit(now, 'Renamed', (d) => renameJoin(d, d.joins[0]!.id, `name ${n++}`))!;
        await storeEdit(db, id, { base: revision, edit });
      };
      await rename();
      found.set(shots, {
        open: await cpu(async () => JSON.stringify(await openFilm(db, id))),
        rename: await cpu(rename, 9),
        trim: await cpu(() =>
          makeEdit(film, 'Trimmed', (d) => trimEnd(d, MEDIUM, d.shots[Math.floor(shots / 2)]!.id, -1, countingIds('t'))),
        ),
        plan:
          (await cpu(() => {
            for (let i = 0; i < 200; i++) planFrame(film, MEDIA, Math.floor((i * filmLength(film)) / 200));
          })) / 200,
      });
    }
  } finally {
    await db.destroy();
    rmSync(folder, { recursive: true, force: true });
  }
  const line = (what: string, field: string, wanted: string): Line => ({
    what: `${what}, films of 30, 100, 300 shots`,
    value: [30, 100, 300].map((s) => ms(found.get(s)![field]!)).join(', '),
    against: wanted,
  });
  return [
    line('opened', 'open', 'wanted 2 s at 300'),
    line('an edit stored and acknowledged', 'rename', 'wanted 30 ms at 300'),
    line('one shot trimmed in the page', 'trim', 'wanted 50 ms at 300'),
    line('one frame planned', 'plan', 'wanted 1.5 times from 30 to 300'),
  ];
}
