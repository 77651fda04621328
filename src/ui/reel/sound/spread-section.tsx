'use client';
import { useState } from 'react';
import { spreadOverBeats } from '../../../core/film/edits/marks';
import { changedFilm } from '../../../core/film/history';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { Section } from '../../parts/section';
import { useFilm, useTools } from '../../store/film-context';
import { newId } from '../../store/new-id';

const EVERY = [
  { every: 1, text: 'One a beat' },
  { every: 2, text: 'One every two' },
  { every: 4, text: 'One every four' },
] as const;

/** Lays the chosen shots over the beats. */
export function SpreadSection({ shotIds }: { readonly shotIds: readonly string[] }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [short, setShort] = useState<number | null>(null);
  const spread = (every: number): void => {
    let left = 0;
    // tried first, so that what does not fit is said with the edit
    changedFilm(film, (d) => void (left = spreadOverBeats(d, media, shotIds, every, newId)));
    store.edit(`Spread ${shotIds.length} shots over beats`, (d) => void spreadOverBeats(d, media, shotIds, every, newId));
    setShort(left);
  };
  return (
    <Section title={`${shotIds.length} shots over the beats`} name="Spread">
      {(film.beats ?? []).length === 0 ? (
        <p className="text-soft">Find the beats of a sound first: select it, then press Find beats.</p>
      ) : (
        <div className="flex flex-wrap gap-1.5">
          {EVERY.map(({ every, text }) => (
            <Button key={every} onClick={() => spread(every)}>
              {text}
            </Button>
          ))}
        </div>
      )}
      {short !== null && short > 0 && (
        <Note tone="heed">{short === 1 ? 'One shot is' : `${short} shots are`} too short to reach the beat: the media end before it.</Note>
      )}
    </Section>
  );
}
