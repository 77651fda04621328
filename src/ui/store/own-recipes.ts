import { create } from 'zustand';
import type { KeptRecipe, OwnRecipe } from '../../core/recipes/own-recipe';
import { call } from './api';

interface OwnRecipesState {
  /** Null until they were asked for. */
  readonly recipes: readonly KeptRecipe[] | null;
}

/** The recipes of one's own as the server has them. */
export const useOwnRecipes = create<OwnRecipesState>(() => ({ recipes: null }));

const set = (change: (recipes: readonly KeptRecipe[]) => readonly KeptRecipe[]): void =>
  useOwnRecipes.setState(({ recipes }) => ({ recipes: change(recipes ?? []) }));

/** @throws ApiError, or TypeError when the server cannot be reached; so do all of these */
export async function loadRecipes(): Promise<void> {
  useOwnRecipes.setState({ recipes: await call<KeptRecipe[]>('GET', '/api/recipes') });
}

/** Bytes of a recipe that a browser still sends when the page is left. */
const OUTLIVES_PAGE = 60_000;

const send = (url: string, recipe: unknown): Promise<KeptRecipe> =>
  call<KeptRecipe>('POST', url, recipe, new Blob([JSON.stringify(recipe)]).size < OUTLIVES_PAGE);

export async function keepRecipe(recipe: unknown): Promise<KeptRecipe> {
  const kept = await send('/api/recipes', recipe);
  set((all) => [kept, ...all]);
  return kept;
}

export async function replaceRecipe(id: string, recipe: OwnRecipe): Promise<KeptRecipe> {
  const kept = await send(`/api/recipes/${id}`, recipe);
  set((all) => all.map((r) => (r.id === id ? kept : r)));
  return kept;
}

export async function deleteRecipe(id: string): Promise<void> {
  await call('DELETE', `/api/recipes/${id}`);
  set((all) => all.filter((r) => r.id !== id));
}
