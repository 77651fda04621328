import type { KeptRecipe, OwnRecipe } from '../../core/recipes/own-recipe';
import { call } from './api';
import { askAgain, useAsked } from './asked';

const URL = '/api/recipes';

/** The recipes of one's own as the server has them; undefined until they are there. */
export function useOwnRecipes(): { readonly recipes: readonly KeptRecipe[] | undefined; readonly problem: string | null } {
  const { data, problem } = useAsked<readonly KeptRecipe[]>(URL);
  return { recipes: data, problem: problem === null ? null : `Your recipes could not be loaded: ${problem}` };
}

/** Bytes of a recipe that a browser still sends when the page is left. */
const OUTLIVES_PAGE = 60_000;

const send = async (url: string, recipe: unknown): Promise<KeptRecipe> => {
  const kept = await call<KeptRecipe>('POST', url, recipe, new Blob([JSON.stringify(recipe)]).size < OUTLIVES_PAGE);
  await askAgain(URL);
  return kept;
};

/** @throws ApiError, or TypeError when the server cannot be reached; so do all of these */
export const keepRecipe = (recipe: unknown): Promise<KeptRecipe> => send(URL, recipe);

export const replaceRecipe = (id: string, recipe: OwnRecipe): Promise<KeptRecipe> => send(`${URL}/${id}`, recipe);

export async function deleteRecipe(id: string): Promise<void> {
  await call('DELETE', `${URL}/${id}`);
  await askAgain(URL);
}
