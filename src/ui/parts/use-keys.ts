'use client';
import { useEffect, useRef } from 'react';
import type { FilmStore } from '../store/film-store';

/** 'Ctrl+Shift+Z', 'Shift+ArrowLeft', 'o', '?' … → what it does. Ctrl stands for the Command key too. */
export type KeyMap = Readonly<Partial<Record<string, () => void>>>;

/** Taking back and bringing back. */
export const historyKeys = (store: FilmStore): KeyMap => ({
  'Ctrl+z': () => store.undo(),
  'Ctrl+Shift+z': () => store.redo(),
  'Ctrl+y': () => store.redo(),
});

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLInputElement ||
  target instanceof HTMLTextAreaElement ||
  (target instanceof HTMLElement && (target.isContentEditable || target.closest('[role="dialog"]') !== null));

/** Where keys mean something of their own to what has the focus. */
const ownsKey = (target: EventTarget | null, key: string): boolean =>
  target instanceof HTMLElement &&
  ((key === ' ' && target.closest('button, a') !== null && target.matches(':focus-visible')) ||
    (key.startsWith('Arrow') && target.closest('[role="slider"], [role="group"] [role="radio"]') !== null));

/** Listens to keys on the whole page, but not while something is typed. */
export function useKeys(map: KeyMap): void {
  const latest = useRef(map);
  latest.current = map;
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      if (isTyping(event.target) || ownsKey(event.target, event.key) || event.defaultPrevented) return;
      const control = event.ctrlKey || event.metaKey;
      const isLetter = event.key.length === 1;
      const key = isLetter ? event.key.toLowerCase() : event.key;
      const name = `${control ? 'Ctrl+' : ''}${event.shiftKey && (!isLetter || control) ? 'Shift+' : ''}${key}`;
      const action = latest.current[name];
      if (action === undefined) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
}
