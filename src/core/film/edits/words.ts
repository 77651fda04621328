import type { Draft } from 'immer';
import { toNumber } from '../../geometry/rational';
import type { ShotSide } from '../composition';
import type { FilmDraft } from '../drafts';
import { byId, type Film, type Media } from '../film';
import { mediumFramesPerFilmFrame, placeJoin } from '../timing';
import { setSoundChange } from './sound';

/** Milliseconds over which two takes go over into each other inside a word. */
const WORD_FADE = 24;

/** Where to go over from one take to the other, seconds of each: the same place of a word in both. */
interface WordPlaces {
  readonly cutA: number;
  readonly cutB: number;
}

/**
 * Cuts a join inside a word that both shots say: the picture on the frame nearest to where both agree best, the sound exactly there, and the
 * entering shot so that both say it at the same time. `found.cutA` is in the shot of `side`. Both shots keep their other ends.
 * @returns whether it could be done: shots at a speed of their own, and cuts outside a shot, cannot
 */
export function cutInWord(film: FilmDraft, media: Media, joinId: string, side: ShotSide, found: WordPlaces): boolean {
  const placed = placeJoin(film, joinId);
  if (placed === null) return false;
  const { leaving, entering } = placed;
  const [from, into] = [media.get(leaving.mediumId), media.get(entering.mediumId)];
  if (from === undefined || into === undefined || leaving.time !== undefined || entering.time !== undefined) return false;
  const [leaves, enters] = side === 'leaving' ? [found.cutA, found.cutB] : [found.cutB, found.cutA];
  const exact = (leaves * toNumber(from.rate) - leaving.inFrame) / mediumFramesPerFilmFrame(film, from);
  const length = Math.round(exact);
  const at = exact - length;
  // what the entering shot shows at the cut, so that at the exact place both say the same
  const inFrame = enters * toNumber(into.rate) - at * mediumFramesPerFilmFrame(film, into);
  const later = (inFrame - entering.inFrame) / mediumFramesPerFilmFrame(film, into);
  const rest = Math.round(entering.length - later);
  if (length < 1 || rest < 1 || inFrame < 0 || inFrame >= into.frames || length > framesLeft(leaving.inFrame, from.frames, film, from))
    return false;
  const draftOf = (id: string): Draft<Film['shots'][number]> => byId(film.shots, id, 'shot');
  draftOf(leaving.id).length = length;
  Object.assign(draftOf(entering.id), { inFrame, length: rest });
  setSoundChange(film, joinId, { at: Math.round(at * 1000) / 1000, kind: 'cross fade', milliseconds: WORD_FADE });
  return true;
}

const framesLeft = (inFrame: number, frames: number, film: FilmDraft, medium: Parameters<typeof mediumFramesPerFilmFrame>[1]): number =>
  Math.floor((frames - inFrame) / mediumFramesPerFilmFrame(film, medium) + 1e-6);
