'use client';
import { SOUND_RATE } from '../../core/film/sound';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Film } from '../../core/film/film';
import { toNumber } from '../../core/geometry/rational';
import { sampleOfFrame, type Stereo } from '../../core/sound/samples';
import type { Drawing } from '../../core/plan/plan-views';
import type { Handlers } from '../commands/use-commands';
import { useTools } from '../store/film-context';

interface PlaybackOptions {
  readonly film: Pick<Film, 'rate'>;
  readonly from: number;
  /** One past the last frame. */
  readonly to: number;
  readonly frame: number;
  readonly setFrame: (frame: number) => void;
  readonly drawingAt: (frame: number) => Drawing;
  readonly width: number;
  readonly height: number;
  /** Samples to be heard, counted from frame 0; the film's unless said. */
  readonly soundAt?: (from: number, count: number) => Promise<Stereo>;
}

export interface Playback {
  readonly playing: boolean;
  /** Frames a second really shown over the last second; null while standing. */
  readonly shownPerSecond: number | null;
  /** −1, 0 or 1 times a power of two. */
  readonly speed: number;
  /** The film frame that is being heard, as a fraction; null while standing. */
  placeNow(): number | null;
  toggle(): void;
  setSpeed(speed: number): void;
}

const AHEAD = 8;
const LATE_MS = 160;

/** Rounding room of a clock, frames. */
const EPSILON = 1e-3;

/** Plays by the sound's clock: a frame that is not drawn in time is left out, and the count of shown frames says so. Loops. */
export function usePlayback(options: PlaybackOptions): Playback {
  const { frames, player, sound } = useTools();
  const [speed, setSpeedState] = useState(0);
  const [shownPerSecond, setShown] = useState<number | null>(null);
  const place = useRef<(() => number) | null>(null);
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
    const sampleOf = (at: number): number => sampleOfFrame(start.film.rate, at);
    const loop = { from: sampleOf(start.from), to: sampleOf(start.to) };
    const clock = player.play(start.soundAt ?? ((from, count) => sound.mix(from, count)), sampleOf(beganOn), speed, loop);
    place.current = () => {
      const length = Math.max(1, start.to - start.from);
      const passed = clock.seconds() * toNumber(start.film.rate) * speed;
      return start.from + ((((beganOn - start.from + passed) % length) + length) % length);
    };
    let shown: number[] = [];
    let current = -1;
    let lateSince = beganAt;
    let handle = 0;
    const tick = (): void => {
      const { from, to, film, drawingAt, width, height, setFrame } = latest.current;
      const length = Math.max(1, to - from);
      const passed = Math.floor(clock.seconds() * toNumber(film.rate) * speed + EPSILON);
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
    // whoever follows a link is on the way out: playing on would keep the next page from coming
    const leave = (event: MouseEvent): void => {
      if (event.target instanceof Element && event.target.closest('a[href]') !== null) setSpeedState(0);
    };
    window.addEventListener('click', leave, true);
    return () => {
      window.removeEventListener('click', leave, true);
      cancelAnimationFrame(handle);
      player.stop();
      place.current = null;
    };
  }, [speed, frames, player, sound]);
  useScrubSound(options, speed);

  const setSpeed = useCallback((next: number) => setSpeedState(next), []);
  const toggle = useCallback(() => setSpeedState((s) => (s === 0 ? 1 : 0)), []);
  const placeNow = useCallback(() => place.current?.() ?? null, []);
  return { playing: speed !== 0, shownPerSecond, speed, placeNow, toggle, setSpeed };
}

/** Seconds of sound that are heard of a frame that is stepped on, at least. */
const HEARD = 0.09;
/** Frames that a step may be long; what is farther is a jump, and silent. */
const STEP = 10;

/** A frame that is stepped on is heard. */
function useScrubSound({ film, frame, soundAt }: PlaybackOptions, speed: number): void {
  const { player, sound } = useTools();
  const before = useRef(frame);
  const heard = useRef(soundAt);
  heard.current = soundAt;
  useEffect(() => {
    const by = Math.abs(frame - before.current);
    before.current = frame;
    if (speed !== 0 || by === 0 || by > STEP) return;
    const from = sampleOfFrame(film.rate, frame);
    const count = Math.max(sampleOfFrame(film.rate, frame + 1) - from, Math.round(HEARD * SOUND_RATE));
    player.once((heard.current ?? ((at, n) => sound.mix(at, n)))(from, count)).catch(() => undefined); // a frame that cannot be heard is still seen
  }, [frame, speed, film.rate, player, sound]);
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
