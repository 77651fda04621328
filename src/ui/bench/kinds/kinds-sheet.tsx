'use client';
import { Sheet } from '../../parts/sheet';
import { useEffect, useMemo, useState } from 'react';
import type { Film } from '../../../core/film/film';
import type { JoinKind } from '../../../core/film/recipe-settings';
import { kindOf } from '../../../core/film/film';
import type { PlacedJoin } from '../../../core/film/timing';
import { planFrame } from '../../../core/plan/plan-film';
import { previewOf } from '../../../core/recipes/preview';
import type { OwnRecipe } from '../../../core/recipes/own-recipe';
import { KIND_NAMES, kindNamed } from '../../../core/recipes/kinds';
import { isThere } from '../../../core/recipes/offers';
import { Button } from '../../parts/button';
import { useFilm } from '../../store/film-context';
import { Thumb } from '../../weave/thumb';
import { OwnRecipesList } from './own-recipes-list';

const [WIDTH, HEIGHT] = [196, 110];
/** Frames of a moving picture a second. */
const RATE = 12;

interface KindsSheetProps {
  readonly placed: PlacedJoin;
  readonly isOpen: boolean;
  readonly onClose: () => void;
  readonly onChoose: (kind: JoinKind) => void;
  readonly onLay: (recipe: OwnRecipe) => void;
}

/** The kinds of join, each with a picture of it from the two shots that moves under the pointer. Nothing is changed until one is chosen. */
export function KindsSheet({ placed, isOpen, onClose, onChoose, onLay }: KindsSheetProps) {
  const { film } = useFilm('film');
  const now = kindOf(placed.join);
  const [chosen, setChosen] = useState<JoinKind>(now);
  useEffect(() => {
    if (isOpen) setChosen(now === 'cut' ? 'zoom through' : now);
  }, [isOpen, now]);
  const cards = [
    ...KIND_NAMES.map((kind) => {
      const { name, does, need } = kindNamed(kind);
      return { kind, name, does, need: need?.text ?? null, there: isThere(film, placed, need) };
    }),
    { kind: 'cut' as JoinKind, name: 'Plain cut', does: 'one shot ends, the next begins', need: null, there: true },
  ];
  return (
    <Sheet
      title="How do these two shots meet?"
      aside={`${placed.leaving.name} → ${placed.entering.name}`}
      isOpen={isOpen}
      onClose={onClose}
      className="w-[1020px]"
    >
      <div className="min-h-0 grow overflow-y-auto px-5">
        <div className="flex flex-wrap gap-2.5 py-3">
          {cards.map((card) => (
            <button
              key={card.kind}
              type="button"
              data-kind={card.kind}
              aria-pressed={chosen === card.kind}
              onClick={() => setChosen(card.kind)}
              onDoubleClick={() => onChoose(card.kind)}
              onKeyDown={(event) => {
                // Enter takes the kind that has the focus; Space only chooses it
                if (event.key !== 'Enter') return;
                event.preventDefault();
                onChoose(card.kind);
              }}
              className={`flex w-[229px] flex-col rounded-md border p-2.5 text-left ${chosen === card.kind ? 'border-ink bg-pressed' : 'border-transparent hover:bg-pressed/60'}`}
            >
              <MovingPicture film={film} placed={placed} kind={card.kind} />
              <span className="mt-2 block font-semibold">{card.name}</span>
              <span className="block text-[12px] text-soft">{card.does}</span>
              <span className="block text-[12px] text-soft">
                {card.need === null ? 'needs nothing' : `needs ${card.need}`}{' '}
                {card.need !== null && card.there && <b className="text-entering">there</b>}
              </span>
            </button>
          ))}
        </div>
        <OwnRecipesList onLay={onLay} />
      </div>
      <div className="flex items-center justify-between gap-3 border-t border-rule px-5 py-3">
        <p className="text-soft">Point at one to see it with your own two shots. Nothing changes until you choose.</p>
        <Button tone="ink" onClick={() => onChoose(chosen)}>
          {cards.find((c) => c.kind === chosen)!.name}
        </Button>
      </div>
    </Sheet>
  );
}

/** A join made on a copy of the film: its middle while it stands, all of it under the pointer. */
function MovingPicture({ film, placed, kind }: { readonly film: Film; readonly placed: PlacedJoin; readonly kind: JoinKind }) {
  const { media } = useFilm('media');
  const made = useMemo(() => previewOf(film, media, placed.join.id, kind), [film, media, placed.join.id, kind]);
  const [at, setAt] = useState<number | null>(null);
  const isMoving = at !== null;
  useEffect(() => {
    if (!isMoving) return;
    const timer = setInterval(() => setAt((i) => (i === null ? null : i + 1)), 1000 / RATE);
    return () => clearInterval(timer);
  }, [isMoving]);
  if (made === null)
    return <span className="hatched block border border-rule" style={{ width: WIDTH, height: HEIGHT }} title="its media is not ready" />;
  const { from, to } = made.placed;
  const [first, length] = [from - 3, to - from + 6];
  const frame = at === null ? Math.floor((from + to) / 2) : first + (at % length);
  const plan = planFrame(made.film, media, Math.max(0, frame), { samples: 3 });
  return (
    <span className="block" onPointerEnter={() => setAt(0)} onPointerLeave={() => setAt(null)}>
      <Thumb drawing={{ kind: 'picture', plan }} width={WIDTH} height={HEIGHT} className="block bg-well" />
      <span className="mt-1.5 flex gap-1" aria-hidden>
        {[0, 1, 2].map((i) => (
          <span
            key={i}
            className={`h-[3px] grow ${i === (at === null ? 1 : Math.floor((3 * (at % length)) / length)) ? 'bg-seam' : 'bg-rule'}`}
          />
        ))}
      </span>
    </span>
  );
}
