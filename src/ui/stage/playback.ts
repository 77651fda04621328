'use client';
import { SOUND_RATE } from '../../core/film/sound';
import { useCallback, useEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import type { Film } from '../../core/film/film';
import { toNumber } from '../../core/geometry/rational';
import { sampleOfFrame, type Stereo } from '../../core/sound/samples';
import type { Drawing } from '../../core/plan/plan-views';
import type { Handlers } from '../commands/use-commands';
import { useTools } from '../store/film-context';
import { LiveFrame } from '../store/live-frame';
import { FRAMES_AHEAD, FramesAhead } from './frames-ahead';

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
  /** The frame that is shown, frame by frame. */
  readonly live: LiveFrame;
  /** −1, 0 or 1 times a power of two. */
  readonly speed: number;
  /** The film frame that is being heard, as a fraction; null while standing. */
  placeNow(): number | null;
  toggle(): void;
  setSpeed(speed: number): void;
  /** Stops on the frame that is shown. @returns it, or the frame one stands on */
  stop(): number;
}

/** The page as a whole follows this often, ms; picture, playhead and clock follow at the film's rate. */
const PAGE_MS = 500;

/** A clock that stands still for a moment is looked at this often, ms. */
const SHORTEST_MS = 5;
/** How often it is told how many frames were shown, ms. */
const COUNT_MS = 1000;

const HAND = ['keydown', 'pointerdown'] as const;

/** Rounding room of a clock, frames. */
const EPSILON = 1e-3;

/**
 * Plays by the sound's clock, round and round. Frames that are ready are shown as they are; the others are drawn ahead, as drafts where
 * there is not the time to draw them whole. A frame that is not there in time is left out, and the count of shown frames says so.
 */
export function usePlayback(options: PlaybackOptions): Playback {
  const { frames, player, sound, screen } = useTools();
  const [speed, setSpeedState] = useState(0);
  const [shownPerSecond, setShown] = useState<number | null>(null);
  const place = useRef<(() => number) | null>(null);
  const [live] = useState(() => new LiveFrame());
  const latest = useRef(options);
  latest.current = options;

  useEffect(() => {
    if (speed === 0) return;
    const start = latest.current;
    const beganAt = performance.now();
    const beganOn = start.frame >= start.to - 1 && speed > 0 ? start.from : start.frame;
    const sampleOf = (at: number): number => sampleOfFrame(start.film.rate, at);
    const loop = { from: sampleOf(start.from), to: sampleOf(start.to) };
    const clock = player.play(start.soundAt ?? ((from, count) => sound.mix(from, count)), sampleOf(beganOn), speed, loop);
    /** Frames and parts of them since playing began. */
    const passed = (): number => clock.seconds() * toNumber(start.film.rate) * speed;
    const looped = (at: number): number => {
      const { from, to } = latest.current;
      const length = Math.max(1, to - from);
      return from + ((((at - from) % length) + length) % length);
    };
    place.current = () => looped(beganOn + passed());
    const perSecond = toNumber(start.film.rate) * Math.abs(speed);
    const ahead = new FramesAhead(frames, perSecond, () => tick());
    let [shown, countedAt] = [0, beganAt];
    let current = 0;
    let isAnyShown = false;
    let toldAt = -Infinity;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let isOver = false;
    const tellPage = (): void => {
      const at = live.now();
      if (at !== null) latest.current.setFrame(at);
    };
    // whatever a hand does is done on the frame it sees
    const tellAtOnce = (): void => flushSync(tellPage);
    screen.setLive(true);
    const tick = (): void => {
      // a frame may come when it does not play any more
      if (isOver) return;
      const { drawingAt, width, height } = latest.current;
      // counted on without coming round, so that later is more
      const played = passed() * Math.sign(speed) + EPSILON;
      const due = Math.floor(played);
      const frameAt = (n: number): number => looped(beganOn + n * Math.sign(speed));
      const now = performance.now();
      // what is due or, while that is not there, the newest before it
      for (let n = due; n > due - FRAMES_AHEAD && (!isAnyShown || n > current); n--) {
        const ready = frames.shown(drawingAt(frameAt(n)), width, height);
        if (ready === null) continue;
        [current, isAnyShown] = [n, true];
        live.set(frameAt(n));
        screen.show(ready.bitmap, width, height, frameAt(n));
        shown++;
        break;
      }
      const reason = ahead.ask((n) => drawingAt(frameAt(due + n)), width, height);
      if (reason !== null) screen.fail(`This frame could not be drawn: ${reason}.`);
      if (now - toldAt >= PAGE_MS) {
        toldAt = now;
        tellPage();
      }
      if (now - countedAt >= COUNT_MS) {
        setShown(Math.round((1000 * shown) / (now - countedAt)));
        [shown, countedAt] = [0, now];
      }
      // not with every picture of the screen: each would have the whole page looked through for what has changed
      clearTimeout(timer);
      timer = setTimeout(tick, Math.max(SHORTEST_MS, (1000 * (Math.floor(played) + 1 - played)) / perSecond));
    };
    tick();
    // whoever follows a link is on the way out: playing on would keep the next page from coming
    const leave = (event: MouseEvent): void => {
      if (event.target instanceof Element && event.target.closest('a[href]') !== null) setSpeedState(0);
    };
    window.addEventListener('click', leave, true);
    for (const event of HAND) window.addEventListener(event, tellAtOnce, true);
    return () => {
      window.removeEventListener('click', leave, true);
      for (const event of HAND) window.removeEventListener(event, tellAtOnce, true);
      isOver = true;
      clearTimeout(timer);
      player.stop();
      frames.drop('ahead');
      screen.setLive(false);
      setShown(null);
      place.current = null;
      live.set(null);
    };
  }, [speed, frames, player, sound, screen, live]);
  useScrubSound(options, speed);

  const stop = useCallback((): number => {
    const at = live.now() ?? latest.current.frame;
    // what is shown is where one is from now on
    if (at !== latest.current.frame) latest.current.setFrame(at);
    setSpeedState(0);
    return at;
  }, [live]);
  const setSpeed = useCallback((next: number) => void (next === 0 ? stop() : setSpeedState(next)), [stop]);
  const toggle = useCallback(() => void (place.current === null ? setSpeedState(1) : stop()), [stop]);
  const placeNow = useCallback(() => place.current?.() ?? null, []);
  return { playing: speed !== 0, shownPerSecond, speed, live, placeNow, toggle, setSpeed, stop };
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
export function playHandlers({ speed, toggle, setSpeed, stop }: Playback): Handlers {
  return {
    playOrStop: toggle,
    playBack: () => setSpeed(speed < 0 ? Math.max(-FASTEST, speed * 2) : -1),
    stop: () => void stop(),
    playOn: () => setSpeed(speed > 0 ? Math.min(FASTEST, speed * 2) : 1),
  };
}
