import { placeJoin } from '../../core/film/timing';
import { layOwnRecipe, recipeOfJoin, type Told } from '../../core/recipes/own-recipe';
import type { FilmStore } from '../store/film-store';
import { heldJoin, holdJoin } from './shot-clipboard';
import { newId } from '../store/new-id';

/** What of a copied join fits itself to the cut it is laid on: mattes of the new shots are taken where there are some. */
const ADAPTS = { length: false, mattes: true, beats: false };

/** Holds what was made of a join, to be laid on others, of another film too. */
export function copyJoin(store: FilmStore, joinId: string): void {
  const { film, media } = store.snapshot();
  const placed = placeJoin(film!, joinId);
  if (placed === null) return;
  const { name } = placed.join;
  holdJoin(recipeOfJoin(film!, media, placed, { name, picture: null, adapts: ADAPTS }));
  store.notify(`Copied ${name}. Select other joins and paste it with Ctrl V.`);
}

/** Lays the copied join on others, and says what did not fit. */
export function pasteJoin(store: FilmStore, joinIds: readonly string[]): void {
  const recipe = heldJoin();
  if (recipe === null) return store.notify('Nothing to paste: copy a join first.');
  const { media } = store.snapshot();
  let told: Told[] = [];
  const many = joinIds.length === 1 ? '' : ` on ${joinIds.length} joins`;
  store.edit(`Pasted ${recipe.name}${many}`, (d) => {
    told = joinIds.flatMap((id) => layOwnRecipe(d, media, id, recipe, newId));
  });
  const lacks = [...new Set(told.map((t) => t.text))];
  store.notify(lacks.length === 0 ? `Pasted ${recipe.name}${many}: all of it fits.` : `Pasted ${recipe.name}${many}. ${lacks.join(' ')}`);
}
