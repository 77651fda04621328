'use client';
import { MoreVertical } from 'lucide-react';
import Link from 'next/link';
import { useState } from 'react';
import type { FilmEntry } from '../../core/film/film-entry';
import { toNumber } from '../../core/geometry/rational';
import { ContextMenu } from '../commands/context-menu';
import { Menu, MenuItem } from '../parts/menu';
import { PackageSheet } from '../parts/package-sheet';
import { NameInput } from '../parts/name-input';
import { call } from '../store/api';
import { rateName } from '../parts/film-formats';

function lengthText({ length, rate }: FilmEntry): string {
  const seconds = length / toNumber(rate);
  return `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
}

interface FilmRowProps {
  readonly film: FilmEntry;
  /** Waits for something that is done to films, and shows them anew. */
  readonly act: (work: Promise<unknown>) => void;
}

/** A film: a strip of its own pictures, what it is, and what can be done to it. */
export function FilmRow({ film, act }: FilmRowProps) {
  const [isNaming, setNaming] = useState(false);
  const [isPacking, setPacking] = useState(false);
  const ask = (body: object): void => act(call('POST', `/api/films/${film.id}`, body));
  const items = [
    { label: 'Rename…', onSelect: () => setNaming(true) },
    { label: 'Duplicate', onSelect: () => ask({ do: 'duplicate', name: `${film.name} copy` }) },
    { label: 'Save as a package…', onSelect: () => setPacking(true) },
    { label: 'Delete', onSelect: () => ask({ do: 'delete' }) },
  ];
  const rename = (name: string): void => {
    setNaming(false);
    if (name !== film.name) ask({ do: 'rename', name });
  };
  return (
    <ContextMenu label={`Film ${film.name}`} actions={() => [items]}>
      <li className="flex items-center gap-3 border-b border-rule py-2 hover:bg-sheet" data-film={film.name}>
        <Link
          href={`/films/${film.id}`}
          tabIndex={-1}
          aria-hidden
          className="flex h-[40px] w-[280px] shrink-0 gap-px overflow-hidden rounded bg-well"
        >
          {film.pictures.map((id) => (
            <img key={id} src={`/api/media/${id}/poster.jpg`} alt="" className="h-full min-w-0 grow object-cover" />
          ))}
        </Link>
        <div className="min-w-0 grow">
          {isNaming ? (
            <NameInput
              label={`Name of ${film.name}`}
              value={film.name}
              isAsked
              onDone={rename}
              className="h-6 w-full text-[15px] font-semibold"
            />
          ) : (
            <Link href={`/films/${film.id}`} className="block truncate text-[15px] font-semibold hover:underline">
              {film.name}
            </Link>
          )}
          <p className="truncate text-[11.5px] text-soft">
            {film.shots === 1 ? '1 shot' : `${film.shots} shots`} · {lengthText(film)} · {film.width} × {film.height} ·{' '}
            {rateName(film.rate)} fps · {new Date(film.updatedAt).toISOString().slice(0, 10)}
          </p>
        </div>
        {isPacking && <PackageSheet filmId={film.id} name={film.name} onClose={() => setPacking(false)} />}
        <Menu label={`What to do with ${film.name}`} icon={<MoreVertical size={15} />}>
          {items.map(({ label, onSelect }) => (
            <MenuItem key={label} onSelect={onSelect}>
              {label}
            </MenuItem>
          ))}
        </Menu>
      </li>
    </ContextMenu>
  );
}
