'use client';
import { create } from 'zustand';

const [LEAST, MOST] = [0.02, 60];
export const REEL_ZOOM_STEP = 1.5;

/** How large the reel is drawn; never stored with the film. */
interface ReelView {
  /** CSS pixels a film frame; null shows all of it. */
  readonly zoom: number | null;
  /** Pixels a frame at which all of it shows, as the pane is now. */
  readonly whole: number;
  /** The frame that stays where it is when the zoom changes; null for the playhead. */
  readonly anchor: number | null;
}

export const useReelView = create<ReelView>(() => ({ zoom: null, whole: 1, anchor: null }));

/** Draws the reel larger or smaller, about a frame or the playhead. */
export const zoomReel = (factor: number, anchor: number | null = null): void =>
  useReelView.setState(({ zoom, whole }) => ({ zoom: Math.max(LEAST, Math.min(MOST, (zoom ?? whole) * factor)), anchor }));

export const showWholeReel = (): void => useReelView.setState({ zoom: null });
