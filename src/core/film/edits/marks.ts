import type { Draft } from 'immer';
import { toNumber } from '../../geometry/rational';
import { trimEnd } from './trims';
import type { FilmDraft, NewId } from '../drafts';
import { byId, type Film, type Media } from '../film';
import type { MarkerLook, MediumBeats } from '../sound';
import type { Tint } from '../tint';
import { handlesOf, mediumPlaceAt, startOfShot } from '../timing';

/** Markers and beats: setting and moving them, where they lie on the film, and laying shots over them. */

export function addMarker(film: FilmDraft, frame: number, newId: NewId): string {
  const id = newId();
  const name = `Mark ${(film.markers?.length ?? 0) + 1}`;
  film.markers = [...(film.markers ?? []), { id, name, frame }].sort((a, b) => a.frame - b.frame);
  return id;
}

/** What is set of a marker's look; null takes its colour away, an empty note the note. */
export type LookPart = { readonly name?: string; readonly tint?: Tint | null; readonly note?: string };

function setLook(marker: Draft<MarkerLook>, { name, tint, note }: LookPart): void {
  if (name !== undefined) marker.name = name;
  if (tint === null) delete marker.tint;
  else if (tint !== undefined) marker.tint = tint;
  if (note === '') delete marker.note;
  else if (note !== undefined) marker.note = note;
}

export function setMarker(film: FilmDraft, markerId: string, part: LookPart & { readonly frame?: number }): void {
  const marker = byId(film.markers ?? [], markerId, 'marker');
  setLook(marker, part);
  marker.frame = part.frame ?? marker.frame;
  film.markers?.sort((a, b) => a.frame - b.frame);
}

export function removeMarker(film: FilmDraft, markerId: string): void {
  film.markers = film.markers?.filter((m) => m.id !== markerId);
}

export function addMediumMarker(film: FilmDraft, mediumId: string, seconds: number, newId: NewId): string {
  const id = newId();
  const name = `Mark ${(film.mediumMarkers?.filter((m) => m.mediumId === mediumId).length ?? 0) + 1}`;
  film.mediumMarkers = [...(film.mediumMarkers ?? []), { id, mediumId, name, seconds }];
  return id;
}

/** Lays marks of these names on a medium, where none of that name is there already. */
export function addMediumMarkers(
  film: FilmDraft,
  mediumId: string,
  marks: readonly { readonly name: string; readonly seconds: number }[],
  newId: NewId,
): void {
  const known = film.mediumMarkers ?? [];
  const isThere = (name: string, seconds: number): boolean =>
    known.some((m) => m.mediumId === mediumId && m.name === name && Math.abs(m.seconds - seconds) < 1e-3);
  const added = marks.filter((m) => !isThere(m.name, m.seconds)).map((m) => ({ id: newId(), mediumId, ...m }));
  film.mediumMarkers = [...known, ...added];
}

/** Names a span of a medium. Seconds; it lasts longer than none. */
export function addMediumSpan(film: FilmDraft, mediumId: string, seconds: number, lasts: number, newId: NewId): string {
  const id = newId();
  const spans = (film.mediumMarkers ?? []).filter((m) => m.mediumId === mediumId && m.lasts !== undefined);
  film.mediumMarkers = [...(film.mediumMarkers ?? []), { id, mediumId, name: `Span ${spans.length + 1}`, seconds, lasts }];
  return id;
}

export function setMediumMarker(film: FilmDraft, markerId: string, part: LookPart & { readonly seconds?: number }): void {
  const marker = byId(film.mediumMarkers ?? [], markerId, 'marker');
  setLook(marker, part);
  marker.seconds = part.seconds ?? marker.seconds;
}

export function removeMediumMarker(film: FilmDraft, markerId: string): void {
  film.mediumMarkers = film.mediumMarkers?.filter((m) => m.id !== markerId);
}

export function setBeats(film: FilmDraft, beats: MediumBeats): void {
  film.beats = [...(film.beats ?? []).filter((b) => b.mediumId !== beats.mediumId), { ...beats, seconds: [...beats.seconds] }];
}

export function removeBeats(film: FilmDraft, mediumId: string): void {
  film.beats = film.beats?.filter((b) => b.mediumId !== mediumId);
}

/** All beats later by so many seconds; those before the beginning fall away. */
export function shiftBeats(beats: MediumBeats, by: number): MediumBeats {
  const seconds = beats.seconds.map((s) => s + by).filter((s) => s >= 0);
  const lost = beats.seconds.length - seconds.length;
  return { ...beats, seconds, downbeat: (((beats.downbeat - lost) % beats.perBar) + beats.perBar) % beats.perBar };
}

/** Every second beat only; downbeats stay. */
export function halveBeats(beats: MediumBeats): MediumBeats {
  const first = beats.downbeat % 2;
  return {
    ...beats,
    seconds: beats.seconds.filter((_, i) => i % 2 === first),
    downbeat: Math.floor(beats.downbeat / 2),
    beatsPerMinute: beats.beatsPerMinute / 2,
  };
}

/** A beat between every two. */
export function doubleBeats(beats: MediumBeats): MediumBeats {
  const seconds = beats.seconds.flatMap((s, i) => (i === 0 ? [s] : [(beats.seconds[i - 1]! + s) / 2, s]));
  return { ...beats, seconds, downbeat: 2 * beats.downbeat, beatsPerMinute: 2 * beats.beatsPerMinute };
}

