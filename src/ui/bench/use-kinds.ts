'use client';
import { useEffect, useRef, useState } from 'react';
import { makePlainCut } from '../../core/film/edits';
import { addMatte, addOutlineOnTrack } from '../../core/film/edits/mattes';
import type { PlacedJoin } from '../../core/film/timing';
import { layOwnRecipe, type OwnRecipe } from '../../core/recipes/own-recipe';
import { offersFor, recipeKind } from '../../core/recipes/recipe';
import { isComposed, layComposed, makeComposed } from '../../core/recipes/composed';
import { addLinePair } from '../../core/recipes/feature-morph';
import { idOf } from '../../core/recipes/made-layers';
import type { NextThing } from '../../core/recipes/next-thing';
import { nextThing } from '../../core/recipes/way-through';
import { makeWipePast } from '../../core/recipes/wipe-past';
import type { WipeReport } from '../../core/recipes/wipe-past-report';
import { makeZoomThrough } from '../../core/recipes/zoom-through';
import { useFilm, useTools } from '../store/film-context';
import { useMeasures } from '../store/measure-keeper';
import { select } from './bench-state';
import type { Kind } from './kinds/kinds-sheet';

const newId = (): string => crypto.randomUUID();

interface WayOptions {
  readonly placed: PlacedJoin;
  readonly report: WipeReport | null;
  readonly goTo: (next: NextThing) => void;
  /** Plays the result from its first frame. */
  readonly play: () => void;
}

/** Choosing a kind of join, and the way on from there: to the first thing it lacks and, when nothing is lacking, to the result. */
export function useKinds({ placed, report, goTo, play }: WayOptions) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [isOpen, setOpen] = useState(false);
  /** What of a recipe that was laid did not fit. */
  const [told, setTold] = useState<readonly string[]>([]);
  const holes = useMeasures((s) => s.measures).get(placed.join.id);
  const { join, leaving, entering } = placed;
  const next = nextThing(film, media, placed, { holes, report });
  /** Whether a kind was just chosen: 'first' until the bench has gone to what it lacks, then until it plays. */
  const leading = useRef<'no' | 'first' | 'until made'>('no');
  const latest = useRef({ goTo, play });
  latest.current = { goTo, play };
  const isMeasured =
    join.recipe?.kind !== 'zoom through' || (holes !== undefined && holes.some((h) => h !== null) && join.recipe.made !== '');
  const text = next?.text ?? null;
  useEffect(() => {
    if (leading.current === 'no') return;
    if (next !== null) {
      if (leading.current === 'first') latest.current.goTo(next);
      leading.current = 'until made';
    } else if (isMeasured) {
      leading.current = 'no';
      // lines are drawn on past what a morph needs at least
      if (join.recipe?.kind !== 'feature morph') latest.current.play();
    }
    // what is lacking is told by its text
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [text, isMeasured, join.recipe?.kind]);

  const choose = (kind: Kind): void => {
    setOpen(false);
    if (kind === 'cut') {
      store.edit('Made it a plain cut', (d) => makePlainCut(d, join.id, newId));
      return;
    }
    leading.current = 'first';
    select(null);
    if (isComposed(kind)) {
      const { need, made } = recipeKind(kind);
      const [offer] = offersFor(film, placed, need);
      store.edit(`Made it ${made}`, (d) => {
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
      store.edit('Made it a wipe past', (d) => makeWipePast(d, join.id, newId, offer?.id ?? null));
      return;
    }
    const [offer] = offersFor(film, placed, recipeKind(kind).need);
    store.edit('Made it a zoom through', (d) => {
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
    let told: readonly string[] = [];
    store.edit(`Laid ${recipe.name}`, (d) => void (told = layOwnRecipe(d, media, join.id, recipe, newId)));
    setTold(told);
  };
  return { isOpen, open: () => setOpen(true), close: () => setOpen(false), choose, lay, told, dismiss: () => setTold([]), next };
}
