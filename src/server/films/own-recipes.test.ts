import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Knex } from 'knex';
import { joinAt, MEDIA, REEL } from '../../core/recipes/test-joins';
import { changed } from '../../core/film/sample-film';
import { makeKind } from '../../core/recipes/making';
import { recipeOfJoin, type OwnRecipe } from '../../core/recipes/own-recipe';
import { STILL } from '../../core/motion/motion';
import { openDb } from '../database/db';
import { deleteRecipe, keepRecipe, listRecipes, replaceRecipe } from './own-recipes';

let db: Knex;
beforeAll(async () => {
  db = await openDb(':memory:');
});
afterAll(() => db.destroy());

const adapts = { length: true, mattes: true, beats: false };
const film = changed(REEL, (d) => makeKind(d, MEDIA, joinAt(REEL).join.id, 'panels on the beat', {}));
const recipe: OwnRecipe = recipeOfJoin(film, MEDIA, joinAt(film), { name: 'Five panels', picture: 'data:image/png;base64,AAAA', adapts });

describe('recipes of one’s own', () => {
  it('are kept, listed, changed and deleted as they are', async () => {
    const kept = await keepRecipe(db, JSON.parse(JSON.stringify(recipe)));
    expect(await listRecipes(db)).toEqual([{ id: kept.id, recipe }]);
    await replaceRecipe(db, kept.id, { ...recipe, name: 'Another name' });
    expect((await listRecipes(db))[0]!.recipe.name).toBe('Another name');
    await deleteRecipe(db, kept.id);
    expect(await listRecipes(db)).toEqual([]);
    await expect(replaceRecipe(db, kept.id, recipe)).rejects.toThrow('no longer there');
  });

  it('are refused when something in them rides on itself or on what is not there', async () => {
    const carrier = (id: string, ridesOn: string) => ({ id, name: id, motion: STILL, ridesOn });
    const circle = { ...recipe, carriers: [carrier('a', 'b'), carrier('b', 'c'), carrier('c', 'b')] };
    await expect(keepRecipe(db, circle)).rejects.toThrow(/rides on itself/);
    await expect(keepRecipe(db, { ...recipe, carriers: [carrier('a', 'gone')] })).rejects.toThrow(/carrier that is not in it/);
  });

  it('are refused when they are none', async () => {
    const bad: unknown[] = [
      null,
      [],
      { ...recipe, format: 'something else' },
      { ...recipe, version: 2 },
      { ...recipe, name: '' },
      { ...recipe, picture: 'javascript:alert(1)' },
      { ...recipe, before: -1 },
      { ...recipe, layers: [{ id: 'x' }] },
      { ...recipe, layers: [{ ...recipe.layers[0], source: { kind: 'held', side: 'nobody', frame: 0 } }] },
      { ...recipe, recipe: { kind: 'arrive', settings: { from: 'nowhere' }, made: '' } },
      { ...recipe, more: 1 },
    ];
    for (const value of bad) await expect(keepRecipe(db, value)).rejects.toThrow('Not accepted');
    expect(await listRecipes(db)).toEqual([]);
  });
});
