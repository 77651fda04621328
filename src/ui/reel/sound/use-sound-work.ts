'use client';
import { useEffect, useRef, useState } from 'react';
import { addMarker, setBeats, tappedBeats } from '../../../core/film/edits/marks';
import { duplicateClip, moveClip, removeClip, splitClip } from '../../../core/film/edits/sound';
import type { Film, Media, Shot } from '../../../core/film/film';
import type { SoundClip } from '../../../core/film/sound';
import { mediumPlaceAt, startOfShot } from '../../../core/film/timing';
import { toNumber } from '../../../core/geometry/rational';
import type { Handlers } from '../../commands/use-commands';
import type { Playback } from '../../stage/playback';
import { useFilm, useTools } from '../../store/film-context';
import { chooseClip, toggleSnapping, useReelChoice } from '../../store/reel-choice';
import { newId } from '../../store/new-id';

/** Milliseconds without a tap after which those before are stored. */
const TAPS_END_MS = 1500;

export interface SoundWork {
  /** The chosen clip; null without one, or once it is gone. */
  readonly clip: SoundClip | null;
  /** The medium that beats and markers are about: that of the chosen clip or shot. */
  readonly mediumId: string | null;
  /** Its second at the playhead; null where it does not lie there. */
  readonly second: number | null;
  readonly taps: number;
  readonly handlers: Handlers;
}

/** What is done to sound on the reel: the chosen clip, its commands, markers and tapping. */
export function useSoundWork(frame: number, selected: Shot | null, playback: Playback): SoundWork {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { clipId } = useReelChoice();
  const clip = (film.soundLanes ?? []).flatMap((l) => l.clips).find((c) => c.id === clipId) ?? null;
  const mediumId = clip?.mediumId ?? selected?.mediumId ?? null;
  const secondAt = (at: number): number | null => secondOf(film, media, clip, selected, at);
  const taps = useRef<number[]>([]);
  const [tapped, setTapped] = useState(0);
  useEffect(() => {
    if (tapped === 0 || mediumId === null) return;
    const timer = setTimeout(() => {
      const beats = film.beats?.find((b) => b.mediumId === mediumId);
      const all = taps.current;
      taps.current = [];
      setTapped(0);
      if (all.length > 1) store.edit('Tapped beats', (d) => setBeats(d, tappedBeats(mediumId, beats, all)));
    }, TAPS_END_MS);
    return () => clearTimeout(timer);
  }, [tapped, mediumId, film, store]);
  const tap = (): void => {
    const at = playback.placeNow();
    const second = at === null ? null : secondAt(at);
    if (second === null) {
      store.notify('Choose a sound or a shot and play it: B taps a beat on it.');
      return;
    }
    taps.current.push(second);
    setTapped(taps.current.length);
  };
  const ofClip: Handlers =
    clip === null
      ? {}
      : {
          split: () => store.edit(`Split ${clip.name}`, (d) => void splitClip(d, clip.id, frame, newId)),
          duplicate: () => store.edit(`Duplicated ${clip.name}`, (d) => void duplicateClip(d, clip.id, newId)),
          removeShot: () => {
            chooseClip(null);
            store.edit(`Deleted ${clip.name}`, (d) => removeClip(d, clip.id));
          },
          moveEarlier: () => store.edit(`Moved ${clip.name}`, (d) => moveClip(d, clip.id, clip.start - 1)),
          moveLater: () => store.edit(`Moved ${clip.name}`, (d) => moveClip(d, clip.id, clip.start + 1)),
        };
  return {
    clip,
    mediumId,
    second: secondAt(frame),
    taps: tapped,
    handlers: {
      ...ofClip,
      snapOnOff: toggleSnapping,
      markHere: () => store.edit('Added a marker', (d) => void addMarker(d, frame, newId)),
      tapBeat: tap,
    },
  };
}

/** The second of the clip's or the shot's medium at a film frame, within it. */
function secondOf(film: Film, media: Media, clip: SoundClip | null, shot: Shot | null, at: number): number | null {
  if (clip !== null) {
    return at >= clip.start && at < clip.start + clip.length ? clip.from + (at - clip.start) / toNumber(film.rate) : null;
  }
  const medium = shot === null ? undefined : media.get(shot.mediumId);
  if (shot === null || medium === undefined) return null;
  const offset = at - startOfShot(film, shot.id);
  return offset >= 0 && offset < shot.length ? mediumPlaceAt(film, shot, medium, offset) / toNumber(medium.rate) : null;
}
