'use client';
import { renameShot, replaceMedium } from '../../core/film/edits/reel';
import { trimEnd, trimStart } from '../../core/film/edits/trims';
import type { Shot } from '../../core/film/film';
import { handlesOf, mediumFramesPerFilmFrame } from '../../core/film/timing';
import { Button } from '../parts/button';
import { NumberRow } from '../parts/number-field';
import { SelectRow } from '../parts/select-row';
import { Section } from '../parts/section';
import { NameField } from './name-field';
import type { ShotActions } from './shot-actions';
import { useFilm, useTools } from '../store/film-context';
import { newId } from '../store/new-id';

/** Numbers of the selected shot. */
export function ShotDetails({ shot, actions }: { readonly shot: Shot; readonly actions: ShotActions }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const medium = media.get(shot.mediumId);
  const index = film.shots.indexOf(shot);
  const handles = medium === undefined ? null : handlesOf(film, shot, medium);
  return (
    <Section title={shot.name} name="Shot">
      <NameField
        label="Name of the shot"
        isAsked
        value={shot.name}
        onCommit={(name) => store.edit(`Renamed ${shot.name} to ${name}`, (d) => renameShot(d, shot.id, name))}
      />
      <SelectRow
        label="Media"
        value={shot.mediumId}
        options={[...media.values()].map((m) => ({ value: m.id, text: m.name }))}
        onChange={(id) => store.edit(`Replaced the media of ${shot.name}`, (d) => replaceMedium(d, media, shot.id, media.get(id)!, newId))}
      />
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
        <Button disabled={index === 0} onClick={() => actions.move(-1)}>
          Move left
        </Button>
        <Button disabled={index === film.shots.length - 1} onClick={() => actions.move(1)}>
          Move right
        </Button>
        <Button onClick={actions.duplicate}>Duplicate</Button>
        <Button onClick={actions.turnOff}>{shot.isOff === true ? 'Turn on' : 'Turn off'}</Button>
        <Button onClick={actions.remove}>Remove from the reel</Button>
      </div>
    </Section>
  );
}
