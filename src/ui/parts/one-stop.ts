import { useCallback, useRef, type FocusEvent, type KeyboardEvent } from 'react';
import { isByKeyboard } from './by-keyboard';

const WAYS: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 };
const CONTROLS = 'button:not(:disabled), a[href], [role="tab"], input[type="checkbox"]';

/** What a row or list takes that is one stop for Tab. */
export interface OneStop<T extends HTMLElement> {
  readonly ref: (row: T) => () => void;
  readonly onFocus: (event: FocusEvent<T>) => void;
  readonly onKeyDown: (event: KeyboardEvent<T>) => void;
}

const controlsOf = (row: HTMLElement): HTMLElement[] => [...row.querySelectorAll<HTMLElement>(CONTROLS)];

/** Lets Tab come only to the control that has the focus, that is chosen, that had the focus last, or to the first. */
function settle(row: HTMLElement, last: HTMLElement | null): void {
  const all = controlsOf(row);
  const held = all.find((e) => e === document.activeElement);
  const stop = held ?? all.find((e) => e.ariaSelected === 'true') ?? all.find((e) => e === last) ?? all[0];
  for (const control of all) control.tabIndex = control === stop ? 0 : -1;
}

/**
 * Makes a row or list of buttons, links, tabs and boxes one stop for Tab. From there arrows go to the neighbours, Home and End to the ends. They do so
 * only for who came by keyboard: after a click they step through frames as ever.
 */
export function useOneStop<T extends HTMLElement>(): OneStop<T> {
  const last = useRef<HTMLElement | null>(null);
  const ref = useCallback((row: T) => {
    settle(row, last.current);
    const observer = new MutationObserver(() => settle(row, last.current));
    observer.observe(row, { childList: true, subtree: true, attributeFilter: ['disabled', 'aria-selected'] });
    return () => observer.disconnect();
  }, []);
  return {
    ref,
    onFocus: ({ target, currentTarget }) => {
      last.current = target.closest<HTMLElement>(CONTROLS);
      settle(currentTarget, last.current);
    },
    onKeyDown(event) {
      const target = event.target as HTMLElement;
      const all = controlsOf(event.currentTarget);
      const at = all.indexOf(target);
      const by = WAYS[event.key];
      if (event.defaultPrevented || at < 0 || !isByKeyboard()) return;
      if (by === undefined && event.key !== 'Home' && event.key !== 'End') return;
      const next = by === undefined ? (event.key === 'Home' ? 0 : all.length - 1) : (at + by + all.length) % all.length;
      event.preventDefault();
      event.stopPropagation();
      all[next]?.focus();
    },
  };
}
