'use client';
import type { FilmDraft } from '../../../core/film/drafts';
import type { Join } from '../../../core/film/film';
import { composedKind, layComposed, setLength, type ComposedName } from '../../../core/recipes/composed';
import type { Note as RecipeNote } from '../../../core/recipes/next-thing';
import { isChangedByHand, recipeKind } from '../../../core/recipes/recipe';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { NumberRow } from '../../parts/number-field';
import { useFilm, useTools } from '../../store/film-context';
import { useMeasures } from '../../store/measure-keeper';

/** How many frames a kind of join takes. What a hand has changed of it stays. */
export function OverRow({ join, kind }: { readonly join: Join; readonly kind: ComposedName }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const measures = useMeasures((s) => s.measures);
  const { shortest, longest } = composedKind(kind);
  return (
    <NumberRow
      label="Over"
      unit="fr"
      min={shortest}
      max={longest}
      value={join.before + join.after}
      onCommit={(length) =>
        store.edit(`${recipeKind(kind).name} over ${length} frames`, (d) => {
          setLength(d, media, join.id, kind, length);
          if (!isChangedByHand(film, join)) layComposed(d, media, join.id, measures);
        })
      }
    />
  );
}

/** Says that a hand has changed what a recipe made, and makes it anew on request; nothing while that is as it was made. */
export function ByHandNote({
  join,
  name,
  onAnew,
}: {
  readonly join: Join;
  readonly name: string;
  readonly onAnew: (film: FilmDraft) => void;
}) {
  const { store } = useTools();
  const { film } = useFilm('film');
  if (!isChangedByHand(film, join)) return null;
  return (
    <Note tone="heed">
      <p>Something that this recipe made was changed by hand. It stays so until you have it made anew.</p>
      <div className="mt-1.5">
        <Button onClick={() => store.edit(`Made the ${name} anew`, onAnew)}>Make it anew</Button>
      </div>
    </Note>
  );
}

/** What a recipe came to, sentence by sentence. */
export function Notes({ notes, onGoTo }: { readonly notes: readonly RecipeNote[]; readonly onGoTo: (frame: number) => void }) {
  return notes.map(({ text, isFault, frame }) => (
    <Note key={text} tone={isFault ? 'heed' : 'good'}>
      {text}
      {frame !== null && (
        <>
          {' '}
          <button type="button" className="underline" onClick={() => onGoTo(frame)}>
            Go to {frame}
          </button>
        </>
      )}
    </Note>
  ));
}
