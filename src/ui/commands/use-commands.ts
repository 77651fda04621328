'use client';
import { useEffect, useRef } from 'react';
import { isByKeyboard } from '../parts/by-keyboard';
import { COMMANDS, keyOf, type CommandId } from './commands';

/** What some commands do here. */
export type Handlers = Readonly<Partial<Record<CommandId, () => void>>>;

const isTyping = (target: EventTarget | null): boolean =>
  (target instanceof HTMLInputElement && !['checkbox', 'radio', 'color', 'file', 'range', 'button'].includes(target.type)) ||
  target instanceof HTMLTextAreaElement ||
  target instanceof HTMLSelectElement ||
  (target instanceof HTMLElement && (target.isContentEditable || target.closest(OWN_KEYS) !== null));

/** Parts of the page in which every key is theirs. */
const OWN_KEYS =
  '[role="dialog"], [role="alertdialog"], [role="menu"], [role="listbox"], [role="combobox"], [data-radix-popper-content-wrapper]';

/** Keys that mean something of their own to what the keyboard has come to. */
const ownsKey = (target: EventTarget | null, key: string): boolean => {
  if (!(target instanceof HTMLElement)) return false;
  const isPressed = target.closest('button, a, input, [role="slider"]') !== null && target.closest('[data-weave-cell]') === null;
  // Enter works on whatever has the focus, however it got it
  if (key === 'Enter') return isPressed;
  if (!isByKeyboard()) return false;
  if (key === 'Space') return isPressed;
  const moves = ['Left', 'Right', 'Up', 'Down', 'PageUp', 'PageDown', 'Home', 'End'].includes(key);
  return moves && target.closest('[role="slider"], [role="radio"], [role="tab"], [role="separator"]') !== null;
};

/** What can be done now, by everything that is shown. */
const live = new Set<{ readonly current: Handlers }>();

/** What commands do at this moment. */
export const liveHandlers = (): Handlers => Object.assign({}, ...[...live].map((h) => h.current)) as Handlers;

/** Does what `handlers` say when a command's key is pressed anywhere on the page, but not while something is typed. */
export function useCommands(handlers: Handlers): void {
  const latest = useRef(handlers);
  latest.current = handlers;
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      const key = keyOf(event);
      if (event.defaultPrevented || isTyping(event.target) || ownsKey(event.target, key)) return;
      const entries = Object.entries(latest.current) as [CommandId, () => void][];
      const found = entries.find(([id]) => (COMMANDS[id].keys as readonly string[]).includes(key));
      if (found === undefined) return;
      event.preventDefault();
      found[1]();
    };
    // a button that was clicked would take Space for a press when the key comes up
    const onKeyUp = (event: KeyboardEvent): void => {
      if (event.key === ' ' && !isTyping(event.target) && !ownsKey(event.target, 'Space')) event.preventDefault();
    };
    live.add(latest);
    window.addEventListener('keydown', onKeyDown);
    window.addEventListener('keyup', onKeyUp);
    return () => {
      live.delete(latest);
      window.removeEventListener('keydown', onKeyDown);
      window.removeEventListener('keyup', onKeyUp);
    };
  }, []);
}
