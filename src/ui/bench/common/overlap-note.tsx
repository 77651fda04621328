'use client';
import type { Join } from '../../../core/film/film';
import { framesText, placeJoin } from '../../../core/film/timing';
import { overlapAsked } from '../../../core/recipes/making';
import { freeOverlap } from '../../../core/recipes/refit';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { useFilm, useTools } from '../../store/film-context';

/** Says that the overlap is as a hand has set it, where the settings ask for another, and lets them have theirs. */
export function OverlapByHandNote({ join }: { readonly join: Join }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const placed = join.recipe?.overlapByHand === true ? placeJoin(film, join.id) : null;
  const asked = placed === null ? null : overlapAsked(film, media, placed);
  if (asked === null) return null;
  return (
    <Note tone="heed">
      <p>
        The overlap stays as you set it. The settings ask for {framesText(asked.before)} before the cut
        {asked.after > 0 && <> and {framesText(asked.after)} after it</>}.
      </p>
      <div className="mt-1.5">
        <Button onClick={() => store.edit('Gave the overlap the length its settings ask for', (d) => freeOverlap(d, media, join.id))}>
          As the settings ask
        </Button>
      </div>
    </Note>
  );
}
