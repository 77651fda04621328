'use client';
import { useEffect, useState } from 'react';

/** Whether an element fills the screen, and a way to let it, or no more. Escape leaves it too. */
export function useFullScreen(element: React.RefObject<HTMLElement | null>): { readonly isFull: boolean; toggleFull(): void } {
  const [isFull, setFull] = useState(false);
  useEffect(() => {
    const changed = (): void => setFull(document.fullscreenElement !== null && document.fullscreenElement === element.current);
    document.addEventListener('fullscreenchange', changed);
    return () => document.removeEventListener('fullscreenchange', changed);
  }, [element]);
  return {
    isFull,
    toggleFull: () => void (document.fullscreenElement === null ? element.current?.requestFullscreen() : document.exitFullscreen()),
  };
}
