'use client';
import { useState } from 'react';
import { closeLoop, isLoop, loopLength } from '../../core/film/edits/loop';
import { FilmFormat } from './film-format';
import { NameField } from './name-field';
import { VersionsDialog } from './versions-dialog';
import { Button } from '../parts/button';
import { ColourRow } from '../parts/colour-row';
import { PackageSheet } from '../parts/package-sheet';
import { Section } from '../parts/section';
import { SwitchRow } from '../parts/select-row';
import { useFilm, useTools } from '../store/film-context';
import { newId } from '../store/new-id';

/** What holds for the whole film: its name, size and rate, and the colour where nothing lies. */
export function FilmSection() {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const lent = loopLength(film);
  const [versions, setVersions] = useState(false);
  const [isPacking, setPacking] = useState(false);
  const { background } = film;
  return (
    <Section title="Film" startsFolded>
      <NameField
        label="Name of the film"
        value={film.name}
        onCommit={(name) => store.edit(`Renamed the film to ${name}`, (d) => void (d.name = name))}
      />
      <FilmFormat />
      <div className="flex flex-wrap gap-1.5">
        <Button onClick={() => setVersions(true)}>Versions…</Button>
        <Button onClick={() => setPacking(true)}>Save as a package…</Button>
      </div>
      {isPacking && <PackageSheet filmId={store.filmId} name={film.name} onClose={() => setPacking(false)} />}
      {versions && <VersionsDialog onClose={() => setVersions(false)} />}
      <SwitchRow
        label="Background colour"
        value={background !== undefined}
        onChange={(on) =>
          store.edit(on ? 'Gave the film a background' : 'Removed the film’s background', (d) => {
            if (on) d.background = [0, 0, 0];
            else delete d.background;
          })
        }
      />
      {background !== undefined && (
        <ColourRow
          label="Its colour"
          value={background}
          onChange={(colour) => store.edit('Background of the film', (d) => void (d.background = [...colour]))}
        />
      )}
      {isLoop(film, media) ? (
        <p>Loop closed: the end runs into the start.</p>
      ) : (
        <>
          <Button disabled={lent === null} onClick={() => store.edit('Closed the loop', (d) => closeLoop(d, media, newId))}>
            Close the loop
          </Button>
          <p className="text-soft">
            The last join then leads back to the first shot, {lent ?? 'some'} frames of which move from the film’s start to its end.
          </p>
        </>
      )}
      <p className="text-soft">
        With a background, a frame that no layer covers counts as covered; without, it is black and Check says so.
      </p>
    </Section>
  );
}