/** The beat nearest to `at` moved to `to`, seconds, between its neighbours. */
export function moveBeat(beats: MediumBeats, index: number, to: number): MediumBeats {
  const before = beats.seconds[index - 1] ?? -0.001;
  const after = beats.seconds[index + 1] ?? Infinity;
  const moved = Math.max(before + 0.001, Math.min(after - 0.001, to));
  return { ...beats, seconds: beats.seconds.map((s, i) => (i === index ? moved : s)) };
}

/** Beats as they were tapped, seconds: those of the span that was tapped give way to them. */
export function tappedBeats(mediumId: string, before: MediumBeats | undefined, taps: readonly number[]): MediumBeats {
  const rising = [...new Set(taps.filter((t) => t >= 0))].sort((a, b) => a - b);
  const [first, last] = [rising[0] ?? 0, rising.at(-1) ?? 0];
  const gaps = rising.slice(1).map((t, i) => t - rising[i]!);
  const usual = [...gaps].sort((a, b) => a - b)[gaps.length >> 1] ?? 0.5;
  // what was found around the taps stays, but for what lies nearer than half a beat
  const kept = (before?.seconds ?? []).filter((s) => s < first - usual / 2 || s > last + usual / 2);
  return {
    mediumId,
    seconds: [...kept, ...rising].sort((a, b) => a - b),
    downbeat: 0,
    perBar: before?.perBar ?? 4,
    beatsPerMinute: 60 / usual,
    confidence: 1,
  };
}

/** A beat or marker where it lies on the film. */
export interface FilmMark {
  readonly kind: 'marker' | 'medium marker' | 'beat' | 'downbeat';
  /** Film frame, as a fraction. */
  readonly frame: number;
  readonly name: string;
}

/** Beats and markers of what is on the reel, on the film's clock, in order. */
export function marksOfFilm(film: Film, media: Media): FilmMark[] {
  const marks: FilmMark[] = (film.markers ?? []).map(({ frame, name }) => ({ kind: 'marker', frame, name }));
  const perSecond = toNumber(film.rate);
  const place = (mediumId: string, seconds: number, mark: Omit<FilmMark, 'frame'>): void => {
    for (const lane of film.soundLanes ?? [])
      for (const clip of lane.clips) {
        const offset = (seconds - clip.from) * perSecond;
        if (clip.mediumId === mediumId && offset > -1e-6 && offset < clip.length) marks.push({ ...mark, frame: clip.start + offset });
      }
    for (const shot of film.shots) {
      const medium = media.get(shot.mediumId);
      if (shot.mediumId !== mediumId || medium === undefined) continue;
      const wanted = seconds * toNumber(medium.rate);
      const offset = offsetOfPlace(wanted, shot.length, (o) => mediumPlaceAt(film, shot, medium, o));
      if (offset !== null) marks.push({ ...mark, frame: startOfShot(film, shot.id) + offset });
    }
  };
  for (const { mediumId, seconds, name } of film.mediumMarkers ?? []) place(mediumId, seconds, { kind: 'medium marker', name });
  for (const beats of film.beats ?? [])
    for (const [i, seconds] of beats.seconds.entries()) {
      const isDown = i >= beats.downbeat % beats.perBar && (i - beats.downbeat) % beats.perBar === 0;
      place(beats.mediumId, seconds, { kind: isDown ? 'downbeat' : 'beat', name: isDown ? 'bar' : 'beat' });
    }
  return marks.sort((a, b) => a.frame - b.frame);
}

/** The offset in a shot at which a medium place comes by first; null where it does not. */
function offsetOfPlace(wanted: number, length: number, placeAt: (offset: number) => number): number | null {
  let here = placeAt(0);
  for (let o = 0; o < length; o++) {
    const next = placeAt(o + 1);
    if ((wanted >= here && wanted < next) || (wanted <= here && wanted > next)) return o + (wanted - here) / (next - here);
    here = next;
  }
  return null;
}

/**
 * Lays shots that follow each other so that each ends on a beat: one every `every` beats from the beat nearest to where the first
 * begins. Ends are moved within what the media have; the shots before the first are trimmed by none.
 * @returns how many ends could not reach their beat
 */
export function spreadOverBeats(film: FilmDraft, media: Media, shotIds: readonly string[], every: number, newId: NewId): number {
  const beats = marksOfFilm(film as Film, media).filter((m) => m.kind === 'beat' || m.kind === 'downbeat');
  const chosen = film.shots.filter((s) => shotIds.includes(s.id)).map((s) => s.id);
  const [firstId] = chosen;
  if (firstId === undefined || beats.length === 0) return chosen.length;
  const begin = startOfShot(film, firstId);
  let index = nearestIndex(
    beats.map((b) => b.frame),
    begin,
  );
  let short = 0;
  for (const id of chosen) {
    index += every;
    const beat = beats[index];
    const shot = byId(film.shots, id, 'shot');
    const medium = media.get(shot.mediumId);
    if (beat === undefined || medium === undefined) {
      short++;
      continue;
    }
    const start = startOfShot(film, id);
    const wanted = Math.round(beat.frame) - start - shot.length;
    if (wanted > Math.max(0, handlesOf(film, shot, medium).after)) short++;
    trimEnd(film, medium, id, wanted, newId);
  }
  return short;
}

/** Index of the number nearest to `to` in a rising list; −1 for an empty one. */
export function nearestIndex(rising: readonly number[], to: number): number {
  let best = -1;
  for (let i = 0; i < rising.length; i++) if (best < 0 || Math.abs(rising[i]! - to) < Math.abs(rising[best]! - to)) best = i;
  return best;
}
