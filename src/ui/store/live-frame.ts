'use client';
import { createContext, useContext, useEffect, useState, useSyncExternalStore } from 'react';

/** The frame that is shown while it plays. The page as a whole follows it now and then; what is small follows it frame by frame. */
export class LiveFrame {
  private frame: number | null = null;
  private readonly listeners = new Set<() => void>();

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  /** Null while nothing plays. */
  readonly now = (): number | null => this.frame;

  set(frame: number | null): void {
    this.frame = frame;
    for (const listener of this.listeners) listener();
  }
}

export const LiveFrameContext = createContext(new LiveFrame());

/** The frame that is shown while it plays, else `frame`, on which one stands. */
export function useLiveFrame(frame: number): number {
  const live = useContext(LiveFrameContext);
  return useSyncExternalStore(live.subscribe, live.now, () => null) ?? frame;
}

const NOT = (): boolean => false;

/** Whether it plays; whoever asks is not drawn anew for each frame. */
export function useIsLive(): boolean {
  const live = useContext(LiveFrameContext);
  return useSyncExternalStore(live.subscribe, () => live.now() !== null, NOT);
}

/** `frame`, as it was when playing began while it plays: for what need not follow. */
export function useStandingFrame(frame: number): number {
  const isLive = useIsLive();
  const [standing, setStanding] = useState(frame);
  useEffect(() => {
    if (!isLive) setStanding(frame);
  }, [isLive, frame]);
  return isLive ? standing : frame;
}
