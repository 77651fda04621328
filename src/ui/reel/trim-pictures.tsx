'use client';
import type { Film, Shot } from '../../core/film/film';
import { changedFilm } from '../../core/film/history';
import { handlesOf, startOfShot } from '../../core/film/timing';
import { plainPlan } from '../../core/plan/plan-shot';
import { FULL_QUALITY } from '../../core/plan/planner';
import { useFilm } from '../store/film-context';
import { Thumb } from '../weave/thumb';
import { changeOf, type Drag } from './shot-drag';
import { cutOfDrag } from './use-shot-drag';
import { newId } from '../store/new-id';

/** CSS pixels. */
const WIDTH = 380;

/** While ends are dragged: the last picture of the leaving shot and the first of the entering one, as they would be. */
export function TrimPictures({ drag }: { readonly drag: Drag }) {
  const { film, media } = useFilm('film', 'media');
  const change = changeOf(film, media, drag, newId);
  const trimmed = change === null ? film : changedFilm(film, change.change);
  const { leaving, entering } = cutOfDrag(trimmed, drag)!;
  return (
    <div className="flex h-full items-center justify-center gap-1 bg-well px-3" data-testid="trim-pictures">
      {leaving !== null && <Side film={trimmed} shot={leaving} offset={leaving.length - 1} title="last of" />}
      {entering !== null && <Side film={trimmed} shot={entering} offset={0} title="first of" />}
    </div>
  );
}

interface SideProps {
  readonly film: Film;
  readonly shot: Shot;
  /** Film frames since the shot's first one. */
  readonly offset: number;
  readonly title: string;
}

function Side({ film, shot, offset, title }: SideProps) {
  const { media } = useFilm('media');
  const height = Math.round((WIDTH * film.height) / film.width);
  const start = startOfShot(film, shot.id);
  const plan = plainPlan(film, media, shot, start, start + offset, FULL_QUALITY);
  const medium = media.get(shot.mediumId);
  const left = medium === undefined ? null : handlesOf(film, shot, medium);
  return (
    <figure className="flex min-w-0 flex-1 flex-col items-center gap-1.5 text-[11.5px] text-well-ink">
      <Thumb drawing={{ kind: 'picture', plan }} width={WIDTH} height={height} className="!h-auto max-h-[85%] max-w-full" />
      <figcaption>
        {title} <b>{shot.name}</b>{' '}
        <span className="font-mono">
          {shot.length} fr{left === null ? '' : ` · ${offset === 0 ? left.before : left.after} fr left`}
        </span>
      </figcaption>
    </figure>
  );
}
