'use client';
import { create } from 'zustand';
import type { MediumSpan } from '../../core/film/edits/spans';

interface ReelChoice {
  /** The shot whose numbers are shown. */
  readonly shotId: string | null;
  /** Shots chosen beside the one whose numbers are shown. */
  readonly alsoShots: ReadonlySet<string>;
  readonly clipId: string | null;
  /** The medium that is looked at on the stage, before it is laid on the reel. */
  readonly lookedAtId: string | null;
  /** What was marked of media, by medium. */
  readonly marked: ReadonlyMap<string, MediumSpan>;
  readonly snaps: boolean;
  /** A frame that the playhead is asked to go to, as a thing of its own each time. */
  readonly asked: { readonly frame: number } | null;
  /** The marker whose name is to be typed. */
  readonly askedMarkerId: string | null;
  /** Joins on which something is laid at once. */
  readonly joins: ReadonlySet<string>;
}

/** What is chosen on the reel; never stored with the film. */
export const useReelChoice = create<ReelChoice>(() => ({
  shotId: null,
  alsoShots: new Set(),
  clipId: null,
  lookedAtId: null,
  marked: new Map(),
  snaps: true,
  asked: null,
  askedMarkerId: null,
  joins: new Set(),
}));

export const chooseClip = (clipId: string | null): void => useReelChoice.setState({ clipId, alsoShots: new Set() });

/** A shot has come to be chosen: no sound is. */
export const leaveClip = (): void => useReelChoice.setState({ clipId: null });

/** Adds a shot to those that are chosen, or takes it out; where it was the first, the next takes its place. */
export const toggleShot = (id: string): void =>
  useReelChoice.setState(({ shotId, alsoShots }) => {
    const [first = null, ...others] = [...(shotId === null ? [] : [shotId]), ...alsoShots].filter((s) => s !== id);
    if (id === shotId || alsoShots.has(id)) return { shotId: first, alsoShots: new Set(others), clipId: null };
    return first === null ? { shotId: id, clipId: null } : { alsoShots: new Set([...others, id]), clipId: null };
  });

export const toggleJoin = (id: string): void =>
  useReelChoice.setState(({ joins }) => {
    const next = new Set(joins);
    if (!next.delete(id)) next.add(id);
    return { joins: next };
  });

/** Chooses a shot, beside none or beside those that are chosen. */
export const chooseShot = (shotId: string): void => useReelChoice.setState({ shotId, clipId: null });

/** Chooses shots and no others; the first is the one whose numbers are shown. */
export const chooseShots = ([shotId, ...others]: readonly string[]): void =>
  useReelChoice.setState({ shotId: shotId ?? null, alsoShots: new Set(others), clipId: null });

/** Asks the playhead of the reel to go to a frame. */
export const askForFrame = (frame: number): void => useReelChoice.setState({ asked: { frame } });

/** Brings the fields of a marker in sight, and the cursor into its name. */
export const askForMarker = (askedMarkerId: string | null): void => useReelChoice.setState({ askedMarkerId });

export const lookAt = (lookedAtId: string | null): void => useReelChoice.setState({ lookedAtId });

/** Marks a span of a medium, to be laid on the reel. */
export const markSpan = (mediumId: string, span: MediumSpan): void =>
  useReelChoice.setState(({ marked }) => ({ marked: new Map(marked).set(mediumId, span) }));

export const chooseNoShots = (): void => useReelChoice.setState({ shotId: null, alsoShots: new Set() });

export const chooseNoJoin = (): void => useReelChoice.setState({ joins: new Set() });

export const toggleSnapping = (): void => useReelChoice.setState(({ snaps }) => ({ snaps: !snaps }));
