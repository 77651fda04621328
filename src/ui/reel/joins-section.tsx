'use client';
import Link from 'next/link';
import { kindOf } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import { useOneStop } from '../parts/one-stop';
import { Section } from '../parts/section';
import { useTools } from '../store/film-context';
import { toggleJoin, useReelChoice } from '../store/reel-choice';

/** The joins of the film, each a link to its bench. */
export function JoinsSection({ joins }: { readonly joins: readonly PlacedJoin[] }) {
  const { store } = useTools();
  const { joins: chosen } = useReelChoice();
  const list = useOneStop<HTMLUListElement>();
  return (
    <Section title="Joins">
      {joins.length === 0 && (
        <p className="text-soft">Add two shots to the reel. The knot between them is a join: open it to work on it.</p>
      )}
      <ul {...list} className="flex flex-col">
        {joins.map(({ join, from, to }) => (
          <li key={join.id} className="flex items-baseline gap-1.5">
            <input
              type="checkbox"
              aria-label={`Choose ${join.name}`}
              className="accent-ink"
              checked={chosen.has(join.id)}
              onChange={() => toggleJoin(join.id)}
            />
            <Link
              href={`/films/${store.filmId}/joins/${join.id}`}
              className="-mr-1.5 flex min-w-0 grow items-baseline justify-between rounded px-1.5 py-1 hover:bg-pressed"
            >
              <span className="truncate font-semibold">{join.name}</span>
              <span className="shrink-0 pl-2 text-[11.5px] text-soft">
                {kindOf(join) === 'cut' && to === from ? 'plain cut' : `${kindOf(join)}, ${to - from} fr`}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </Section>
  );
}
