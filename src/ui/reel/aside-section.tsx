'use client';
import { bringBack, forgetAside, joinsAside } from '../../core/film/edits/aside';
import { kindOf } from '../../core/film/film';
import { Button } from '../parts/button';
import { Section } from '../parts/section';
import { useFilm, useTools } from '../store/film-context';
import { newId } from '../store/new-id';

/** Joins whose shots are no neighbours any more, kept until they are brought back or discarded; nothing while there are none. */
export function AsideSection() {
  const { store } = useTools();
  const { film } = useFilm('film');
  const aside = joinsAside(film);
  if (aside.length === 0) return null;
  return (
    <Section title={`Joins put aside: ${aside.length}`} name="Joins put aside">
      <p className="text-soft">Their shots have parted. They are laid on by themselves when both meet again.</p>
      <ul className="flex flex-col gap-2">
        {aside.map(({ join, leaving, entering }) => (
          <li key={join.id} data-aside={join.name}>
            <p>
              <span className="font-semibold">{join.name}</span> <span className="text-soft">{kindOf(join)}</span>
            </p>
            <p className="text-[11.5px] text-soft">
              {leaving.name} → {entering.name}
            </p>
            <div className="mt-1 flex gap-1.5">
              <Button onClick={() => store.edit(`Brought ${join.name} back`, (d) => bringBack(d, join.id, newId))}>Bring back</Button>
              <Button onClick={() => store.edit(`Discarded ${join.name}`, (d) => forgetAside(d, join.id))}>Discard</Button>
            </div>
          </li>
        ))}
      </ul>
    </Section>
  );
}
