import { NextResponse } from 'next/server';
import { handle, readJson } from '../../../../server/http/http';
import { deleteRecipe, replaceRecipe } from '../../../../server/films/own-recipes';
import { parse } from '../../../../server/base/parse';
import { idSchema } from '../../../../server/http/request-schema';
import { getWorkshop } from '../../../../server/workshop/workshop';

export const POST = handle<{ recipe: string }>(async (request, { params }) =>
  NextResponse.json(await replaceRecipe((await getWorkshop()).db, parse(idSchema, (await params).recipe), await readJson(request))),
);

export const DELETE = handle<{ recipe: string }>(async (_, { params }) => {
  await deleteRecipe((await getWorkshop()).db, parse(idSchema, (await params).recipe));
  return NextResponse.json({});
});
