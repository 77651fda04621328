'use client';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { Film } from '../../core/film/film';
import { filmLength } from '../../core/film/timing';
import { goBackTo, type VersionEntry } from '../../core/film/version';
import { planFrame } from '../../core/plan/plan-film';
import { Button } from '../parts/button';
import { Note } from '../parts/note';
import { Sheet } from '../parts/sheet';
import { call } from '../store/api';
import { askAgain, useAsked } from '../store/asked';
import { useFilm, useTools } from '../store/film-context';
import { StripTile } from '../shelf/strip-tile';
import { Thumb } from '../weave/thumb';

const when = (at: number): string => new Date(at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });

/** The versions of the film: kept by name at any time, and by themselves. One is looked at, gone back to, or opened as a film. */
export function VersionsDialog({ onClose }: { readonly onClose: () => void }) {
  const { store } = useTools();
  const router = useRouter();
  const url = `/api/films/${store.filmId}/versions`;
  const { data: versions, problem: unread } = useAsked<readonly VersionEntry[]>(url);
  const [entry, setEntry] = useState<VersionEntry | null>(null);
  const { data: version, problem: unopened } = useAsked<Film>(entry === null ? null : `${url}/${entry.id}`);
  const looked = entry === null || version === undefined ? null : { entry, film: version };
  const [name, setName] = useState('');
  const [failed, setProblem] = useState<string | null>(null);
  const problem = failed ?? unread ?? unopened;
  const told = (work: Promise<unknown>): void => void work.catch((error: Error) => setProblem(error.message));
  const keep = async (as: string, isByItself = false): Promise<void> => {
    if (!(await store.allSent())) return;
    await call('POST', url, { do: 'keep', name: as, isByItself });
    setName('');
    await askAgain(url);
  };
  const goBack = async ({ entry: { name: called }, film }: { readonly entry: VersionEntry; readonly film: Film }): Promise<void> => {
    await keep(`Before going back to ${called}`, true);
    store.edit(`Went back to ${called}`, (d) => goBackTo(d, film));
    onClose();
  };
  return (
    <Sheet title="Versions" onClose={onClose} className="h-[620px] w-[880px]">
      <div className="grid min-h-0 grow grid-cols-[360px_1fr]">
        <div className="flex min-h-0 flex-col gap-2 border-r border-rule p-4">
          <form
            className="flex gap-1.5"
            onSubmit={(e) => {
              e.preventDefault();
              if (name.trim() !== '') told(keep(name.trim()));
            }}
          >
            <input
              aria-label="Name of the version"
              autoFocus
              placeholder="Name of this version"
              maxLength={200}
              value={name}
              onChange={(e) => setName(e.target.value)}
              className="h-7 min-w-0 grow rounded border border-rule bg-sheet px-2"
            />
            <Button type="submit" tone="ink" disabled={name.trim() === ''}>
              Keep
            </Button>
          </form>
          {problem !== null && <Note tone="fault">{problem}</Note>}
          <p className="text-soft">One is kept by itself each hour of work, and before anything is gone back to.</p>
          <ul aria-label="Versions" className="min-h-0 grow overflow-y-auto">
            {versions?.map((v) => (
              <VersionRow key={v.id} version={v} isLooked={entry?.id === v.id} onLook={() => setEntry(v)} />
            ))}
            {versions?.length === 0 && <li className="text-soft">None yet.</li>}
          </ul>
        </div>
        <div className="flex min-h-0 flex-col gap-3 p-4">
          {looked === null ? (
            <p className="text-soft">Choose a version to look at it.</p>
          ) : (
            <>
              <VersionFrames film={looked.film} />
              <div className="flex gap-1.5">
                <Button tone="ink" onClick={() => told(goBack(looked))}>
                  Go back to it
                </Button>
                <Button
                  onClick={() =>
                    told(
                      call<{ id: string }>('POST', url, {
                        do: 'open',
                        id: looked.entry.id,
                        name: `${looked.film.name}, ${looked.entry.name}`,
                      }).then(({ id }) => router.push(`/films/${id}`)),
                    )
                  }
                >
                  Open as a film of its own
                </Button>
                <Button
                  onClick={() =>
                    told(
                      call('POST', url, { do: 'delete', id: looked.entry.id }).then(() => {
                        setEntry(null);
                        return askAgain(url);
                      }),
                    )
                  }
                >
                  Delete
                </Button>
              </div>
            </>
          )}
        </div>
      </div>
    </Sheet>
  );
}

interface VersionRowProps {
  readonly version: VersionEntry;
  readonly isLooked: boolean;
  readonly onLook: () => void;
}

/** A version in the list: its name, pictures from beginning to end, and when it was kept. */
function VersionRow({ version: { name, isByItself, strip, madeAt }, isLooked, onLook }: VersionRowProps) {
  const { media } = useFilm('media');
  return (
    <li>
      <button
        type="button"
        aria-pressed={isLooked}
        className={`w-full rounded px-2 py-1.5 text-left hover:bg-pressed ${isLooked ? 'bg-pressed' : ''}`}
        onClick={onLook}
      >
        <span className={`block truncate ${isByItself ? 'text-soft' : 'font-semibold'}`}>{name}</span>
        <span className="my-1 flex h-[34px] gap-px overflow-hidden rounded-sm bg-well">
          {strip.pictures.map(({ mediumId, frame }, i) => {
            const medium = media.get(mediumId);
            return (
              <span key={i} className="relative h-full w-[54px] shrink-0 overflow-hidden">
                {medium !== undefined && <StripTile medium={medium} frame={frame} boxAspect={54 / 34} />}
              </span>
            );
          })}
        </span>
        <span className="text-[11.5px] text-soft">
          {when(madeAt)} · {strip.shots === 1 ? '1 shot' : `${strip.shots} shots`}, {strip.length} fr
        </span>
      </button>
    </li>
  );
}

const WIDTH = 460;

/** A version's frames, to be looked through; nothing of it can be changed here. */
function VersionFrames({ film }: { readonly film: Film }) {
  const { media } = useFilm('media');
  const length = filmLength(film);
  const [at, setAt] = useState(0);
  const frame = Math.min(at, Math.max(0, length - 1));
  return (
    <>
      <div className="bg-well">
        {length > 0 && (
          <Thumb
            drawing={{ kind: 'picture', plan: planFrame(film, media, frame) }}
            width={WIDTH}
            height={Math.round((WIDTH * film.height) / film.width)}
          />
        )}
      </div>
      <input
        type="range"
        aria-label="Frame of the version"
        className="accent-ink"
        min={0}
        max={Math.max(0, length - 1)}
        value={frame}
        onChange={(e) => setAt(Number(e.target.value))}
      />
      <p className="text-soft">
        frame {frame} of {length} · {film.shots.length} shots · {film.width} × {film.height}
      </p>
    </>
  );
}
