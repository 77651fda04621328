import { randomUUID } from 'node:crypto';
import Joi from 'joi';
import type { Knex } from 'knex';
import { LIMITS } from '../../core/film/limits';
import { circlingCarrier } from '../../core/film/references';
import { OWN_RECIPE_FORMAT, type Adapts, type KeptRecipe, type OwnRecipe, type SlotMatte } from '../../core/recipes/own-recipe';
import { AppError } from '../base/errors';
import { camera, carrier, effects, relativeLayer } from '../schema/film-schema';
import { parse } from '../base/parse';
import { recipe } from '../schema/recipe-schema';
import { frame, id, name, shaped } from '../base/schema-parts';

/** A small picture has at most so many characters. */
const MOST_PICTURE = 400_000;

const slotMatte = shaped<SlotMatte>({
  id: id.required(),
  name: name.required(),
  side: Joi.string().valid('leaving', 'entering').allow(null).required(),
  isHole: Joi.boolean(),
});
const adapts = shaped<Adapts>({ length: Joi.boolean().required(), mattes: Joi.boolean().required(), beats: Joi.boolean().required() });

export const ownRecipe = shaped<OwnRecipe>({
  format: Joi.string().valid(OWN_RECIPE_FORMAT).required(),
  version: Joi.number().valid(1).required(),
  name: name.required(),
  picture: Joi.string()
    .pattern(/^data:image\/(png|jpeg|webp);base64,[\w+/=]+$/)
    .max(MOST_PICTURE)
    .allow(null)
    .required(),
  adapts: adapts.required(),
  before: frame.min(0).required(),
  after: frame.min(0).required(),
  recipe: recipe.allow(null).required(),
  layers: Joi.array().items(relativeLayer).unique('id').max(LIMITS.layersOfJoin).required(),
  carriers: Joi.array().items(carrier).unique('id').max(LIMITS.carriersOfJoin).required(),
  camera,
  byDepth: Joi.boolean(),
  finish: effects,
  mattes: Joi.array().items(slotMatte).max(500).required(),
  beats: Joi.array().items(frame).max(2000).required(),
}).required();

interface RecipeRow {
  id: string;
  document: string;
  made_at: number;
}

const keptOf = (row: RecipeRow): KeptRecipe => ({ id: row.id, recipe: JSON.parse(row.document) as OwnRecipe });

/** The recipes of one's own, the newest first. */
export async function listRecipes(db: Knex): Promise<KeptRecipe[]> {
  return (await db<RecipeRow>('own_recipes').orderBy('made_at', 'desc').orderBy('id')).map(keptOf);
}

/** @throws AppError 'bad-request' for what is no recipe: of another shape, or one that rides on itself or on what is not in it */
function parseRecipe(value: unknown): OwnRecipe {
  const recipe = parse<OwnRecipe>(ownRecipe, value);
  const carriers = new Set(recipe.carriers.map((c) => c.id));
  const riders = [...recipe.layers, ...recipe.carriers, ...(recipe.camera === undefined ? [] : [recipe.camera])];
  if (riders.some(({ ridesOn }) => ridesOn !== undefined && !carriers.has(ridesOn)))
    throw new AppError('bad-request', `Not accepted: something in ${recipe.name} rides on a carrier that is not in it.`);
  if (circlingCarrier(recipe) !== null) throw new AppError('bad-request', `Not accepted: a carrier of ${recipe.name} rides on itself.`);
  return recipe;
}

/** Keeps a recipe. @throws AppError 'bad-request' when it is none, 'conflict' when there are too many */
export async function keepRecipe(db: Knex, value: unknown): Promise<KeptRecipe> {
  const kept = { id: randomUUID(), recipe: parseRecipe(value) };
  const [{ count }] = (await db('own_recipes').count({ count: '*' })) as [{ count: number }];
  if (count >= LIMITS.recipes) throw new AppError('conflict', `There are ${LIMITS.recipes} recipes already: delete one first.`);
  await db<RecipeRow>('own_recipes').insert({ id: kept.id, document: JSON.stringify(kept.recipe), made_at: Date.now() });
  return kept;
}

/** Puts another recipe in the place of one. @throws AppError 'not-found', 'bad-request' */
export async function replaceRecipe(db: Knex, recipeId: string, value: unknown): Promise<KeptRecipe> {
  const parsed = parseRecipe(value);
  const changed = await db<RecipeRow>('own_recipes')
    .where({ id: recipeId })
    .update({ document: JSON.stringify(parsed) });
  if (changed === 0) throw new AppError('not-found', 'This recipe is no longer there.');
  return { id: recipeId, recipe: parsed };
}

export async function deleteRecipe(db: Knex, recipeId: string): Promise<void> {
  await db<RecipeRow>('own_recipes').where({ id: recipeId }).delete();
}
