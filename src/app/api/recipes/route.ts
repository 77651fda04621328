import { NextResponse } from 'next/server';
import { handle, readJson } from '../../../server/http/http';
import { keepRecipe, listRecipes } from '../../../server/films/own-recipes';
import { getWorkshop } from '../../../server/workshop/workshop';

export const GET = handle(async () => NextResponse.json(await listRecipes((await getWorkshop()).db)));

export const POST = handle(async (request) =>
  NextResponse.json(await keepRecipe((await getWorkshop()).db, await readJson(request)), { status: 201 }),
);
