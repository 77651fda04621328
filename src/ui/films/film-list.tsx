'use client';
import { useRouter } from 'next/navigation';
import { useState, type DragEvent } from 'react';
import type { FilmEntry } from '../../core/film/film-entry';
import type { FoundThing } from '../../core/film/media-facts';
import { Button } from '../parts/button';
import { FileButton } from '../parts/file-button';
import { Logo } from '../parts/logo';
import { Note } from '../parts/note';
import { call } from '../store/api';
import { FilmRow } from './film-row';
import { FoundList } from './found-list';
import { NewFilm } from './new-film';
import { openPackageFile } from './open-package';

interface FilmListProps {
  readonly films: readonly FilmEntry[];
  readonly deleted: readonly FilmEntry[];
  readonly found: readonly FoundThing[];
}

/** So many films fit on a screen; more can be searched. */
const FEW = 6;

/** The films in the data folder, a way to begin or open one, those that were deleted, and what lies there that is of none. */
export function FilmList({ films, deleted, found }: FilmListProps) {
  const router = useRouter();
  const [sought, setSought] = useState('');
  const [over, setOver] = useState(false);
  const [told, setTold] = useState<{ readonly text: string; readonly isFault: boolean } | null>(null);
  const shown = films.filter((f) => f.name.toLowerCase().includes(sought.trim().toLowerCase()));
  const act = (work: Promise<unknown>): void => {
    work.then(
      () => router.refresh(),
      (error: Error) => setTold({ text: error.message, isFault: true }),
    );
  };
  const open = (file: File): void => {
    setTold({ text: `Opening ${file.name}…`, isFault: false });
    openPackageFile(file, (share) => setTold({ text: `Opening ${file.name}… ${Math.floor(100 * share)} %`, isFault: false })).then(
      (id) => router.push(`/films/${id}`),
      (error: Error) => setTold({ text: error.message, isFault: true }),
    );
  };
  const onDrop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    const [file] = event.dataTransfer.files;
    if (file !== undefined) open(file);
  };
  return (
    <main
      className={`mx-auto flex h-screen max-w-[860px] flex-col gap-5 overflow-y-auto px-6 py-10 ${over ? 'outline-2 -outline-offset-4 outline-entering outline-dashed' : ''}`}
      onDragOver={(e) => {
        if (!e.dataTransfer.types.includes('Files')) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={onDrop}
    >
      <h1 className="flex items-center gap-2.5 text-[22px] font-bold">
        <Logo />
        irimi
      </h1>
      <p className="text-[14px] text-soft">Make the join between two shots: hidden, or turned into the moment itself.</p>
      <NewFilm />
      <div className="flex items-center gap-2">
        {films.length > FEW && (
          <input
            type="search"
            aria-label="Search films"
            placeholder="Search films"
            value={sought}
            onChange={(e) => setSought(e.target.value)}
            className="h-7 grow rounded-[5px] border border-rule bg-sheet px-2"
          />
        )}
        <FileButton label="Open a package of a film" accept=".zip,application/zip" onFiles={([file]) => open(file!)}>
          Open a package…
        </FileButton>
        <span className="text-soft">or drop one here</span>
      </div>
      {told !== null && <Note tone={told.isFault ? 'fault' : 'good'}>{told.text}</Note>}
      <ul aria-label="Films" className="border-t border-rule">
        {shown.map((film) => (
          <FilmRow key={film.id} film={film} act={act} />
        ))}
        {films.length === 0 && <li className="py-3 text-soft">No film yet. Name one above and begin.</li>}
        {films.length > 0 && shown.length === 0 && <li className="py-3 text-soft">No film is called like that.</li>}
      </ul>
      {deleted.length > 0 && <DeletedFilms films={deleted} act={act} />}
      {found.length > 0 && <FoundList films={films} found={found} />}
    </main>
  );
}

/** Films that were deleted, until they are for good. */
function DeletedFilms({ films, act }: { readonly films: readonly FilmEntry[]; readonly act: (work: Promise<unknown>) => void }) {
  const [doomed, setDoomed] = useState<string | null>(null);
  return (
    <details>
      <summary className="cursor-pointer text-soft">Deleted films: {films.length}</summary>
      <ul aria-label="Deleted films" className="mt-2 border-t border-rule">
        {films.map(({ id, name }) => (
          <li key={id} className="flex items-center justify-between gap-2 border-b border-rule py-1.5">
            <span className="truncate">{name}</span>
            {doomed === id ? (
              <span className="flex items-center gap-1.5">
                Its media and exports go too, and nothing brings them back.
                <Button onClick={() => act(call('POST', `/api/films/${id}`, { do: 'delete for good' }))}>Delete for good</Button>
                <Button onClick={() => setDoomed(null)}>Keep</Button>
              </span>
            ) : (
              <span className="flex gap-1.5">
                <Button onClick={() => act(call('POST', `/api/films/${id}`, { do: 'bring back' }))}>Bring back</Button>
                <Button onClick={() => setDoomed(id)}>Delete for good…</Button>
              </span>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
