'use client';
import { useEffect, useLayoutEffect, useMemo, useRef } from 'react';
import { useScrollView } from '../parts/use-scroll-view';
import { useReelView, zoomReel } from '../store/reel-view';
import { PAD, reelScale, type ReelScale } from './reel-scale';

/** The part of a scrolled element that is in sight, CSS pixels. */
export interface View {
  readonly from: number;
  readonly to: number;
}

const WHEEL = 0.002;
/** A long film is not drawn smaller than this at first, pixels a frame. */
const LEAST_WHOLE = 0.05;

/**
 * How the reel lies in its scrolled element: its scale, what is in sight, and the wheel. With Ctrl the wheel zooms about the pointer;
 * without, one that only turns up and down scrolls along the film.
 */
export function useReelScroll(
  track: React.RefObject<HTMLDivElement | null>,
  length: number,
  frame: number,
): { readonly scale: ReelScale; readonly view: View } {
  const zoom = useReelView((s) => s.zoom);
  const anchor = useReelView((s) => s.anchor);
  const scrolled = useScrollView(track, 1240);
  const view = useMemo<View>(() => ({ from: scrolled.left, to: scrolled.left + scrolled.width }), [scrolled]);

  const whole = Math.max(LEAST_WHOLE, (view.to - view.from - 2 * PAD - 1) / length);
  useEffect(() => useReelView.setState({ whole }), [whole]);
  const perFrame = zoom ?? whole;
  const before = useRef(perFrame);
  useLayoutEffect(() => {
    const element = track.current!;
    const was = before.current;
    before.current = perFrame;
    if (was === perFrame) return;
    const at = (anchor ?? frame) + (anchor === null ? 0.5 : 0);
    const shownAt = PAD + at * was - element.scrollLeft;
    const isInSight = shownAt >= 0 && shownAt <= element.clientWidth;
    element.scrollLeft = PAD + at * perFrame - (isInSight ? shownAt : element.clientWidth / 2);
  }, [track, perFrame, anchor, frame]);

  const scale = reelScale(track, perFrame, length);
  const latest = useRef(scale);
  latest.current = scale;
  // React's wheel listener is passive; zooming has to stop the page from zooming
  useEffect(() => {
    const element = track.current!;
    const onWheel = (event: WheelEvent): void => {
      if (event.ctrlKey || event.metaKey) {
        event.preventDefault();
        zoomReel(Math.exp(-event.deltaY * WHEEL), latest.current.placeAt(event.clientX));
      } else if (event.deltaX === 0 && !event.shiftKey && element.scrollHeight <= element.clientHeight + 1) {
        event.preventDefault();
        element.scrollLeft += event.deltaY;
      }
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [track]);
  return { scale, view };
}
