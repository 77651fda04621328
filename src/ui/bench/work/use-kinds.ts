'use client';
import { useState } from 'react';
import { makePlainCut } from '../../../core/film/edits';
import { addMatte, addOutlineOnTrack } from '../../../core/film/edits/mattes';
import type { PlacedJoin } from '../../../core/film/timing';
import { layOwnRecipe, type OwnRecipe, type Told } from '../../../core/recipes/own-recipe';
import { offersFor, recipeKind } from '../../../core/recipes/recipe';
import { isComposed, layComposed, makeComposed } from '../../../core/recipes/composed';
import { addLinePair } from '../../../core/recipes/feature-morph';
import { idOf } from '../../../core/recipes/made-layers';
import { nextThing } from '../../../core/recipes/way-through';
import { whatChanged } from '../../../core/recipes/what-changed';
import { makeWipePast } from '../../../core/recipes/wipe-past';
import type { WipeReport } from '../../../core/recipes/wipe-past-report';
import { makeZoomThrough } from '../../../core/recipes/zoom-through';
import { useFilm, useTools } from '../../store/film-context';
import { useMeasures } from '../../store/measure-keeper';
import { select } from '../../store/bench-state';
import type { Kind } from '../kinds/kinds-sheet';

const newId = (): string => crypto.randomUUID();

/** Choosing a kind of join, and what it lacks next. Nobody is led anywhere: the bench says what is next, with a button that goes there. */
export function useKinds(placed: PlacedJoin, report: WipeReport | null) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [isOpen, setOpen] = useState(false);
  /** What of a recipe that was laid did not fit. */
  const [told, setTold] = useState<readonly Told[]>([]);
  const holes = useMeasures((s) => s.measures).get(placed.join.id);
  const { join, leaving, entering } = placed;
  const next = nextThing(film, media, placed, { holes, report });
  /** An edit that lays a recipe, which then says what it changed. */
  const make = (name: string, change: Parameters<typeof store.edit>[1]): void => {
    const before = store.snapshot().film!;
    store.edit(name, change);
    const told = whatChanged(before, store.snapshot().film!, join.id);
    store.notify([`${name}.`, ...told].join(' '));
  };
  const choose = (kind: Kind): void => {
    setOpen(false);
    if (kind === 'cut') {
      make('Made it a plain cut', (d) => makePlainCut(d, join.id, newId));
      return;
    }
    select(null);
    if (isComposed(kind)) {
      const { need, made } = recipeKind(kind);
      const [offer] = offersFor(film, placed, need);
      make(`Made it ${made}`, (d) => {
        const matteId =
          need?.what !== 'subject' ? null : (offer?.id ?? addMatte(d, entering.mediumId, 'strokes', `${entering.name}, subject`, newId));
        makeComposed(d, media, join.id, kind, matteId === null ? {} : { matteId });
        if (kind !== 'feature morph') return;
        addLinePair(d, join.id, newId);
        layComposed(d, media, join.id);
      });
      return;
    }
    if (kind === 'wipe past') {
      const [offer] = offersFor(film, placed, recipeKind(kind).need);
      make('Made it a wipe past', (d) => makeWipePast(d, join.id, newId, offer?.id ?? null));
      return;
    }
    const [offer] = offersFor(film, placed, recipeKind(kind).need);
    make('Made it a zoom through', (d) => {
      const matteId =
        offer === undefined
          ? addMatte(d, leaving.mediumId, 'strokes', `${leaving.name}, hole`, newId)
          : offer.kind === 'track'
            ? addOutlineOnTrack(d, offer.id, newId)
            : offer.id;
      makeZoomThrough(d, media, join.id, matteId);
    });
    select({ kind: 'carrier', id: idOf(join, 'zoom') });
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
