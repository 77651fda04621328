'use client';
import { useState } from 'react';
import { exchangeMedium, isHeardAlone, staysBehind, type Exchanged } from '../../core/film/edits/exchange';
import type { ShelfMedium } from '../../core/film/media-facts';
import { usesOfMedium } from '../../core/film/references';
import { Button } from '../parts/button';
import { FileButton } from '../parts/file-button';
import { Note } from '../parts/note';
import { Sheet } from '../parts/sheet';
import { useFilm, useTools } from '../store/film-context';
import { askToReplace } from '../store/shelf-choice';
import { FILE_TYPES } from './file-types';
import { titleOf } from './shelf-view';
import { newId } from '../store/new-id';

/** Chooses the medium that takes the place of another, everywhere in the film. */
export function ReplaceDialog({ mediumId }: { readonly mediumId: string }) {
  const { store } = useTools();
  const { film, shelf, media } = useFilm('film', 'shelf', 'media');
  const [chosen, setChosen] = useState<string | null>(null);
  const from = shelf.find((m) => m.id === mediumId);
  if (from === undefined) return null;
  const isFit = (m: ShelfMedium): boolean =>
    (from.facts === null || m.facts !== null) && (m.sound !== null || (from.facts !== null && !isHeardAlone(film, mediumId)));
  const others = shelf.filter((m) => m.id !== mediumId && m.status === 'ready' && !(film.offShelf ?? []).includes(m.id) && isFit(m));
  const to = others.find((m) => m.id === chosen);
  const uses = [...new Set(usesOfMedium(film, mediumId))];
  const left = from.facts === null || to?.facts == null ? [] : staysBehind(film, from.facts, to.facts);
  const close = (): void => askToReplace(null);
  const take = (): void => {
    const [a, b] = [from, to!].map((m) => ({ id: m.id, picture: m.facts })) as [Exchanged, Exchanged];
    store.edit(`Used ${titleOf(to!)} in place of ${titleOf(from)}`, (d) => exchangeMedium(d, media, a, b, newId));
    close();
  };
  return (
    <Sheet title={`In place of ${titleOf(from)}`} onClose={close} className="w-[460px]">
      <div className="flex min-h-0 flex-col gap-3 p-5">
        <p className="text-soft">
          {uses.length === 0
            ? 'Nothing uses it yet.'
            : `Used by ${uses.slice(0, 4).join(', ')}${uses.length > 4 ? ` and ${uses.length - 4} more` : ''}. Shots keep their span and joins.`}
        </p>
        <div role="radiogroup" aria-label="Media" className="flex max-h-[38vh] min-h-0 flex-col overflow-y-auto">
          {others.map((m) => (
            <label key={m.id} className="flex items-center gap-2 rounded px-1.5 py-1 hover:bg-pressed">
              <input type="radio" name="medium" className="accent-ink" checked={chosen === m.id} onChange={() => setChosen(m.id)} />
              <span className="min-w-0 grow truncate">{titleOf(m)}</span>
              <span className="shrink-0 font-mono text-[10.5px] text-soft">
                {m.facts === null ? 'sound' : `${m.facts.width}×${m.facts.height} · ${m.facts.frames} fr`}
              </span>
            </label>
          ))}
          {others.length === 0 && <p className="text-soft">There is no other media yet that could take its place.</p>}
        </div>
        {left.length > 0 && (
          <Note tone="heed">
            {titleOf(to!)} has another size, rate or length: {left.join(', ')} {left.length === 1 ? 'stays' : 'stay'} with {titleOf(from)}.
          </Note>
        )}
        <div className="flex justify-end gap-1.5">
          <FileButton
            label="A file to use in its place"
            accept={FILE_TYPES}
            onFiles={([file]) =>
              store.uploads.send(file!, { onArrived: ({ mediumId: arrived, knownId }) => setChosen(arrived ?? knownId) })
            }
          >
            Import a file…
          </FileButton>
          <span className="grow" />
          <Button onClick={close}>Cancel</Button>
          <Button tone="ink" disabled={to === undefined} onClick={take}>
            Use it
          </Button>
        </div>
      </div>
    </Sheet>
  );
}
