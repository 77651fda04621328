'use client';
import { FileDown, Pencil, Trash2 } from 'lucide-react';
import { useState } from 'react';
import type { Adapts, KeptRecipe, OwnRecipe } from '../../../core/recipes/own-recipe';
import { Button, IconButton } from '../../parts/button';
import { downloadText } from '../../parts/download';
import { FileButton } from '../../parts/file-button';
import { Note } from '../../parts/note';
import { SwitchRow } from '../../parts/select-row';
import { deleteRecipe, keepRecipe, replaceRecipe, useOwnRecipes } from '../../store/own-recipes';
import { ADAPTS_TEXT } from './save-recipe';

/** The recipes of one's own: laid by a click, renamed, deleted, sent out and brought in as files. */
export function OwnRecipesList({ onLay }: { readonly onLay: (recipe: OwnRecipe) => void }) {
  const { recipes, problem: unread } = useOwnRecipes();
  const [failed, setProblem] = useState<string | null>(null);
  const problem = failed ?? unread;
  const [deleted, setDeleted] = useState<OwnRecipe | null>(null);
  const tried = (work: Promise<unknown>): void => {
    setProblem(null);
    work.catch((error: Error) => setProblem(error.message));
  };
  const bringIn = async (files: readonly File[]): Promise<void> => {
    for (const file of files) {
      let value: unknown;
      try {
        value = JSON.parse(await file.text());
      } catch {
        throw new Error(`${file.name} is no JSON file.`);
      }
      try {
        await keepRecipe(value);
      } catch (error) {
        throw new Error(`${file.name} could not be imported: ${(error as Error).message}`, { cause: error });
      }
    }
  };
  return (
    <section aria-label="Custom recipes" className="border-t border-rule pt-3">
      <div className="flex items-center justify-between">
        <h3 className="font-semibold">Custom recipes</h3>
        <FileButton label="Import recipes" accept=".json,application/json" multiple onFiles={(files) => tried(bringIn(files))}>
          Import…
        </FileButton>
      </div>
      {problem !== null && <Note tone="fault">{problem}</Note>}
      {deleted !== null && (
        <Note tone="heed">
          {deleted.name} is deleted.{' '}
          <button type="button" className="underline" onClick={() => tried(keepRecipe(deleted).then(() => setDeleted(null)))}>
            Restore
          </button>
        </Note>
      )}
      {recipes?.length === 0 && <p className="py-2 text-soft">Save a join as a recipe in Pair. It appears here, for every other join.</p>}
      <ul className="flex flex-wrap gap-2.5 py-2.5">
        {(recipes ?? []).map((kept) => (
          <RecipeCard
            key={kept.id}
            kept={kept}
            onLay={() => onLay(kept.recipe)}
            onChange={(recipe) => tried(replaceRecipe(kept.id, recipe))}
            onDelete={() => {
              setDeleted(kept.recipe);
              tried(deleteRecipe(kept.id));
            }}
          />
        ))}
      </ul>
    </section>
  );
}

interface CardProps {
  readonly kept: KeptRecipe;
  readonly onLay: () => void;
  readonly onChange: (recipe: OwnRecipe) => void;
  readonly onDelete: () => void;
}

function RecipeCard({ kept: { recipe }, onLay, onChange, onDelete }: CardProps) {
  const [isEdited, setEdited] = useState(false);
  const fitting = (Object.keys(ADAPTS_TEXT) as (keyof Adapts)[]).filter((key) => recipe.adapts[key]);
  const length = recipe.before + recipe.after;
  return (
    <li data-own-recipe={recipe.name} className="flex w-[234px] flex-col gap-1.5 rounded-md border border-rule p-2.5">
      {recipe.picture === null ? (
        <span className="hatched block h-[80px] border border-rule" />
      ) : (
        <img src={recipe.picture} alt="" className="h-[80px] w-full bg-well object-contain" />
      )}
      <div className="flex items-center gap-0.5">
        <span className="min-w-0 grow truncate font-semibold">{recipe.name}</span>
        <IconButton label={`Change ${recipe.name}`} aria-pressed={isEdited} onClick={() => setEdited(!isEdited)}>
          <Pencil size={13} />
        </IconButton>
        <IconButton
          label={`Export ${recipe.name}`}
          onClick={() => downloadText(`${recipe.name}.json`, `${JSON.stringify(recipe, null, 2)}\n`, 'application/json')}
        >
          <FileDown size={13} />
        </IconButton>
        <IconButton label={`Delete ${recipe.name}`} onClick={onDelete}>
          <Trash2 size={13} />
        </IconButton>
      </div>
      <span className="text-[12px] text-soft">
        {recipe.recipe?.kind ?? 'edited layers'}, {length} frames; adapts {fitting.length === 0 ? 'nothing' : fitting.join(', ')}
      </span>
      {isEdited && (
        <div className="flex flex-col gap-1.5 text-[12px]">
          <input
            aria-label={`New name of ${recipe.name}`}
            className="h-6 rounded-[4px] border border-rule bg-sheet px-1.5"
            defaultValue={recipe.name}
            maxLength={200}
            onBlur={(e) => {
              const name = e.target.value.trim();
              if (name !== '' && name !== recipe.name) onChange({ ...recipe, name });
            }}
            onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
          />
          {(Object.keys(ADAPTS_TEXT) as (keyof Adapts)[]).map((key) => (
            <SwitchRow
              key={key}
              label={ADAPTS_TEXT[key]}
              value={recipe.adapts[key]}
              onChange={(on) => onChange({ ...recipe, adapts: { ...recipe.adapts, [key]: on } })}
            />
          ))}
        </div>
      )}
      <div>
        <Button onClick={onLay}>Apply here</Button>
      </div>
    </li>
  );
}
