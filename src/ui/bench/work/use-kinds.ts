'use client';
import { useState } from 'react';
import { makePlainCut } from '../../../core/film/edits/joins';
import type { JoinKind } from '../../../core/film/recipe-settings';
import type { PlacedJoin } from '../../../core/film/timing';
import { kindNamed } from '../../../core/recipes/kinds';
import { nextThing } from '../../../core/recipes/lacks';
import { chooseKind } from '../../../core/recipes/making';
import { layOwnRecipe, type OwnRecipe, type Told } from '../../../core/recipes/own-recipe';
import { whatChanged } from '../../../core/recipes/what-changed';
import type { WipeReport } from '../../../core/recipes/wipe-past/wipe-past-report';
import { useCommands } from '../../commands/use-commands';
import { select } from '../../store/bench-state';
import { useFilm, useTools } from '../../store/film-context';
import { useMeasures } from '../../store/measure-keeper';
import { newId } from '../../store/new-id';

/** Choosing a kind of join, and what it lacks next. Nobody is led anywhere: the bench says what is next, with a button that goes there. */
export function useKinds(placed: PlacedJoin, report: WipeReport | null) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [isOpen, setOpen] = useState(false);
  /** What of a recipe that was laid did not fit. */
  const [told, setTold] = useState<readonly Told[]>([]);
  const holes = useMeasures((s) => s.measures).get(placed.join.id);
  const { join } = placed;
  useCommands({ chooseKind: () => setOpen(true) });
  const next = nextThing(film, media, placed, { measured: holes, report });
  /** An edit that lays a recipe, which then says what it changed. */
  const make = (name: string, change: Parameters<typeof store.edit>[1]): void => {
    const before = store.snapshot().film!;
    store.edit(name, change);
    const told = whatChanged(before, store.snapshot().film!, join.id);
    store.notify([`${name}.`, ...told].join(' '));
  };
  const choose = (kind: JoinKind): void => {
    setOpen(false);
    if (kind === 'cut') {
      make('Made it a plain cut', (d) => makePlainCut(d, join.id, newId));
      return;
    }
    select(null);
    make(`Made it ${kindNamed(kind).made}`, (d) => chooseKind(d, media, join.id, kind, newId));
  };
  const lay = (recipe: OwnRecipe): void => {
    setOpen(false);
    select(null);
    let told: readonly Told[] = [];
    make(`Applied ${recipe.name}`, (d) => void (told = layOwnRecipe(d, media, join.id, recipe, newId)));
    setTold(told);
  };
  return { isOpen, open: () => setOpen(true), close: () => setOpen(false), choose, lay, told, dismiss: () => setTold([]), next };
}
