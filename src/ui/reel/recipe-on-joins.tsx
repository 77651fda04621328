'use client';
import Link from 'next/link';
import { useState } from 'react';
import type { PlacedJoin } from '../../core/film/timing';
import { layOwnRecipe, type Told } from '../../core/recipes/own-recipe';
import { Button } from '../parts/button';
import { Note } from '../parts/note';
import { Section } from '../parts/section';
import { SelectRow } from '../parts/select-row';
import { useFilm, useTools } from '../store/film-context';
import { RoomRow } from '../shots/room-row';
import { useOwnRecipes } from '../store/own-recipes';
import { newId } from '../store/new-id';

interface Report {
  readonly joinId: string;
  readonly name: string;
  readonly told: readonly Told[];
}

/** Lays one of one's own recipes on all joins that are chosen, and tells for each what did not fit. */
export function RecipeOnJoins({ chosen }: { readonly chosen: readonly PlacedJoin[] }) {
  const { store } = useTools();
  const { media } = useFilm('media');
  const { recipes, problem } = useOwnRecipes();
  const [recipeId, setRecipeId] = useState('');
  const [reports, setReports] = useState<readonly Report[] | null>(null);
  const kept = (recipes ?? []).find((r) => r.id === recipeId) ?? recipes?.[0];
  const joins = chosen.length === 1 ? 'this join' : `${chosen.length} joins`;
  const lay = (): void => {
    if (kept === undefined) return;
    const { recipe } = kept;
    const made: Report[] = [];
    store.edit(`Applied ${recipe.name} to ${joins}`, (d) => {
      made.length = 0;
      for (const { join } of chosen) made.push({ joinId: join.id, name: join.name, told: layOwnRecipe(d, media, join.id, recipe, newId) });
    });
    setReports(made);
  };
  return (
    <Section title={`${chosen.length} ${chosen.length === 1 ? 'join' : 'joins'} selected`} name="Chosen joins">
      <RoomRow joinIds={chosen.map((p) => p.join.id)} />
      {problem !== null && <Note tone="fault">{problem}</Note>}
      {recipes?.length === 0 && <p className="text-soft">No recipe yet. Open a join and save it as one in Pair.</p>}
      {kept !== undefined && (
        <>
          <SelectRow
            label="Recipe"
            value={kept.id}
            options={(recipes ?? []).map((r) => ({ value: r.id, text: r.recipe.name }))}
            onChange={setRecipeId}
          />
          <div>
            <Button onClick={lay}>Apply to {joins}</Button>
          </div>
        </>
      )}
      {reports !== null && (
        <ul className="flex flex-col gap-2" aria-label="What did not fit">
          {reports.map(({ joinId, name, told }) => (
            <li key={joinId}>
              <Note tone={told.length === 0 ? 'good' : 'heed'}>
                <b>{name}</b>: {told.length === 0 ? 'all of it fits.' : told.map((t) => t.text).join(' ')}{' '}
                {told.some((t) => t.matte !== undefined) && (
                  <Link
                    href={`/films/${store.filmId}/joins/${joinId}?step=mask&matte=${told.find((t) => t.matte !== undefined)!.matte!.id}`}
                    className="underline"
                  >
                    Go there
                  </Link>
                )}
              </Note>
            </li>
          ))}
        </ul>
      )}
    </Section>
  );
}
