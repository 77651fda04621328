'use client';
import { useLayoutEffect, useState } from 'react';

/** The part of a scrolled element that is in sight, CSS pixels from its left. */
export interface ScrollView {
  readonly left: number;
  readonly width: number;
}

/** What of an element is in sight; `width` is taken until that is known. The same thing as long as it is the same part. */
export function useScrollView(scroller: React.RefObject<HTMLElement | null>, width: number): ScrollView {
  const [view, setView] = useState<ScrollView>({ left: 0, width });
  useLayoutEffect(() => {
    const element = scroller.current!;
    const update = (): void =>
      setView((before) => {
        const now = { left: element.scrollLeft, width: element.clientWidth };
        return before.left === now.left && before.width === now.width ? before : now;
      });
    const observer = new ResizeObserver(update);
    observer.observe(element);
    element.addEventListener('scroll', update, { passive: true });
    return () => {
      observer.disconnect();
      element.removeEventListener('scroll', update);
    };
  }, [scroller]);
  return view;
}
