import { filmLength, mediumFramesPerFilmFrame } from './timing';
import type { Film, Media, Medium, Shot } from './film';

/** Film frames that a film may be long: a day at 50 a second. */
const LONGEST_FILM = 24 * 3600 * 50;
/** Film frames of rounding where rates differ. */
const SLACK = 2;

/** The film frames a shot may be long: sliding and rolling may take it past its medium's end by as much as the medium is long. */
export const longestShot = (film: Film, shot: Pick<Shot, 'inFrame' | 'time'>, medium: Medium): number =>
  // held or slowed, a shot may be as long as one likes
  shot.time !== undefined ? LONGEST_FILM : Math.floor((2 * medium.frames - shot.inFrame) / mediumFramesPerFilmFrame(film, medium)) + SLACK;

function faultOfShot(film: Film, shot: Shot, media: Media): string | null {
  const medium = media.get(shot.mediumId);
  if (medium === undefined) return `${shot.name} is of a medium that is not on the shelf.`;
  if (Math.abs(shot.inFrame) >= medium.frames) return `${shot.name} begins outside its medium, which has ${medium.frames} frames.`;
  return shot.length <= longestShot(film, shot, medium)
    ? null
    : `${shot.name} is longer than its medium, which has ${medium.frames} frames.`;
}

/** All in a film that is of a medium: shots, mattes, tracks, and layers that show one of the shelf. */
export const ofMedia = (film: Film): readonly { readonly name: string; readonly mediumId: string }[] => [
  ...film.shots,
  ...film.mattes,
  ...(film.tracks ?? []),
  ...film.joins.flatMap((j) => j.hits ?? []),
  ...(film.soundLanes ?? []).flatMap((l) => l.clips),
  ...film.joins.flatMap((j) =>
    j.layers.flatMap((l) => (l.source.kind === 'medium' ? [{ name: l.name, mediumId: l.source.mediumId }] : [])),
  ),
];

/**
 * What the shape of a film alone does not tell: that shots lie in their media, that nothing on the reel is off the shelf, and that
 * the whole can be gone through. Only what differs from `before` is looked at, since media come and go under a film.
 * @returns a sentence for the user, or null
 */
export function checkRules(film: Film, before: Film, media: Media): string | null {
  if (filmLength(film) > LONGEST_FILM) return `The film would be longer than ${LONGEST_FILM} frames.`;
  const known = new Set<unknown>(before.shots);
  for (const shot of film.shots) {
    const fault = known.has(shot) ? null : faultOfShot(film, shot, media);
    if (fault !== null) return `Not accepted: ${fault}`;
  }
  const off = new Set(film.offShelf ?? []);
  const used = ofMedia(film).find((item) => off.has(item.mediumId));
  return used === undefined ? null : `Not accepted: ${used.name} is of a medium that was taken off the shelf.`;
}
