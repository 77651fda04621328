'use client';
import { Sheet } from '../../parts/sheet';
import { useState, type FormEvent } from 'react';
import type { PlacedJoin } from '../../../core/film/timing';
import { planFrame } from '../../../core/plan/plan-film';
import { recipeOfJoin, type Adapts } from '../../../core/recipes/own-recipe';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { SelectRow, SwitchRow } from '../../parts/select-row';
import { useFilm, useTools } from '../../store/film-context';
import { keepRecipe, replaceRecipe, useOwnRecipes } from '../../store/own-recipes';

const [WIDTH, HEIGHT] = [320, 180];

export const ADAPTS_TEXT: Readonly<Record<keyof Adapts, string>> = {
  length: 'Fits the length of the join',
  mattes: 'Takes the mattes of the new shots',
  beats: 'Keeps to the beats',
};

/** Saves a join as a recipe: its name, what of it adapts, and its middle frame as a picture. */
export function SaveRecipe({ placed, onClose }: { readonly placed: PlacedJoin; readonly onClose: () => void }) {
  const { frames, store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { recipes = [], problem: unread } = useOwnRecipes();
  const [name, setName] = useState(placed.join.name);
  const [over, setOver] = useState('');
  const [adapts, setAdapts] = useState<Adapts>({ length: true, mattes: true, beats: true });
  const [failed, setProblem] = useState<string | null>(null);
  const problem = failed ?? unread;
  const [isBusy, setBusy] = useState(false);
  const pictureOf = async (): Promise<string | null> => {
    const plan = planFrame(film, media, Math.floor((placed.from + placed.to) / 2), { samples: 4 });
    const bitmap = await frames.draw({ kind: 'picture', plan }, WIDTH, HEIGHT, 'thumb');
    if (bitmap === null) return null;
    const canvas = Object.assign(document.createElement('canvas'), { width: WIDTH, height: HEIGHT });
    canvas.getContext('2d')!.drawImage(bitmap, 0, 0, WIDTH, HEIGHT);
    return canvas.toDataURL('image/jpeg', 0.8);
  };
  const save = async (): Promise<void> => {
    setBusy(true);
    const before = recipes.find((r) => r.id === over)?.recipe.picture ?? null;
    // it is kept at once, also when the page is left; its picture takes a moment and follows
    const recipe = recipeOfJoin(film, media, placed, { name: name.trim(), picture: before, adapts });
    try {
      const kept = over === '' ? await keepRecipe(recipe) : await replaceRecipe(over, recipe);
      store.notify(`Saved the recipe ${recipe.name}.`);
      onClose();
      const picture = await pictureOf();
      if (picture !== null) await replaceRecipe(kept.id, { ...recipe, picture });
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <Sheet title="Save as a recipe" onClose={onClose} className="w-[380px]">
      <form
        className="flex flex-col gap-3 p-5"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          void save();
        }}
      >
        <label className="flex items-center justify-between gap-2">
          Name
          <input
            aria-label="Name of the recipe"
            className="h-7 w-[230px] rounded-[5px] border border-rule bg-sheet px-2"
            value={name}
            maxLength={200}
            onChange={(e) => setName(e.target.value)}
          />
        </label>
        {recipes.length > 0 && (
          <SelectRow
            label="Saved"
            value={over}
            options={[{ value: '', text: 'as a new one' }, ...recipes.map((r) => ({ value: r.id, text: `over ${r.recipe.name}` }))]}
            onChange={setOver}
          />
        )}
        {(Object.keys(ADAPTS_TEXT) as (keyof Adapts)[]).map((key) => (
          <SwitchRow key={key} label={ADAPTS_TEXT[key]} value={adapts[key]} onChange={(on) => setAdapts({ ...adapts, [key]: on })} />
        ))}
        <p className="text-soft">
          Use it on any other join from the kinds of join, or on many at once from the reel. Anything that does not fit is reported.
        </p>
        {problem !== null && <Note tone="fault">{problem}</Note>}
        <div>
          <Button tone="ink" type="submit" disabled={isBusy || name.trim() === ''}>
            {isBusy ? 'Saving…' : 'Save'}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
