'use client';
import { useRef, useState } from 'react';
import type { FilmDraft } from '../../../core/film/drafts';
import { byId, type Join } from '../../../core/film/film';
import { changedFilm } from '../../../core/film/history';
import { framesText } from '../../../core/film/timing';
import { kindNamed } from '../../../core/recipes/kinds';
import { layJoin, setLength } from '../../../core/recipes/making';
import type { RecipeName } from '../../../core/film/recipe-settings';
import type { AllMeasured } from '../../../core/recipes/kind';
import type { Note as RecipeNote } from '../../../core/recipes/next-thing';
import { isChangedByHand } from '../../../core/film/made-mark';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { NumberRow } from '../../parts/number-field';
import { useFilm, useTools } from '../../store/film-context';
import { measuresOnceThere, useMeasures } from '../../store/measure-keeper';
import { FieldRow, type PlainField } from './field-row';

/** How many frames a kind of join takes. What a hand has changed of it stays. */
export function OverRow({ join, kind }: { readonly join: Join; readonly kind: RecipeName }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const measures = useMeasures((s) => s.measures);
  const { shortest, longest } = kindNamed(kind);
  return (
    <NumberRow
      label="Over"
      unit="fr"
      min={shortest}
      max={longest}
      value={join.before + join.after}
      onCommit={(length) =>
        store.edit(`${kindNamed(kind).name} over ${length} frames`, (d) => {
          setLength(d, media, join.id, kind, length);
          if (!isChangedByHand(film, join)) layJoin(d, media, join.id, measures);
        })
      }
    />
  );
}

interface GoesOnProps<S> {
  readonly field: PlainField<S>;
  readonly settings: S;
  readonly join: Join;
  /** What turning it on does to a film. */
  readonly change: (film: FilmDraft, part: Partial<S>, measures: AllMeasured) => void;
  readonly onChange: (part: Partial<S>) => void;
}

/** The switch of a move that goes on from the join before. Where that would change the overlap it asks first. */
export function GoesOnRow<S>({ field, settings, join, change, onChange }: GoesOnProps<S>) {
  const { store } = useTools();
  /** What is asked, and how long the overlap would be; null until that is measured. */
  const [asked, setAsked] = useState<{ readonly part: Partial<S>; readonly length: number | null } | null>(null);
  const question = useRef(0);
  const leave = (): void => {
    question.current++;
    setAsked(null);
  };
  const take = (part: Partial<S>): void => {
    leave();
    onChange(part);
  };
  const ask = async (part: Partial<S>): Promise<void> => {
    if (part[field.name] === false) return take(part);
    const own = ++question.current;
    setAsked({ part, length: null });
    const measures = await measuresOnceThere();
    if (question.current !== own) return;
    const { film } = store.snapshot();
    const [now, next] = [film!, changedFilm(film!, (d) => change(d, part, measures))].map((f) => byId(f.joins, join.id, 'join'));
    if (next!.before === now!.before && next!.after === now!.after) take(part);
    else setAsked({ part, length: next!.before + next!.after });
  };
  const fail = (error: Error): void => {
    leave();
    store.notify(`How long the overlap would be could not be measured: ${error.message}`);
  };
  return (
    <>
      <FieldRow field={field} settings={settings} onChange={(part) => void ask(part).catch(fail)} />
      {asked !== null && settings[field.name] === false && (
        <Note tone="heed">
          {asked.length === null ? (
            <p>Measuring how long the overlap would be…</p>
          ) : (
            <p>
              It then starts where the previous one ends: the overlap has {framesText(asked.length)} instead of {join.before + join.after}.
            </p>
          )}
          <div className="mt-1.5 flex gap-1.5">
            {asked.length !== null && <Button onClick={() => take(asked.part)}>Continue from it</Button>}
            <Button onClick={leave}>Leave it</Button>
          </div>
        </Note>
      )}
    </>
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
      <p>You edited something that this recipe made. It stays so until you regenerate it.</p>
      <div className="mt-1.5">
        <Button onClick={() => store.edit(`Regenerated the ${name}`, onAnew)}>Regenerate</Button>
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
