import { useState } from 'react';
import {
  addFollowedTrack,
  addOutlineOnTrack,
  addTrack,
  removeTrack,
  removeTrackKey,
  rideOnTrack,
  setTrackKey,
  setTrackModel,
} from '../../../core/film/edits/mattes';
import type { Film, Matte, Media, Medium } from '../../../core/film/film';
import type { ShotSide } from '../../../core/film/composition';
import { followSpan, type FollowGoal } from '../../../core/film/follow-orders';
import { mediumOf, filmFrameOf, type PlacedJoin } from '../../../core/film/timing';
import type { ReadTrack } from '../../../core/interchange/track-files';
import { matteSpace } from '../../../core/plan/stage-plans';
import type { Corner } from '../../../core/track/plane-template';
import { patchAround, regionAt, type Track, type TrackFrame, type TrackModel } from '../../../core/track/track';
import { joinSpan } from '../common/join-span';
import { useTools } from '../../store/film-context';
import { newId } from '../../store/new-id';

/** The track the Track step works on, at the current frame, and what can be done to it. */
export interface TrackTools {
  readonly side: ShotSide;
  readonly medium: Medium;
  readonly track: Track | null;
  readonly tracks: readonly Track[];
  readonly mediumFrame: number | null;
  /** The region here; null where it is not known. */
  readonly region: TrackFrame | null;
  readonly isKey: boolean;
  /** Outlines of the same medium. */
  readonly outlines: readonly Matte[];
  filmFrame(mediumFrame: number): number;
  select(trackId: string): void;
  setSide(side: ShotSide): void;
  begin(corners: readonly Corner[]): void;
  /** Marks a single point to follow. */
  beginPoint(at: Corner): void;
  /** Lets the next drag or click on the picture mark something new. */
  another(): void;
  place(corners: readonly Corner[]): void;
  preview(corners: readonly Corner[] | null): void;
  readonly previewed: readonly Corner[] | null;
  setModel(model: TrackModel): void;
  /** Follows the track from the current frame on. */
  follow(goal: FollowGoal): void;
  unplace(): void;
  remove(): void;
  ride(matteId: string, on: boolean): void;
  makeOutline(): void;
  /** The tracks that came from a file. */
  add(read: readonly ReadTrack[]): void;
}

/** In place of a track's id while a new one is to be marked. */
const ANOTHER = 'another';

/** Null while the medium is not ready. */
export function useTrackTools(film: Film, media: Media, placed: PlacedJoin, frame: number): TrackTools | null {
  const { store } = useTools();
  const [trackId, setTrackId] = useState<string | null>(null);
  const [side, setSide] = useState<ShotSide>('leaving');
  const [previewed, preview] = useState<readonly Corner[] | null>(null);
  const medium = mediumOf(media, placed[side]);
  if (medium === null) return null;
  const tracks = (film.tracks ?? []).filter((t) => t.mediumId === medium.id);
  const track = trackId === ANOTHER ? null : (tracks.find((t) => t.id === trackId) ?? tracks[0] ?? null);
  const { mediumFrame } = matteSpace(film, media, placed, side, frame);
  const region = track === null || mediumFrame === null ? null : regionAt(track, mediumFrame);
  const toMedium = (at: number): number | null => matteSpace(film, media, placed, side, at).mediumFrame;
  return {
    side,
    medium,
    track,
    tracks,
    mediumFrame,
    region,
    isKey: track?.keys.some((k) => k.frame === mediumFrame) ?? false,
    outlines: film.mattes.filter((m) => m.mediumId === medium.id && m.painted === undefined),
    filmFrame: (at) => filmFrameOf(film, placed, side, medium, at),
    select: setTrackId,
    setSide,
    previewed,
    preview,
    begin(corners) {
      if (mediumFrame === null) return;
      store.edit('Marked a region to follow', (d) => {
        setTrackId(
          addTrack(
            d,
            medium.id,
            `Region ${tracks.filter((t) => t.model !== 'position').length + 1}`,
            'perspective',
            mediumFrame,
            corners,
            newId,
          ),
        );
      });
    },
    beginPoint(at) {
      if (mediumFrame === null) return;
      const count = tracks.filter((t) => t.model === 'position').length;
      store.edit('Marked a point to follow', (d) => {
        setTrackId(addTrack(d, medium.id, `Point ${count + 1}`, 'position', mediumFrame, patchAround(at, medium.width), newId));
      });
    },
    another: () => setTrackId(ANOTHER),
    place(corners) {
      preview(null);
      if (track !== null && mediumFrame !== null)
        store.edit(`Placed ${track.name} on frame ${frame}`, (d) => setTrackKey(d, track.id, mediumFrame, corners));
    },
    setModel(model) {
      if (track !== null) store.edit(`${track.name} follows by ${model}`, (d) => setTrackModel(d, track.id, model));
    },
    follow(goal) {
      if (track === null || mediumFrame === null) return;
      const around = joinSpan(placed, side, frame);
      const ends = { first: toMedium(around.first) ?? 0, last: toMedium(around.last) ?? medium.frames - 1 };
      const keys = track.keys.map((k) => k.frame);
      const span = followSpan(goal, mediumFrame, keys, ends, medium.frames);
      if (span === null) {
        store.notify('There is no frame to follow to in this direction.');
        return;
      }
      void store.askWhenSaved('follow', { trackId: track.id, ...span });
    },
    unplace() {
      if (track !== null && mediumFrame !== null)
        store.edit(`${track.name}: no longer placed on frame ${frame}`, (d) => removeTrackKey(d, track.id, mediumFrame));
    },
    remove() {
      if (track !== null) store.edit(`Removed ${track.name}`, (d) => removeTrack(d, track.id));
    },
    ride(matteId, on) {
      if (track !== null)
        store.edit(on ? `An outline rides on ${track.name}` : 'An outline stands for itself', (d) =>
          rideOnTrack(d, matteId, on ? track.id : null),
        );
    },
    add(read) {
      const usable = read
        .map((t) => ({ ...t, frames: t.frames.filter((f) => f.frame < medium.frames) }))
        .filter((t) => t.frames.length > 0);
      if (usable.length === 0) throw new RangeError(`none of its frames belongs to ${medium.name}`);
      store.edit(usable.length === 1 ? 'Imported a track' : `Imported ${usable.length} tracks`, (d) => {
        for (const t of usable) setTrackId(addFollowedTrack(d, medium.id, t.name, t.model, t.frames, newId));
      });
    },
    makeOutline() {
      if (track !== null) store.edit(`Made an outline from ${track.name}`, (d) => void addOutlineOnTrack(d, track.id, newId));
    },
  };
}
