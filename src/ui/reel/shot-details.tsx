'use client';
import { moveShots, removeShots } from '../../core/film/edits/reel';
import { trimEnd, trimStart } from '../../core/film/edits/trims';
import type { Shot } from '../../core/film/film';
import { handlesOf, mediumFramesPerFilmFrame } from '../../core/film/timing';
import { Button } from '../parts/button';
import { NumberRow } from '../parts/number-field';
import { Section } from '../parts/section';
import { useFilm, useTools } from '../store/film-context';

const newId = (): string => crypto.randomUUID();

/** Numbers of the selected shot. */
export function ShotDetails({ shot, onRemoved }: { readonly shot: Shot; readonly onRemoved: () => void }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const medium = media.get(shot.mediumId);
  const index = film.shots.indexOf(shot);
  const handles = medium === undefined ? null : handlesOf(film, shot, medium);
  return (
    <Section title={shot.name} name="Shot">
      {medium !== undefined && handles !== null && (
        <>
          <NumberRow
            label="Source in point"
            unit="fr"
            min={0}
            max={medium.frames - 1}
            value={Math.floor(shot.inFrame)}
            onCommit={(v) =>
              store.edit(`Trimmed the start of ${shot.name}`, (d) =>
                trimStart(d, medium, shot.id, (v - Math.floor(shot.inFrame)) / mediumFramesPerFilmFrame(film, medium), newId),
              )
            }
          />
          <NumberRow
            label="Length"
            unit="fr"
            min={1}
            max={shot.length + Math.max(0, handles.after)}
            value={shot.length}
            onCommit={(v) => store.edit(`Trimmed the end of ${shot.name}`, (d) => trimEnd(d, medium, shot.id, v - shot.length, newId))}
          />
          <p className="font-mono text-[11px] text-soft">
            handles {handles.before} before, {handles.after} after
          </p>
        </>
      )}
      {medium === undefined && <p className="text-fault">The media of this shot is not ready.</p>}
      <div className="flex flex-wrap gap-1.5">
        <Button
          disabled={index === 0}
          onClick={() => store.edit(`Moved ${shot.name}`, (d) => moveShots(d, new Set([shot.id]), index - 1, newId))}
        >
          Move left
        </Button>
        <Button
          disabled={index === film.shots.length - 1}
          onClick={() => store.edit(`Moved ${shot.name}`, (d) => moveShots(d, new Set([shot.id]), index + 1, newId))}
        >
          Move right
        </Button>
        <Button
          onClick={() => {
            store.edit(`Removed ${shot.name} from the reel`, (d) => removeShots(d, new Set([shot.id]), newId));
            onRemoved();
          }}
        >
          Remove from the reel
        </Button>
      </div>
    </Section>
  );
}
