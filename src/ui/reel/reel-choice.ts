'use client';
import { create } from 'zustand';

interface ReelChoice {
  /** Shots chosen beside the one whose numbers are shown. */
  readonly alsoShots: ReadonlySet<string>;
  readonly clipId: string | null;
  readonly snaps: boolean;
  /** Joins on which something is laid at once. */
  readonly joins: ReadonlySet<string>;
}

/** What is chosen on the reel beside the one shot in the address; never stored with the film. */
export const useReelChoice = create<ReelChoice>(() => ({ alsoShots: new Set(), clipId: null, snaps: true, joins: new Set() }));

export const chooseClip = (clipId: string | null): void => useReelChoice.setState({ clipId, alsoShots: new Set() });

/** A shot has come to be chosen: no sound is. */
export const leaveClip = (): void => useReelChoice.setState({ clipId: null });

export const toggleShot = (id: string): void =>
  useReelChoice.setState(({ alsoShots }) => {
    const next = new Set(alsoShots);
    if (!next.delete(id)) next.add(id);
    return { alsoShots: next, clipId: null };
  });

export const toggleJoin = (id: string): void =>
  useReelChoice.setState(({ joins }) => {
    const next = new Set(joins);
    if (!next.delete(id)) next.add(id);
    return { joins: next };
  });

export const chooseNoJoin = (): void => useReelChoice.setState({ joins: new Set() });

export const chooseOneShot = (): void => useReelChoice.setState({ alsoShots: new Set(), clipId: null });

export const toggleSnapping = (): void => useReelChoice.setState(({ snaps }) => ({ snaps: !snaps }));
