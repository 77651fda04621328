'use client';
import Link from 'next/link';
import type { FoundThing } from '../../core/film/media-facts';
import { Logo } from '../parts/logo';
import { FoundList } from './found-list';
import { NewFilm } from './new-film';

export interface ListedFilm {
  readonly id: string;
  readonly name: string;
  readonly shots: number;
  readonly updatedAt: number;
}

interface FilmListProps {
  readonly films: readonly ListedFilm[];
  readonly found: readonly FoundThing[];
}

/** The films in the data folder, a way to begin one, and what lies there that is of none. */
export function FilmList({ films, found }: FilmListProps) {
  return (
    <main className="mx-auto flex h-screen max-w-[620px] flex-col gap-6 overflow-y-auto px-6 py-14">
      <h1 className="flex items-center gap-2.5 text-[22px] font-bold">
        <Logo />
        irimi
      </h1>
      <p className="text-[14px] text-soft">Make the join between two shots: hidden, or turned into the moment itself.</p>
      <ul aria-label="Films" className="border-t border-rule">
        {films.map((film) => (
          <li key={film.id} className="border-b border-rule">
            <Link href={`/films/${film.id}`} className="flex items-baseline justify-between px-1 py-2.5 hover:bg-sheet">
              <span className="text-[15px] font-semibold">{film.name}</span>
              <span className="text-soft">
                {film.shots} {film.shots === 1 ? 'shot' : 'shots'} · {new Date(film.updatedAt).toISOString().slice(0, 10)}
              </span>
            </Link>
          </li>
        ))}
        {films.length === 0 && <li className="py-3 text-soft">No film yet. Name one below and begin.</li>}
      </ul>
      <NewFilm />
      {found.length > 0 && <FoundList films={films} found={found} />}
    </main>
  );
}
