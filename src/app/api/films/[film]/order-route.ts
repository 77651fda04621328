import type Joi from 'joi';
import { NextResponse } from 'next/server';
import type { Film } from '../../../../core/film/film';
import type { JobKind } from '../../../../core/film/job';
import { AppError } from '../../../../server/base/errors';
import { parse } from '../../../../server/base/parse';
import { idSchema } from '../../../../server/http/request-schema';
import { loadFilm } from '../../../../server/films/films';
import { handle, readJson, windowOf } from '../../../../server/http/http';
import { getWorkshop } from '../../../../server/workshop/workshop';

interface Ordered<O> {
  readonly kind: JobKind;
  readonly body: Joi.Schema<O>;
  /** What the order is for; undefined where the film has no such thing. */
  readonly subject: (film: Film, order: O) => { readonly id: string; readonly name: string } | undefined;
  /** What is done to it, such as 'Carrying'. */
  readonly doing: string;
}

/** A route that takes an order for a matte or a track and adds the job that carries it out. */
export const orderRoute = <O>({ kind, body, subject, doing }: Ordered<O>) =>
  handle<{ film: string }>(async (request, { params }) => {
    const { db, jobs } = await getWorkshop();
    const filmId = parse(idSchema, (await params).film);
    const order = parse(body, await readJson(request));
    const found = subject((await loadFilm(db, filmId)).film, order);
    if (found === undefined) throw new AppError('not-found', 'What this is for is not in the film any more.');
    const label = `${doing} ${found.name}`;
    const id = await jobs.add({ filmId, kind, subjectId: found.id, label, order, window: windowOf(request) });
    return NextResponse.json({ id }, { status: 201 });
  });

/** The matte that an order is for. */
export const matteOf = (film: Film, { matteId }: { readonly matteId: string }): Film['mattes'][number] | undefined =>
  film.mattes.find((m) => m.id === matteId);
