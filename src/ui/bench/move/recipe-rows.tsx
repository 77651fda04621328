'use client';
import { spreadOverlap } from '../../../core/film/edits';
import type { FilmDraft } from '../../../core/film/drafts';
import type { Join } from '../../../core/film/film';
import { isChangedByHand } from '../../../core/recipes/recipe';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { NumberRow } from '../../parts/number-field';
import { useFilm, useTools } from '../../store/film-context';

interface OverRowProps {
  readonly join: Join;
  /** What goes over, as the edit is called. */
  readonly name: string;
  readonly least: number;
  readonly most: number;
  readonly lay: (film: FilmDraft, joinId: string) => void;
}

/** How many frames a recipe takes, spread about the cut. What a hand has changed of it stays. */
export function OverRow({ join, name, least, most, lay }: OverRowProps) {
  const { store } = useTools();
  const { media } = useFilm('media');
  return (
    <NumberRow
      label="Over"
      unit="fr"
      min={least}
      max={most}
      value={join.before + join.after}
      onCommit={(length) =>
        store.edit(`${name} over ${length} frames`, (d) => {
          spreadOverlap(d, media, join.id, length);
          if (!isChangedByHand(join)) lay(d, join.id);
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
  if (!isChangedByHand(join)) return null;
  return (
    <Note tone="heed">
      <p>Something that this recipe made was changed by hand. It stays so until you have it made anew.</p>
      <div className="mt-1.5">
        <Button onClick={() => store.edit(`Made the ${name} anew`, onAnew)}>Make it anew</Button>
      </div>
    </Note>
  );
}
