'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Drawing } from '../../core/plan/plan-views';
import type { Handlers } from '../commands/use-commands';
import { useTools } from '../store/film-context';

interface PlaybackOptions {
  readonly from: number;
  /** One past the last frame. */
  readonly to: number;
  readonly framesPerSecond: number;
  readonly frame: number;
  readonly setFrame: (frame: number) => void;
  readonly drawingAt: (frame: number) => Drawing;
  readonly width: number;
  readonly height: number;
}

export interface Playback {
  readonly playing: boolean;
  /** Frames a second really shown over the last second; null while standing. */
  readonly shownPerSecond: number | null;
  /** −1, 0 or 1 times a power of two. */
  readonly speed: number;
  toggle(): void;
  setSpeed(speed: number): void;
}

const AHEAD = 8;
const LATE_MS = 160;

/** Plays by the clock: a frame that is not drawn in time is left out, and the count of shown frames says so. Loops. */
export function usePlayback(options: PlaybackOptions): Playback {
  const { frames } = useTools();
  const [speed, setSpeedState] = useState(0);
  const [shownPerSecond, setShown] = useState<number | null>(null);
  const latest = useRef(options);
  latest.current = options;

  useEffect(() => {
    if (speed === 0) {
      setShown(null);
      frames.drop('ahead');
      return;
    }
    const start = latest.current;
    const beganAt = performance.now();
    const beganOn = start.frame >= start.to - 1 && speed > 0 ? start.from : start.frame;
    let shown: number[] = [];
    let current = -1;
    let lateSince = beganAt;
    let handle = 0;
    const tick = (): void => {
      const { from, to, framesPerSecond, drawingAt, width, height, setFrame } = latest.current;
      const length = Math.max(1, to - from);
      const passed = Math.floor(((performance.now() - beganAt) / 1000) * framesPerSecond * speed);
      const due = from + ((((beganOn - from + passed) % length) + length) % length);
      for (let i = 1; i <= AHEAD; i++) {
        const ahead = from + ((((due - from + i * Math.sign(speed)) % length) + length) % length);
        const drawing = drawingAt(ahead);
        if (frames.cached(drawing, width, height) === null) frames.draw(drawing, width, height, 'ahead').catch(() => undefined); // shown on the stage when it is due
      }
      if (due !== current) {
        if (frames.cached(drawingAt(due), width, height) !== null) {
          current = due;
          lateSince = performance.now();
          shown.push(lateSince);
          setFrame(due);
        } else if (performance.now() - lateSince > LATE_MS) {
          // the worker is behind: forget what is past and show this one as soon as it can be drawn
          frames.drop('ahead');
          lateSince = performance.now();
          setFrame(due);
          shown.push(lateSince);
        }
      }
      shown = shown.filter((t) => performance.now() - t < 1000);
      if (performance.now() - beganAt > 1000) setShown(shown.length);
      handle = requestAnimationFrame(tick);
    };
    tick();
    return () => cancelAnimationFrame(handle);
  }, [speed, frames]);

  const setSpeed = useCallback((next: number) => setSpeedState(next), []);
  const toggle = useCallback(() => setSpeedState((s) => (s === 0 ? 1 : 0)), []);
  return { playing: speed !== 0, shownPerSecond, speed, toggle, setSpeed };
}

const FASTEST = 8;

/** Playing, pausing, and playing backwards and forwards, each time faster. */
export function playHandlers({ speed, toggle, setSpeed }: Playback): Handlers {
  return {
    playOrStop: toggle,
    playBack: () => setSpeed(speed < 0 ? Math.max(-FASTEST, speed * 2) : -1),
    stop: () => setSpeed(0),
    playOn: () => setSpeed(speed > 0 ? Math.min(FASTEST, speed * 2) : 1),
  };
}
